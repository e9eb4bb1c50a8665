import { useMemo } from "react";
import type { Group, Item } from "../../../core/plan/types.ts";
import { countBits, listBits } from "../../../core/reach/bits.ts";
import { type Explanation, explain, nameOf, sayAudience } from "../../../core/reach/explain.ts";
import { useBench } from "../../bench/context.tsx";
import { Button } from "../../kit/Button.tsx";
import { Stripe } from "../../kit/Stripe.tsx";
import { plural } from "../../kit/words.ts";
import { IntoGroup } from "../IntoGroup.tsx";
import base from "../station.module.css";
import { crossing, membersOfGroup, sayCrossing } from "./crossings.ts";
import styles from "./reach.module.css";

const standings = { open: "Open", announced: "Announced, not open", hidden: "Hidden" } as const;

/** What decides a crossing, in sentences: for the group, and for each part of it that differs. */
export function CrossingWhy({ item, group, edit }: { item: Item; group: Group; edit(): void }) {
  const { store, plan, reach } = useBench();
  const bits = membersOfGroup(reach, group);
  const parts = useMemo(() => {
    const found = new Map<string, { explanation: Explanation; personIds: string[] }>();
    for (const index of listBits(bits)) {
      const personId = reach.students[index] as string;
      const explanation = explain(reach, item, personId);
      if (!explanation) continue;
      const key = JSON.stringify([explanation.standing, explanation.leak, explanation.steps]);
      const part = found.get(key);
      if (part) part.personIds.push(personId);
      else found.set(key, { explanation, personIds: [personId] });
    }
    return [...found.values()].sort((a, b) => b.personIds.length - a.personIds.length);
  }, [bits, reach, item]);
  return (
    <section>
      <h3 className={base.whyTitle}>{item.title}</h3>
      <p>
        <Stripe stripe={group.stripe} isPrivate={plan.layers[group.layerId]?.private} /> {group.name}:{" "}
        {sayCrossing(crossing(reach, item, bits))}.
      </p>
      <Button quiet onPress={edit}>
        Change this item
      </Button>
      {parts.slice(0, 12).map(({ explanation, personIds }) => (
        <div key={personIds[0]} className={styles.part}>
          <strong className={explanation.leak ? base.wrong : ""}>
            {explanation.leak ? "Leak" : standings[explanation.standing]} for{" "}
            {parts.length === 1 ? "all of them" : plural(personIds.length, "student")}
          </strong>
          <ul className={base.steps}>
            {explanation.steps.map(({ holds, says }) => (
              <li key={says} data-fails={!holds || undefined}>
                {says}
              </li>
            ))}
          </ul>
          <p className={styles.names}>
            {personIds.slice(0, parts.length === 1 ? 3 : 6).map((personId) => (
              <a
                key={personId}
                href={`/look/${store.courseId}/${personId}?draft=1`}
                target="_blank"
                rel="noreferrer"
                title="Look through their eyes"
              >
                {nameOf(plan, personId)}
              </a>
            ))}
            {personIds.length > (parts.length === 1 ? 3 : 6) && (
              <span className={base.soft}>and {personIds.length - (parts.length === 1 ? 3 : 6)} more</span>
            )}
          </p>
          <IntoGroup quiet personIds={personIds} />
        </div>
      ))}
    </section>
  );
}

/** An item as a whole: for whom it is and how many can open it. */
export function ItemWhy({ item, edit, add }: { item: Item; edit(): void; add(): void }) {
  const { store, plan, reach } = useBench();
  const meant = countBits(reach.meant(item));
  const sees = countBits(reach.sees(item));
  const leaks = countBits(reach.leak(item));
  return (
    <section>
      <h3 className={base.whyTitle}>{item.title}</h3>
      <p>
        For {sayAudience(plan, item.audience)}. Meant for {plural(meant, "student")}; {sees} can open it at this moment.
      </p>
      {leaks > 0 && <p className={base.wrong}>{plural(leaks, "student")} can open it and are not meant to.</p>}
      {item.kind === "folder" && (
        <p className={base.soft}>
          {item.seals
            ? "It seals its contents: nobody reaches them who may not open it."
            : "It is only a doorway: what is in it can be reached by other entrances."}
        </p>
      )}
      <div className={styles.itemActions}>
        <Button strong onPress={edit}>
          Change
        </Button>
        <Button
          onPress={() =>
            store.draft([{ kind: "item.change", itemId: item.id, fields: { published: !item.published } }])
          }
        >
          {item.published ? "Unpublish" : "Make it published"}
        </Button>
        {item.kind === "folder" && (
          <Button
            onPress={() => store.draft([{ kind: "item.change", itemId: item.id, fields: { seals: !item.seals } }])}
          >
            {item.seals ? "Make it a doorway" : "Seal it"}
          </Button>
        )}
        {item.kind === "folder" && <Button onPress={add}>New item in it</Button>}
        <Button onPress={() => store.draft([{ kind: "item.remove", itemId: item.id }])}>Remove</Button>
      </div>
    </section>
  );
}
