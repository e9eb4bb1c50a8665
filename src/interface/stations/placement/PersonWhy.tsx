import { useState } from "react";
import * as api from "../../../api/intake.ts";
import { sayInstant } from "../../../core/clock/local-time.ts";
import { doneBy } from "../../../core/plan/done-by.ts";
import { fullName, holdsAt, lookup } from "../../../core/plan/lookup.ts";
import type { Enrolment, Placement } from "../../../core/plan/types.ts";
import { Few } from "../../kit/Few.tsx";
import { Choice } from "../../kit/Fields.tsx";
import { Stripe } from "../../kit/Stripe.tsx";
import { useSliced } from "../../kit/useSliced.ts";
import { useEffectWhen } from "../../kit/when.ts";
import { plural } from "../../kit/words.ts";
import { useParts, useWorkbench } from "../../workbench/context.tsx";
import { ask, isFailure } from "../../workbench/fetch.ts";
import { useMay } from "../../workbench/may.tsx";
import { GroupName } from "../GroupName.tsx";
import { LookLink } from "../LookLink.tsx";
import { StaffNotes } from "../StaffNotes.tsx";
import base from "../station.module.css";
import { usePronouns } from "../usePronouns.ts";
import { HistoryStrip } from "./HistoryStrip.tsx";
import styles from "./placement.module.css";

/** Intakes of the course, by the moment at which they were applied: what began then came with them. */
function useIntakes(): (at: number) => api.PastIntake | undefined {
  const { store } = useWorkbench();
  const state = useParts("scope", "revision");
  const [intakes, setIntakes] = useState<api.PastIntake[]>([]);
  // A new revision may be a new intake.
  useEffectWhen([store, state.revision, state.scope], () => {
    if (state.scope !== null) return;
    let wanted = true;
    void ask(store.address, api.readIntakes).then((answer) => {
      if (wanted && !isFailure(answer)) setIntakes(answer.intakes);
    });
    return () => {
      wanted = false;
    };
  });
  return (at) => intakes.find((intake) => intake.at === at && intake.undoneAt === null);
}

interface PersonWhyProps {
  personId: string;
  /** When a note of staff was left or taken away. */
  onNote?: () => void;
}

/** Everything known of a person and how it came. */
export function PersonWhy({ personId, onNote }: PersonWhyProps) {
  const { plan, t } = useWorkbench();
  const state = useParts("progress", "scope");
  const intakeAt = useIntakes();
  const pronouns = usePronouns();
  const mayPlace = useMay("change members");
  const done = useSliced([state.progress, personId], () => doneBy(state.progress, personId));
  const person = plan.people[personId];
  if (!person) return null;
  const say = (at: number) => sayInstant(at, plan.course.timeZone);
  const { enrolmentsOfPerson, placementsOfPerson, layers } = lookup(plan);
  const enrolments = [...(enrolmentsOfPerson.get(personId) ?? [])].sort((a, b) => a.since - b.since);
  // What began at one moment stands in the order of the layers, as in the strip above it.
  const placeOf = ({ groupId }: Placement) => layers.findIndex(({ id }) => id === plan.groups[groupId]?.layerId);
  const placements = [...(placementsOfPerson.get(personId) ?? [])].sort(
    (a, b) => a.since - b.since || placeOf(a) - placeOf(b),
  );
  const sayOrigin = ({ origin, since }: Enrolment) => {
    const intake = origin === "roster" ? intakeAt(since) : undefined;
    if (intake) return `by the roster ${intake.files.join(", ")}, which ${intake.by} took in`;
    return { roster: "by roster", hand: "added by hand", code: "by a code" }[origin];
  };
  const isStudent = enrolments.some((row) => row.role === "student" && holdsAt(row, t));
  return (
    <section>
      <h3 className={base.whyTitle}>
        {fullName(person)}
        {pronouns(personId)}
      </h3>
      <p className={base.soft}>
        {person.sourcedId}, {person.username ?? "no username"}, {person.email ?? "no e-mail"}
      </p>
      <p className={base.soft}>
        {Object.entries(person.attributes)
          .map(([name, value]) => `${name} ${value}`)
          .join(", ")}
      </p>
      {isStudent && (
        <p>
          <LookLink personId={personId} />
        </p>
      )}
      {isStudent && mayPlace && <IntoOne personId={personId} />}
      <h4 className={styles.whyHead}>Sections</h4>
      <ul className={styles.history}>
        <Few of={enrolments}>
          {(row) => (
            <li key={row.id} data-over={row.until !== null || undefined}>
              {plan.sections[row.sectionId ?? ""]?.code ?? row.role}
              {row.home && " (home)"}, {sayOrigin(row)}, from {say(row.since)}
              {row.until !== null && ` until ${say(row.until)}`}
            </li>
          )}
        </Few>
      </ul>
      <h4 className={styles.whyHead}>Groups</h4>
      <HistoryStrip personId={personId} />
      <ul className={styles.history}>
        <Few of={placements}>
          {(row) => {
            const group = plan.groups[row.groupId];
            return (
              group && (
                <li key={row.id} data-over={row.until !== null || undefined}>
                  <GroupName group={group} />
                  {row.held && " (held)"}, from {say(row.since)}
                  {row.until !== null && ` until ${say(row.until)}`}
                </li>
              )
            );
          }}
        </Few>
        {placements.length === 0 && <li>In no group.</li>}
      </ul>
      <h4 className={styles.whyHead}>What they did</h4>
      {done ? (
        <p>
          {plural(done.handIns, "hand-in")}, {plural(done.marks, "mark")}, {plural(done.openings, "item")} opened
          {done.lastHandIn !== null && `; handed in last on ${say(done.lastHandIn)}`}
        </p>
      ) : (
        <p>Being counted</p>
      )}
      <StaffNotes kind="person" id={personId} onChange={onNote} />
    </section>
  );
}

/** Any group that they could be put into, those of the layers as they stand. */
function IntoOne({ personId }: { personId: string }) {
  const { store, plan, t } = useWorkbench();
  const { layers, groupsOfLayer, placementsOfPerson } = lookup(plan);
  const isIn = new Set(
    (placementsOfPerson.get(personId) ?? []).filter((row) => holdsAt(row, t)).map((row) => row.groupId),
  );
  const options = layers.flatMap((layer) =>
    (groupsOfLayer.get(layer.id) ?? [])
      .filter(({ id }) => !isIn.has(id))
      .map((group) => ({
        value: group.id,
        label: group.name,
        picture: <Stripe stripe={group.stripe} isPrivate={layer.private} />,
        aside: layer.name,
      })),
  );
  if (options.length === 0) return null;
  return (
    <Choice
      label="Into a group"
      hideLabel
      placeholder="Into a group"
      value={null}
      options={options}
      onChange={(groupId) => store.draft([{ kind: "placement.place", groupId, personIds: [personId] }])}
    />
  );
}
