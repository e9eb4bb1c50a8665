import { useMemo } from "react";
import type { Item } from "../../../core/plan/types.ts";
import { type Explanation, explain } from "../../../core/reach/explain.ts";
import { type Bits, listBits } from "../../../core/sets/bits.ts";
import { Button } from "../../kit/Button.tsx";
import { Stripe } from "../../kit/Stripe.tsx";
import { plural } from "../../kit/words.ts";
import { useReach } from "../../workbench/context.tsx";
import { Steps } from "../Steps.tsx";
import base from "../station.module.css";
import type { Column } from "./columns.ts";
import { crossing, sayCrossing } from "./crossings.ts";
import { ReasonTree } from "./items/Conditions.tsx";
import { Names } from "./Names.tsx";
import styles from "./reach.module.css";

const visibilities = { open: "Open", announced: "Announced, not open", hidden: "Hidden" } as const;

interface CrossingProps {
  item: Item;
  column: Column;
  lost: Bits | undefined;
  edit(): void;
}

/** What decides a crossing, in sentences: for the group, and for each part of it that differs. */
export function CrossingWhy({ item, column, lost, edit }: CrossingProps) {
  const reach = useReach();
  const { members: bits } = column;
  const parts = useMemo(() => {
    const found = new Map<string, { explanation: Explanation; personIds: string[] }>();
    for (const index of listBits(bits)) {
      const personId = reach.students[index] as string;
      const explanation = explain(reach, item, personId);
      if (!explanation) continue;
      const key = JSON.stringify([explanation.visibility, explanation.leak, explanation.steps]);
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
        {column.stripe && <Stripe stripe={column.stripe} isPrivate={column.isPrivate} />} {column.name}:{" "}
        {sayCrossing(crossing(reach, item, bits, lost))}.
      </p>
      <Button quiet onPress={edit}>
        Change this item
      </Button>
      {parts.slice(0, 12).map(({ explanation, personIds }) => (
        <div key={personIds[0]} className={styles.part}>
          <strong className={explanation.leak ? base.wrong : ""}>
            {explanation.leak ? "Leak" : visibilities[explanation.visibility]} for{" "}
            {parts.length === 1 ? "all of them" : plural(personIds.length, "student")}
          </strong>
          <Steps steps={explanation.steps} />
          {explanation.reason && explanation.reason.parts.length > 0 && <ReasonTree reason={explanation.reason} />}
          <Names personIds={personIds} most={parts.length === 1 ? 3 : 6} />
        </div>
      ))}
    </section>
  );
}
