import { useMemo, useState } from "react";
import { fullName, lookup } from "../../../core/plan/lookup.ts";
import type { DateField, Plan } from "../../../core/plan/types.ts";
import { countBits } from "../../../core/reach/bits.ts";
import { type Effect, type EffectLine, isTighter } from "../../../core/review/effects.ts";
import { sayWall } from "../../../core/timing/wall.ts";
import { useBench, Why } from "../../bench/context.tsx";
import { Button } from "../../kit/Button.tsx";
import { Stripe } from "../../kit/Stripe.tsx";
import { plural } from "../../kit/words.ts";
import { IntoGroup } from "../IntoGroup.tsx";
import base from "../station.module.css";
import styles from "./review.module.css";

const say = (value: Effect["from"]) =>
  value === null ? "not set" : /T/.test(String(value)) ? sayWall(String(value)) : String(value);
const fieldNames: Record<DateField, string> = {
  opens: "opens",
  due: "due",
  closes: "closes",
  attempts: "attempts",
  minutes: "minutes",
  accessWord: "access word",
};

/** Lines shown; past them every line is about a student or two. */
const most = 200;

/** One effect in words, with the plan that has what it names. */
function words(effect: Effect, plans: Plan[]): { says: string; warns: boolean } {
  const title = plans.map((plan) => plan.items[effect.itemId ?? ""]?.title).find(Boolean) ?? "";
  const group = plans.map((plan) => plan.groups[effect.groupId ?? ""]?.name).find(Boolean) ?? "";
  switch (effect.kind) {
    case "gains":
      return { says: `can open ${title}`, warns: false };
    case "gains later":
      return { says: `can open ${title} later in the term`, warns: false };
    case "loses":
      return { says: `can no longer open ${title}`, warns: true };
    case "joins":
      return { says: `joins ${group}`, warns: false };
    case "leaves":
      return { says: `leaves ${group}`, warns: false };
    case "leak":
      return { says: `can open ${title} and is not meant to`, warns: true };
    case "leak ends":
      return { says: `the leak of ${title} to them ends`, warns: false };
    case "date": {
      const field = effect.field as DateField;
      const tighter = isTighter(field, effect.from, effect.to);
      return {
        says: `${title}: ${fieldNames[field]} ${say(effect.to)} instead of ${say(effect.from)}${tighter ? ", earlier" : ""}`,
        warns: tighter,
      };
    }
  }
}

/** What the draft does to people, before anyone is touched. */
export function ReviewStation() {
  const { state, review } = useBench();
  const { applied, refused } = state.drafted;
  const [line, setLine] = useState<number | null>(null);
  const chosen = line === null ? null : (review.lines[line] ?? null);
  if (applied.length === 0 && refused.length === 0) {
    return (
      <div className={base.station}>
        <div className={base.empty}>
          <h2>Nothing is drafted</h2>
          <p className={base.soft}>
            What you change on the stations is drafted. Before it is published, its effect on people is shown here.
          </p>
        </div>
      </div>
    );
  }
  return (
    <div className={base.station}>
      <div className={base.head}>
        <h2>Review</h2>
        <div className={base.figures}>
          <span>
            <strong>{review.touched}</strong> {review.touched === 1 ? "student" : "students"} touched
          </span>
          {(
            [
              [review.losing, "lose something"],
              [review.leaksAdded, "in a new leak"],
              [review.earlier, "with something due earlier"],
            ] as const
          ).map(([count, says]) => (
            <span key={says} className={count > 0 ? base.wrong : ""}>
              <strong>{count}</strong> {says}
            </span>
          ))}
        </div>
      </div>
      <ByGroup />
      <div className={styles.halves}>
        <section aria-label="Effects on people" className={base.scroll}>
          <h3>Effects on people</h3>
          {review.lines.length === 0 && (
            <p className={base.soft}>Nobody sees anything different: no student's items, dates or groups change.</p>
          )}
          <ul className={styles.lines}>
            {review.lines.slice(0, most).map((one, index) => (
              <EffectRow
                key={one.personIds[0]}
                line={one}
                chosen={index === line}
                choose={() => setLine(index === line ? null : index)}
              />
            ))}
          </ul>
          {review.lines.length > most && (
            <p className={base.soft}>
              and {plural(review.lines.length - most, "more line")}, each of a student or two with effects of their own
            </p>
          )}
        </section>
        <Drafted />
      </div>
      <Why>
        {chosen ? (
          <People line={chosen} />
        ) : (
          <p className={base.soft}>
            Press a line to see whom it is about. Publish, at the bottom, makes the whole draft so at once.
          </p>
        )}
      </Why>
    </div>
  );
}

function EffectRow({ line, chosen, choose }: { line: EffectLine; chosen: boolean; choose(): void }) {
  const { state, plan } = useBench();
  const plans = [plan, state.published];
  const said = line.effects.map((effect) => words(effect, plans));
  return (
    <li data-chosen={chosen || undefined}>
      <button type="button" className={base.plainButton} onClick={choose} aria-pressed={chosen}>
        <strong>{nameFew(plan, line.personIds)}</strong>
        {said.slice(0, 8).map(({ says, warns }) => (
          <span key={says} className={warns ? base.wrong : ""}>
            {says}
          </span>
        ))}
        {said.length > 8 && <span className={base.soft}>and {said.length - 8} more effects</span>}
      </button>
    </li>
  );
}

