/** Every command there is, and applying lists of them. */
import { z } from "zod";
import { gradebookCommands } from "./gradebook/commands.ts";
import { intakeCommands } from "./intake/commands.ts";
import { placementCommands } from "./placement/commands.ts";
import { groupFileCommands } from "./placement/files/commands.ts";
import { formingCommands } from "./placement/forming/commands.ts";
import { groupCommands } from "./placement/group-commands.ts";
import { groupWorkCommands } from "./placement/groups/commands.ts";
import { leadCommands } from "./placement/groups/leads.ts";
import { groupPageCommands } from "./placement/groups/page.ts";
import { setCommands } from "./placement/groups/sets.ts";
import { selfPlacementCommands } from "./placement/self-commands.ts";
import { type CommandDefinition, type Context, isRefusal, type Refusal, refuse } from "./plan/command.ts";
import type { Plan } from "./plan/types.ts";
import { faultRefusal } from "./plan/valid.ts";
import { findingCommands } from "./reach/audit/commands.ts";
import { combineCommands } from "./reach/outline/combine.ts";
import { outlineCommands } from "./reach/outline/commands.ts";
import { forEachCommands } from "./reach/outline/for-each.ts";
import { openingCommands } from "./reach/outline/opening.ts";
import { pageCommands } from "./reach/outline/pages.ts";
import { settingsCommands } from "./reach/outline/settings.ts";
import { revertCommands } from "./rolling/revert.ts";
import { timingCommands } from "./timing/commands.ts";
import { timingSettings } from "./timing/settings.ts";

const definitions = [
  ...intakeCommands,
  ...groupCommands,
  ...groupWorkCommands,
  ...groupPageCommands,
  ...leadCommands,
  ...selfPlacementCommands,
  ...groupFileCommands,
  ...setCommands,
  ...placementCommands,
  ...formingCommands,
  ...outlineCommands,
  ...forEachCommands,
  ...openingCommands,
  ...pageCommands,
  ...combineCommands,
  ...settingsCommands,
  ...findingCommands,
  ...timingCommands,
  ...timingSettings,
  ...gradebookCommands,
  ...revertCommands,
] as const;
type Definition = (typeof definitions)[number];

export type Command = z.infer<Definition["schema"]>;
/** A command as it is written before it is drafted: its id is made then, unless what stands beside it names that. */
type Unnamed<C> = C extends Command ? Omit<C, "id"> & { id?: string } : never;
export type NewCommand = Unnamed<Command>;
export const Command = z.discriminatedUnion(
  "kind",
  definitions.map((definition) => definition.schema) as unknown as [Definition["schema"], Definition["schema"]],
) as unknown as z.ZodType<Command>;

// The union of definitions cannot be called with the union of commands; the kind ties them together.
type AnyDefinition = CommandDefinition<string, z.ZodRawShape>;
const byKind = new Map(
  definitions.map((definition) => [definition.kind as string, definition as unknown as AnyDefinition]),
);

/** The plan after a command, or why not. Never throws on any command that its schema accepts. */
export function apply(plan: Plan, command: Command, context: Context): Plan | Refusal {
  const definition = byKind.get(command.kind);
  if (!definition) return refuse("command.unknown", `There is no command "${command.kind}".`);
  const next = definition.apply(plan, command as never, context);
  return isRefusal(next) ? next : (faultRefusal(plan, next) ?? next);
}

export const sayCommand = (plan: Plan, command: Command): string =>
  byKind.get(command.kind)?.describe(plan, command as never) ?? command.kind;

export interface Replay {
  plan: Plan;
  /** What was applied, in order, each described against the plan it met. */
  applied: { command: Command; says: string }[];
  /** What no longer applies to the plan beneath. */
  refused: { command: Command; refusal: Refusal }[];
}

/** A draft carried over the plan as it is now. */
export function replay(plan: Plan, commands: Command[], context: Context): Replay {
  const result: Replay = { plan, applied: [], refused: [] };
  for (const command of commands) {
    const says = sayCommand(result.plan, command);
    const next = apply(result.plan, command, context);
    if (isRefusal(next)) result.refused.push({ command, refusal: next });
    else {
      result.plan = next;
      result.applied.push({ command, says });
    }
  }
  return result;
}
