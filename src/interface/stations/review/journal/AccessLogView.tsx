import { useCallback, useState } from "react";
import * as api from "../../../../api/journal.ts";
import type { AccessKind, AccessLine } from "../../../../core/access/access-line.ts";
import { sayInstant } from "../../../../core/clock/local-time.ts";
import { Choice } from "../../../kit/Fields.tsx";
import { useParts, useWorkbench, Why } from "../../../workbench/context.tsx";
import { ask } from "../../../workbench/fetch.ts";
import base from "../../station.module.css";
import styles from "../review.module.css";
import { Lines } from "./Lines.tsx";
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
  const pages = usePages<AccessLine>(read, state.revision);
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
      <Lines
        pages={pages}
        empty="Nobody did yet: whoever looks through a student's eyes, or saves a file of the course, will stand here."
        more={<th className={base.number}>Times</th>}
        row={(line) => (
          <tr key={line.id}>
            <td className={styles.groupCell}>{sayInstant(line.at, timeZone)}</td>
            <td className={styles.groupCell}>{line.by}</td>
            <td>{says(line)}</td>
            <td className={base.number}>{line.times}</td>
          </tr>
        )}
      />
      <Why>
        <p className={base.soft}>
          What one person does again within an hour is one line, counted. Lines are kept for a year.
        </p>
      </Why>
    </>
  );
}
