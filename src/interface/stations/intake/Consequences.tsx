import type { Some } from "../../../core/intake/session.ts";
import { fullName, lookup } from "../../../core/plan/lookup.ts";
import { Stripe } from "../../kit/Stripe.tsx";
import { plural } from "../../kit/words.ts";
import { useWorkbench, Why } from "../../workbench/context.tsx";
import base from "../station.module.css";
import styles from "./intake.module.css";
import type { IntakeState } from "./useIntake.ts";

const most = 12;

/** What applying would do beyond the roster: groups that gain and lose, who is left unplaced, whose dates move. */
export function Consequences({ intake }: { intake: IntakeState }) {
  const { plan } = useWorkbench();
  const { result } = intake;
  if (!result) return null;
  const { groups, unplaced, datesMove, doubleEnrolled } = result.consequences;
  const { layers } = lookup(plan);
  // People whom this roster brings have no record yet; they are counted.
  const say = ({ known, count }: Some) => {
    const shown = known.slice(0, most).flatMap((id) => (plan.people[id] ? [fullName(plan.people[id])] : []));
    const rest = count - shown.length;
    if (rest === 0) return shown.join("; ");
    return shown.length > 0 ? `${shown.join("; ")} and ${rest} more` : `${rest} new`;
  };
  const ordered = [...layers.map(({ id }) => id), ...groups.map(({ layerId }) => layerId)];
  const sorted = [...groups].sort((a, b) => ordered.indexOf(a.layerId) - ordered.indexOf(b.layerId));
  const isQuiet = groups.length === 0 && unplaced.length === 0 && datesMove.count === 0 && doubleEnrolled.count === 0;
  return (
    <Why>
      <section aria-label="What it will do">
        <h3 className={base.whyTitle}>What it will do</h3>
        {isQuiet && <p className={base.soft}>No group changes, nobody is left unplaced, and no date moves.</p>}
        {sorted.map(({ groupId, layerId, gains, loses }) => {
          const group = plan.groups[groupId];
          const layer = plan.layers[layerId];
          return (
            <div key={groupId} className={styles.consequence}>
              <strong>
                {group && <Stripe stripe={group.stripe} isPrivate={layer?.private} />} {group?.name ?? "A new group"}
              </strong>
              {gains.count > 0 && (
                <p>
                  gains {gains.count}: {say(gains)}
                </p>
              )}
              {loses.count > 0 && (
                <p className={base.wrong}>
                  loses {loses.count}: {say(loses)}
                </p>
              )}
            </div>
          );
        })}
        {unplaced.map(({ layerId, people }) => (
          <div key={layerId} className={styles.consequence}>
            <strong className={base.wrong}>
              {people.count} unplaced in {plan.layers[layerId]?.name}
            </strong>
            <p>{say(people)}</p>
          </div>
        ))}
        {datesMove.count > 0 && (
          <div className={styles.consequence}>
            <strong>Dates move for {plural(datesMove.count, "student")}</strong>
            <p>{say(datesMove)}</p>
          </div>
        )}
        {doubleEnrolled.count > 0 && (
          <div className={styles.consequence}>
            <strong>{plural(doubleEnrolled.count, "student")} in two sections</strong>
            <p>{say(doubleEnrolled)}. Choose their home once it is applied; until then the later section counts.</p>
          </div>
        )}
      </section>
    </Why>
  );
}
