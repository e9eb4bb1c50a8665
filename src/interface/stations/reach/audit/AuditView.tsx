import { useMemo, useState } from "react";
import { sayInstant } from "../../../../core/clock/local-time.ts";
import { type Finding, findingKinds, kindWords } from "../../../../core/reach/audit/finding.ts";
import { termOf } from "../../../../core/timing/instants.ts";
import { Checkbox } from "../../../kit/Fields.tsx";
import { Rows } from "../../../kit/Rows.tsx";
import { useFindings, useWorkbench } from "../../../workbench/context.tsx";
import base from "../../station.module.css";
import styles from "./audit.module.css";

interface AuditProps {
  /** Which kinds are looked at here. */
  of(kind: Finding["kind"]): boolean;
  /** What is said where nothing is found. */
  nothing: string;
  chosen: string | null;
  choose(key: string): void;
}

/** Everything that is found or asked about in the draft at the chosen moment, worst first. */
export function AuditView({ of, nothing, chosen, choose }: AuditProps) {
  const { plan, t } = useWorkbench();
  const audit = useFindings();
  const findings = useMemo(() => audit.findings.filter((one) => of(one.kind)), [audit.findings, of]);
  const [accepted, setAccepted] = useState(false);
  const [kind, setKind] = useState<Finding["kind"] | null>(null);
  const counts = useMemo(
    () =>
      findingKinds
        .map((one) => ({
          kind: one,
          count: findings.filter((found) => found.kind === one && !found.accepted).length,
        }))
        .filter(({ count }) => count > 0),
    [findings],
  );
  const quiet = findings.filter((found) => found.accepted).length;
  const shown = findings.filter((found) => (accepted || !found.accepted) && (kind === null || found.kind === kind));
  if (audit.failure)
    return (
      <p role="alert" className={base.wrong}>
        {audit.failure}
      </p>
    );
  if (findings.length === 0)
    return (
      <div className={base.empty}>
        <h3>{audit.pending ? "Looking through the course" : "Nothing is found"}</h3>
        {!audit.pending && <p className={base.soft}>{nothing}</p>}
      </div>
    );
  return (
    <>
      <div className={styles.kinds} role="group" aria-label="Kinds of finding">
        <button type="button" className={base.plainButton} aria-pressed={kind === null} onClick={() => setKind(null)}>
          All
        </button>
        {counts.map((one) => (
          <button
            key={one.kind}
            type="button"
            className={base.plainButton}
            aria-pressed={kind === one.kind}
            title={kindWords[one.kind].is}
            onClick={() => setKind(kind === one.kind ? null : one.kind)}
          >
            {kindWords[one.kind].name} <strong>{one.count}</strong>
          </button>
        ))}
        {quiet > 0 && (
          <Checkbox isSelected={accepted} onChange={setAccepted}>
            {quiet} let stand
          </Checkbox>
        )}
      </div>
      <Rows count={shown.length} height={32} className={styles.list as string} label="Findings">
        {(index) => {
          const one = shown[index] as Finding;
          return (
            <button
              type="button"
              className={styles.row}
              aria-pressed={chosen === one.key}
              data-asks={one.asks || undefined}
              data-quiet={one.accepted !== null || undefined}
              onClick={() => choose(one.key)}
            >
              <span className={styles.kind}>{kindWords[one.kind].name}</span>
              <span className={base.cut}>{one.says}</span>
              {one.from !== null && one.from > termOf(plan).from && (
                <span className={styles.since}>
                  {one.from <= t ? "since" : "from"} {sayInstant(one.from, plan.course.timeZone)}
                </span>
              )}
            </button>
          );
        }}
      </Rows>
    </>
  );
}