function nameFew(plan: Plan, personIds: string[]): string {
  const [only] = personIds;
  const person = personIds.length === 1 && only ? plan.people[only] : undefined;
  return person ? fullName(person) : plural(personIds.length, "student");
}

interface GroupEffects {
  size: number;
  gains: Map<string, number>;
  loses: Map<string, number>;
  dates: number;
}

/** What each group gains and loses: a row a group of the first layer that the draft's effects touch. */
function ByGroup() {
  const { state, plan, review, reach } = useBench();
  const { layer, rows } = useMemo(() => {
    const groupIdsOf = (personId: string) => reach.memberships(reach.indexOf.get(personId) ?? -1).groupIds;
    const touchedPeople = review.lines
      .filter(({ effects }) => effects.some(({ kind }) => kind !== "joins" && kind !== "leaves"))
      .flatMap(({ personIds }) => personIds.filter((personId) => reach.indexOf.has(personId)));
    const inGroups = new Set(touchedPeople.flatMap((personId) => [...groupIdsOf(personId)]));
    const { layers, groupsOfLayer } = lookup(plan);
    const first = layers.find(({ id }) => groupsOfLayer.get(id)?.some((group) => inGroups.has(group.id)));
    const groups = first ? (groupsOfLayer.get(first.id) ?? []) : [];
    const found = new Map<string, GroupEffects>();
    const titleOf = (itemId: string | null) =>
      plan.items[itemId ?? ""]?.title ?? state.published.items[itemId ?? ""]?.title ?? "";
    for (const { effects, personIds } of review.lines) {
      const counts = new Map<string, number>();
      for (const personId of personIds) {
        if (!reach.indexOf.has(personId)) continue;
        const mine = groupIdsOf(personId);
        for (const { id } of groups) if (mine.has(id)) counts.set(id, (counts.get(id) ?? 0) + 1);
      }
      for (const [groupId, count] of counts) {
        const size = countBits(reach.members({ kind: "group", id: groupId }));
        const row = found.get(groupId) ?? { size, gains: new Map(), loses: new Map(), dates: 0 };
        found.set(groupId, row);
        const more = (list: Map<string, number>, title: string) => list.set(title, (list.get(title) ?? 0) + count);
        if (effects.some(({ kind }) => kind === "date")) row.dates += count;
        for (const { kind, itemId } of effects) {
          if (kind === "gains" || kind === "gains later") more(row.gains, titleOf(itemId));
          if (kind === "loses") more(row.loses, titleOf(itemId));
        }
      }
    }
    const shownRows = groups.map((group) => ({ group, effects: found.get(group.id) }));
    return { layer: first, rows: shownRows };
  }, [plan, state.published, review, reach]);
  const shown = rows.flatMap(({ group, effects }) =>
    effects && effects.gains.size + effects.loses.size + effects.dates > 0 ? [{ group, ...effects }] : [],
  );
  if (shown.length === 0) return null;
  const list = (found: Map<string, number>, size: number) =>
    [...found].map(([title, count]) => (count === size ? title : `${title} (${count} of ${size})`));
  return (
    <table className={base.table}>
      <thead>
        <tr>
          <th>{layer?.name}</th>
          <th>Gains</th>
          <th>Loses</th>
          <th className={base.number}>Dates move for</th>
        </tr>
      </thead>
      <tbody>
        {shown.slice(0, 12).map(({ group, size, gains, loses, dates }) => (
          <tr key={group.id}>
            <td className={styles.groupCell}>
              <Stripe stripe={group.stripe} isPrivate={layer?.private} /> {group.name}
            </td>
            <td>{few(list(gains, size))}</td>
            <td className={loses.size > 0 ? (base.wrong as string) : ""}>{few(list(loses, size))}</td>
            <td className={base.number}>{dates > 0 ? `${dates} of ${size}` : ""}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

const few = (titles: string[]) =>
  titles.length > 4 ? `${titles.slice(0, 4).join(", ")} and ${titles.length - 4} more` : titles.join(", ");

function Drafted() {
  const { store, state } = useBench();
  const { applied, refused } = state.drafted;
  return (
    <section aria-label="Drafted changes" className={base.scroll}>
      <h3>Drafted changes</h3>
      {refused.map(({ command, refusal }) => (
        <p key={command.id} className={base.wrong}>
          No longer applies: {refusal.sentence}
        </p>
      ))}
      <ol className={styles.commands}>
        {applied.map(({ command, says }) => (
          <li key={command.id}>{says}</li>
        ))}
      </ol>
      <Button onPress={() => store.step("undo all")}>Undo all</Button>
    </section>
  );
}

function People({ line }: { line: EffectLine }) {
  const { store, plan } = useBench();
  return (
    <section>
      <h3 className={base.whyTitle}>{plural(line.personIds.length, "student")}</h3>
      <IntoGroup quiet personIds={line.personIds} />
      <ul className={styles.people}>
        {line.personIds.slice(0, 300).map((personId) => {
          const person = plan.people[personId];
          return (
            person && (
              <li key={personId}>
                {fullName(person)}{" "}
                <a href={`/look/${store.courseId}/${personId}`} target="_blank" rel="noreferrer">
                  before
                </a>{" "}
                <a href={`/look/${store.courseId}/${personId}?draft=1`} target="_blank" rel="noreferrer">
                  after
                </a>
              </li>
            )
          );
        })}
      </ul>
      {line.personIds.length > 300 && <p className={base.soft}>and {line.personIds.length - 300} more</p>}
    </section>
  );
}
