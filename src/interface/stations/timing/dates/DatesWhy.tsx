import { useMemo, useState } from "react";
import type { DateField, Item } from "../../../../core/plan/types.ts";
import type { Finding } from "../../../../core/reach/audit/finding.ts";
import { listBits } from "../../../../core/sets/bits.ts";
import { isSetAnywhere } from "../../../../core/timing/resolving/chain.ts";
import { dateFields } from "../../../../core/timing/resolving/resolve.ts";
import type { DateTable } from "../../../../core/timing/resolving/table.ts";
import { Few } from "../../../kit/Few.tsx";
import { plural } from "../../../kit/words.ts";
import { useWorkbench } from "../../../workbench/context.tsx";
import { Person } from "../../Person.tsx";
import base from "../../station.module.css";
import { fieldTitle, sayValue } from "../sayValue.ts";
import styles from "../timing.module.css";
import { Chain } from "./Chain.tsx";

/** Why these dates: what most and others have; for a student that is chosen, the chain with the losers struck through. */
export function DatesWhy({ table, item, findings }: { table: DateTable; item: Item; findings: Finding[] }) {
  const { plan } = useWorkbench();
  const [personId, setPersonId] = useState<string | null>(null);
  const fields = dateFields.filter((field) => isSetAnywhere(plan, item, field));
  return (
    <section>
      <h3 className={base.whyTitle}>{item.title}</h3>
      {findings.length > 0 && (
        <ul className={base.steps}>
          <Few of={findings} most={3}>
            {({ key, says, asks }) => (
              <li key={key} className={asks ? "" : base.wrong}>
                {says}
              </li>
            )}
          </Few>
        </ul>
      )}
      {fields.length === 0 && <p className={base.soft}>No date or limit is set for anybody.</p>}
      <Person label="Why this date, for" personId={personId} onChange={setPersonId} />
      {fields.map((field) => (
        <div key={field} className={styles.whyField}>
          <h4>{fieldTitle(field, item.kind)}</h4>
          {personId ? (
            <Chain item={item} field={field} personId={personId} />
          ) : (
            <Values table={table} item={item} field={field} />
          )}
        </div>
      ))}
    </section>
  );
}

/** Each value among the students it is meant for, and how many have it. */
function Values({ table, item, field }: { table: DateTable; item: Item; field: DateField }) {
  const values = useMemo(() => {
    const column = table.column(item, field);
    const counts = new Map<number, number>();
    for (const index of listBits(table.reach.meant(item))) {
      const number = column[index] as number;
      counts.set(number, (counts.get(number) ?? 0) + 1);
    }
    return [...counts]
      .sort((a, b) => b[1] - a[1])
      .map(([number, students]) => [table.valueOf(field, number), students] as const);
  }, [table, item, field]);
  return (
    <>
      {values.slice(0, 8).map(([value, students]) => (
        <p key={String(value)}>
          <strong>{sayValue(value)}</strong> for {plural(students, "student")}
        </p>
      ))}
      {values.length > 8 && <p className={base.soft}>and {values.length - 8} more dates</p>}
    </>
  );
}
