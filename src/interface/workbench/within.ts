import { whyNotDraft } from "../../core/access/drafting.ts";
import type { Command } from "../../core/commands.ts";
import type { Refusal } from "../../core/plan/command.ts";
import type { Plan } from "../../core/plan/types.ts";
import type { OpenState } from "./state.ts";

/** Why an instructor or support person may not draft a command: what the server would say, said at once. */
export function whyNotWithin({ scope, published }: OpenState, plan: Plan, command: Command): Refusal | null {
  if (scope === null) return null;
  const students = Object.values(published.enrolments).filter(({ role }) => role === "student");
  return whyNotDraft(
    plan,
    {
      personId: scope.personId,
      may: scope.may,
      knows: (itemId) => published.items[itemId] !== undefined,
      scope: {
        sectionIds: new Set(scope.sectionIds),
        groupIds: new Set(scope.groupIds),
        own: new Set(scope.own),
        personIds: new Set(students.map(({ personId }) => personId)),
      },
    },
    command,
  );
}
