import { sayInstant } from "../../../core/clock/local-time.ts";
import type { Cells } from "../../../core/gradebook/cells.ts";
import { fullName } from "../../../core/plan/lookup.ts";
import { progressLookup } from "../../../core/plan/progress.ts";
import { explain } from "../../../core/reach/explain.ts";
import { resolveDates, resolvedInstant } from "../../../core/timing/resolving/resolve.ts";
import { Button } from "../../kit/Button.tsx";
import { useReach, useWorkbench } from "../../workbench/context.tsx";
import { LookLink } from "../LookLink.tsx";
import { Steps } from "../Steps.tsx";
import base from "../station.module.css";
import { WithPeople } from "../WithPeople.tsx";
import { sayCell } from "./grid/say.ts";

interface CellWhyProps {
  at: { personId: string; itemId: string };
  cells: Cells;
  /** Opens the work beside its mark; null where it is open. */
  open: (() => void) | null;
}

/** How a student stands with an item, and why. */
export function CellWhy({ at, cells, open }: CellWhyProps) {
  const { plan } = useWorkbench();
  const reach = useReach();
  const person = plan.people[at.personId];
  const item = plan.items[at.itemId];
  const index = reach.indexOf.get(at.personId);
  if (!person || !item || index === undefined) return null;
  const say = (instant: number) => sayInstant(instant, plan.course.timeZone);
  const due = resolvedInstant(plan, resolveDates(plan, item, reach.memberships(index)), "due");
  const handIns = progressLookup(reach.progress).handIns(at.personId, at.itemId);
  const shared = cells.cell(item, at.personId)?.mark?.shared;
  const nameOf = (personId: string) => {
    const one = plan.people[personId];
    return one ? fullName(one) : "somebody";
  };
  const explanation = explain(reach, item, at.personId);
  return (
    <section>
      <h3 className={base.whyTitle}>{fullName(person)}</h3>
      <p>
        {item.title}: <strong>{sayCell(cells.cell(item, at.personId), item)}</strong>
      </p>
      {due !== null && <p>Due for them on {say(due)}.</p>}
      {handIns.map(({ id, at: handedIn, by }) => (
        <p key={id}>
          Handed in on {say(handedIn)}
          {by !== undefined && `, by ${nameOf(by)} for the group`}.
        </p>
      ))}
      {shared !== undefined && (
        <p>
          It is the mark of {plan.groups[shared]?.name}, shared by its members as of the hand-in. A mark typed here is
          theirs alone and beats it.
        </p>
      )}
      {open && (
        <Button quiet onPress={open}>
          Open the work
        </Button>
      )}
      {explanation && <Steps steps={explanation.steps} />}
      <div className={base.bar}>
        <WithPeople quiet personIds={[at.personId]} itemId={item.id} />
      </div>
      <LookLink personId={at.personId} />
    </section>
  );
}
