import { fullName, targetName } from "../../../../core/plan/lookup.ts";
import type { DateField, Item } from "../../../../core/plan/types.ts";
import { sayAllowance, sayGiven } from "../../../../core/timing/commands.ts";
import { type ChainStep, chainOf } from "../../../../core/timing/resolving/chain.ts";
import { resolveField, toldOrigin } from "../../../../core/timing/resolving/resolve.ts";
import { useReach, useWorkbench } from "../../../workbench/context.tsx";
import base from "../../station.module.css";
import { sayValue } from "../sayValue.ts";
import styles from "../timing.module.css";

/** The chain of one student: what was set, what holds and why, what the student is told. */
export function Chain({ item, field, personId }: { item: Item; field: DateField; personId: string }) {
  const { plan } = useWorkbench();
  const reach = useReach();
  const index = reach.indexOf.get(personId);
  const person = plan.people[personId];
  if (index === undefined || !person) return <p className={base.soft}>Not a student at this moment.</p>;
  const memberships = reach.memberships(index);
  const { value, steps } = chainOf(plan, item, memberships, field);
  const told = toldOrigin(plan, resolveField(plan, item, memberships, field).origin);
  return (
    <>
      <ol className={styles.chain}>
        {steps.map((step) => (
          <li key={`${step.kind} ${step.id}`} data-holds={step.holds || undefined}>
            {step.holds ? <span>{sayStep(step)}</span> : <s>{sayStep(step)}</s>}
            <span className={base.soft}>
              {" "}
              {step.target ? targetName(plan, step.target) : "everyone"}: {step.why}
            </span>
          </li>
        ))}
      </ol>
      <p>
        <strong>{sayValue(value)}</strong> for {fullName(person)}
        {value !== null && (
          <span className={base.soft}>
            . The student reads: {told ?? "the date alone, and not where it comes from"}.
          </span>
        )}
      </p>
    </>
  );

  function sayStep({ kind, id, given, value: comes, target }: ChainStep): string {
    const allowance = kind === "allowance" && id ? plan.allowances[id] : undefined;
    if (allowance) return sayAllowance(allowance);
    if (given === null) return target ? targetName(plan, target) : "";
    const says = sayGiven(given);
    return typeof given === "object" && comes !== null ? `${says}: ${sayGiven(comes)}` : says;
  }
}
