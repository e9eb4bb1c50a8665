import { fullName, holdsAt, lookup } from "../../../core/plan/lookup.ts";
import { sayInstant } from "../../../core/timing/wall.ts";
import { useBench } from "../../bench/context.tsx";
import { Stripe } from "../../kit/Stripe.tsx";
import base from "../station.module.css";
import styles from "./placement.module.css";

/** Everything known of a person and how it came. */
export function PersonWhy({ personId }: { personId: string }) {
  const { store, plan, t } = useBench();
  const person = plan.people[personId];
  if (!person) return null;
  const say = (at: number) => sayInstant(at, plan.course.timeZone);
  const { enrolmentsOfPerson, placementsOfPerson } = lookup(plan);
  const enrolments = [...(enrolmentsOfPerson.get(personId) ?? [])].sort((a, b) => a.since - b.since);
  const placements = [...(placementsOfPerson.get(personId) ?? [])].sort((a, b) => a.since - b.since);
  const isStudent = enrolments.some((row) => row.role === "student" && holdsAt(row, t));
  return (
    <section>
      <h3 className={base.whyTitle}>{fullName(person)}</h3>
      <p className={base.soft}>
        {person.sourcedId}, {person.username ?? "no username"}
      </p>
      <p className={base.soft}>
        {Object.entries(person.attributes)
          .map(([name, value]) => `${name} ${value}`)
          .join(", ")}
      </p>
      {isStudent && (
        <p style={{ margin: "8px 0" }}>
          <a href={`/look/${store.courseId}/${personId}`} target="_blank" rel="noreferrer">
            Look through their eyes
          </a>
        </p>
      )}
      <h4 className={styles.whyHead}>Sections</h4>
      <ul className={styles.history}>
        {enrolments.map((row) => (
          <li key={row.id} data-over={row.until !== null || undefined}>
            {plan.sections[row.sectionId ?? ""]?.code ?? row.role},{" "}
            {row.origin === "roster" ? "by roster" : "added by hand"}, from {say(row.since)}
            {row.until !== null && ` until ${say(row.until)}`}
          </li>
        ))}
      </ul>
      <h4 className={styles.whyHead}>Groups</h4>
      <ul className={styles.history}>
        {placements.map((row) => {
          const group = plan.groups[row.groupId];
          const layer = plan.layers[group?.layerId ?? ""];
          return (
            group && (
              <li key={row.id} data-over={row.until !== null || undefined}>
                <Stripe stripe={group.stripe} isPrivate={layer?.private} /> {group.name}
                {row.held && " (held)"}, from {say(row.since)}
                {row.until !== null && ` until ${say(row.until)}`}
              </li>
            )
          );
        })}
        {placements.length === 0 && <li>In no group.</li>}
      </ul>
    </section>
  );
}
