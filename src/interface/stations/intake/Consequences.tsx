import { fullName, lookup } from "../../../core/plan/lookup.ts";
import { useBench, Why } from "../../bench/context.tsx";
import { Stripe } from "../../kit/Stripe.tsx";
import { plural } from "../../kit/words.ts";
import base from "../station.module.css";
import styles from "./intake.module.css";
import type { IntakeState } from "./useIntake.ts";

const most = 12;

/** What applying would do beyond the roster: groups that gain and lose, who is left unplaced, whose dates move. */
export function Consequences({ intake }: { intake: IntakeState }) {
  const { plan } = useBench();
  const { result } = intake;
  if (!result) return null;
  const { groups, unplaced, datesMove, doubleEnrolled } = result.downstream;
  const { layers } = lookup(plan);
  const nameOf = (personId: string) => {
    const person = plan.people[personId];
    return person ? fullName(person) : null;
  };
  // People whom this roster brings have no record yet; they are counted.
  const say = (personIds: string[]) => {
    const names = personIds.map(nameOf).filter((name) => name !== null);
    const shown = names.slice(0, most).join("; ");
    const rest = personIds.length - Math.min(most, names.length);
    return [shown, rest > 0 ? `${shown ? "and " : ""}${rest} ${shown ? "more" : "new"}` : ""].filter(Boolean).join(" ");
  };
  const ordered = [...layers.map(({ id }) => id), ...groups.map(({ layerId }) => layerId)];
  const sorted = [...groups].sort((a, b) => ordered.indexOf(a.layerId) - ordered.indexOf(b.layerId));
  const isQuiet = groups.length === 0 && unplaced.length === 0 && datesMove.length === 0 && doubleEnrolled.length === 0;
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
              {gains.length > 0 && (
                <p>
                  gains {gains.length}: {say(gains)}
                </p>
              )}
              {loses.length > 0 && (
                <p className={base.wrong}>
                  loses {loses.length}: {say(loses)}
                </p>
              )}
            </div>
          );
        })}
        {unplaced.map(({ layerId, personIds }) => (
          <div key={layerId} className={styles.consequence}>
            <strong className={base.wrong}>
              {personIds.length} unplaced in {plan.layers[layerId]?.name}
            </strong>
            <p>{say(personIds)}</p>
          </div>
        ))}
        {datesMove.length > 0 && (
          <div className={styles.consequence}>
            <strong>Dates move for {plural(datesMove.length, "student")}</strong>
            <p>{say(datesMove)}</p>
          </div>
        )}
        {doubleEnrolled.length > 0 && (
          <div className={styles.consequence}>
            <strong>{plural(doubleEnrolled.length, "student")} in two sections</strong>
            <p>{say(doubleEnrolled)}. Choose their home once it is applied; until then the later section counts.</p>
          </div>
        )}
      </section>
    </Why>
  );
}
