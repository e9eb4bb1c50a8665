import { useEffect, useMemo, useState } from "react";
import * as api from "../../../api/attempts.ts";
import { itemsChanged } from "../../../core/attempts/under-way.ts";
import { kindWords } from "../../../core/reach/audit/finding.ts";
import { plural } from "../../kit/words.ts";
import { useFindings, useParts, useWorkbench } from "../../workbench/context.tsx";
import { ask, isFailure } from "../../workbench/fetch.ts";
import base from "../station.module.css";
import styles from "./review.module.css";

const pairs = (count: number) => plural(count, "pair");

/** What the draft newly causes: what the audit finds in it and not in what is published, and who comes to see whom. */
export function Warnings() {
  const { plan } = useWorkbench();
  const audit = useFindings();
  const { findings, sightlines } = audit.added;
  const nameOf = (groupId: string) => plan.groups[groupId]?.name ?? "a removed group";
  const underWay = useUnderWay();
  const changed = sightlines && (sightlines.added > 0 || sightlines.removed > 0) ? sightlines : null;
  if (findings.length === 0 && !changed && underWay.length === 0) return null;
  return (
    <section aria-label="New findings" className={styles.warnings}>
      <ul>
        {underWay.map(({ itemId, count }) => (
          <li key={itemId} className={base.wrong}>
            <strong>Under way</strong> {plan.items[itemId]?.title}: {plural(count, "attempt runs", "attempts run")} now,
            and the draft changes it.
          </li>
        ))}
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

/** Attempts that run on what the draft changes, asked for when the review is looked at and whenever the draft is another. */
function useUnderWay(): api.Running {
  const { store } = useWorkbench();
  const { drafted, published } = useParts("drafted", "published");
  const [running, setRunning] = useState<api.Running>([]);
  const changed = useMemo(() => itemsChanged(published, drafted.plan), [published, drafted]);
  useEffect(() => {
    if (changed.size === 0) return setRunning([]);
    let isLatest = true;
    void ask(store.address, api.readRunning).then((answer) => {
      if (isLatest && !isFailure(answer)) setRunning(answer);
    });
    return () => {
      isLatest = false;
    };
  }, [store, changed]);
  return running.filter(({ itemId }) => changed.has(itemId));
}
