import { type CategoryTotal, sayTotal, type Total, type TotalCell } from "../../../core/gradebook/totals.ts";
import { fullName } from "../../../core/plan/lookup.ts";
import { sayDecimal } from "../../../core/text/locale.ts";
import { useWorkbench } from "../../workbench/context.tsx";
import base from "../station.module.css";
import styles from "./gradebook.module.css";

const percent = (value: number) => `${sayDecimal(Math.round(value * 10) / 10, 1)} %`;

/** A total opened: each category, each cell that counts or not and why, what was dropped, and the sum of it. */
export function TotalWhy({ personId, total }: { personId: string; total: Total }) {
  const { plan } = useWorkbench();
  const person = plan.people[personId];
  return (
    <section>
      <h3 className={base.whyTitle}>{person && fullName(person)}</h3>
      <p>
        Total: <strong>{sayTotal(total)}</strong>
      </p>
      {total.categories.map((category) => (
        <Category key={category.category?.id ?? "all"} {...category} />
      ))}
      {total.apart.length > 0 && (
        <p className={base.soft}>In no category, so not counted: {total.apart.map(({ title }) => title).join(", ")}.</p>
      )}
    </section>
  );
}

function Category({ category, cells, earned, possible, percent: value, share }: CategoryTotal) {
  const counts = (cell: TotalCell) => cell.points !== null && !cell.dropped;
  return (
    <div className={styles.step}>
      <h4>
        {category?.name ?? "All columns"}
        {value !== null && (
          <span className={base.soft}>
            {" "}
            {earned} of {possible}, {percent(value)}
            {category && `, ${percent(share * 100)} of the total`}
          </span>
        )}
      </h4>
      {value === null && <p className={base.soft}>Nothing here counts yet.</p>}
      <ul className={styles.stepCells}>
        {cells.map((cell) => (
          <li key={cell.item.id} className={counts(cell) ? "" : base.soft}>
            {cell.dropped ? <s>{cell.item.title}</s> : cell.item.title}: {cell.why}
            {cell.dropped && ", dropped as one of the lowest"}
          </li>
        ))}
      </ul>
    </div>
  );
}
