import { useCallback, useState } from "react";
import * as api from "../../../../api/journal.ts";
import type { AccessKind, AccessLine } from "../../../../core/access/access-line.ts";
import { sayInstant } from "../../../../core/clock/local-time.ts";
import { Button } from "../../../kit/Button.tsx";
import { Choice } from "../../../kit/Fields.tsx";
import { useParts, useWorkbench, Why } from "../../../workbench/context.tsx";
import { ask } from "../../../workbench/fetch.ts";
import base from "../../station.module.css";
import styles from "../review.module.css";
import { usePages } from "./usePages.ts";

const says = ({ kind, whose, what }: AccessLine) =>
  kind === "looked" ? `Looked through the eyes of ${whose}` : `Saved ${what}`;

/** Who looked through whose eyes, and who saved which file: what the course told whom of its students. */
export function AccessLogView() {
  const { store, plan } = useWorkbench();
  const state = useParts("revision");
  const [kind, setKind] = useState<AccessKind | "all">("all");
  const read = useCallback(
    (before: string | null) =>
      ask(store.address, api.readAccessLog, { query: { kind: kind === "all" ? null : kind, before } }),
    [store, kind],
  );
  const { found, failure, older } = usePages<AccessLine>(read, state.revision);
  const { timeZone } = plan.course;
  return (
    <>
      <div className={base.bar}>
        <Choice
          label="Kind of line"
          hideLabel
          value={kind}
          onChange={setKind}
          options={[
            { value: "all", label: "looks and files" },
            { value: "looked", label: "looks through somebody's eyes" },
            { value: "exported", label: "files that were saved" },
          ]}
        />
      </div>
      {failure && (
        <p role="alert" className={base.wrong}>
          {failure}
        </p>
      )}
      {found?.lines.length === 0 && (
        <p className={base.soft}>
          Nobody did yet: whoever looks through a student's eyes, or saves a file of the course, will stand here.
        </p>
      )}
      <div className={base.scroll} hidden={!found || found.lines.length === 0}>
        <table className={base.table}>
          <thead>
            <tr>
              <th>When</th>
              <th>Who</th>
              <th>What</th>
              <th className={base.number}>Times</th>
            </tr>
          </thead>
          <tbody>
            {found?.lines.map((line) => (
              <tr key={line.id}>
                <td className={styles.groupCell}>{sayInstant(line.at, timeZone)}</td>
                <td className={styles.groupCell}>{line.by}</td>
                <td>{says(line)}</td>
                <td className={base.number}>{line.times}</td>
              </tr>
            ))}
          </tbody>
        </table>
        {found?.more && <Button onPress={older}>Older</Button>}
      </div>
      <Why>
        <p className={base.soft}>
          What one person does again within an hour is one line, counted. Lines are kept for a year.
        </p>
      </Why>
    </>
  );
}
