import { kindWords } from "../../../core/reach/audit/finding.ts";
import { plural } from "../../kit/words.ts";
import { useFindings, useWorkbench } from "../../workbench/context.tsx";
import base from "../station.module.css";
import styles from "./review.module.css";

const pairs = (count: number) => plural(count, "pair");

/** What the draft newly causes: what the audit finds in it and not in what is published, and who comes to see whom. */
export function Warnings() {
  const { plan } = useWorkbench();
  const audit = useFindings();
  const { findings, sightlines } = audit.added;
  const nameOf = (groupId: string) => plan.groups[groupId]?.name ?? "a removed group";
  const changed = sightlines && (sightlines.added > 0 || sightlines.removed > 0) ? sightlines : null;
  if (findings.length === 0 && !changed) return null;
  return (
    <section aria-label="New findings" className={styles.warnings}>
      <ul>
        {findings.slice(0, 12).map((one) => (
          <li key={one.key} className={base.wrong}>
            <strong>{kindWords[one.kind].name}</strong> {one.says}
            {one.personIds.length > 0 && ` New for ${plural(one.personIds.length, "student")}.`}
          </li>
        ))}
        {findings.length > 12 && <li className={base.wrong}>and {findings.length - 12} more findings</li>}
        {changed && (
          <li className={changed.added > 0 ? base.wrong : ""}>
            <strong>Sightlines</strong>{" "}
            {[
              changed.added > 0 && `${pairs(changed.added)} of different groups come to see each other`,
              changed.removed > 0 && `${pairs(changed.removed)} no longer see each other`,
            ]
              .filter(Boolean)
              .join("; ")}
            {": "}
            {changed.between
              .slice(0, 4)
              .map(
                ({ groupIds: [a, b], added, removed }) =>
                  `${nameOf(a)} and ${nameOf(b)} ${[added > 0 && `+${added}`, removed > 0 && `−${removed}`].filter(Boolean).join(" ")}`,
              )
              .join(", ")}
            {changed.between.length > 4 && " and others"}.
          </li>
        )}
      </ul>
    </section>
  );
}
