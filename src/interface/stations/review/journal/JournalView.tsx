import { useCallback, useEffect, useState } from "react";
import * as api from "../../../../api/journal.ts";
import { instantOf, sayInstant } from "../../../../core/clock/local-time.ts";
import { fullName } from "../../../../core/plan/lookup.ts";
import type { JournalDetail, JournalKind, JournalLine } from "../../../../core/review/journal.ts";
import { sayPoints } from "../../../../core/text/locale.ts";
import { Button } from "../../../kit/Button.tsx";
import { DateTime } from "../../../kit/DateTime.tsx";
import { Choice, TextField } from "../../../kit/Fields.tsx";
import { plural } from "../../../kit/words.ts";
import { useParts, useWorkbench, Why } from "../../../workbench/context.tsx";
import { ask, isFailure } from "../../../workbench/fetch.ts";
import base from "../../station.module.css";
import styles from "../review.module.css";
import { Lines } from "./Lines.tsx";
import { usePages } from "./usePages.ts";

export const kindNames: Record<JournalKind, string> = {
  publication: "publications",
  planned: "planned publications",
  intake: "intakes",
  placement: "students placing themselves",
  marks: "marks",
  attempts: "attempts",
  message: "messages",
  members: "what members did on group pages",
  staff: "staff",
  sections: "sections moved between courses",
};
type Kind = JournalKind | "all";

/** Who did what, when, from what to what: searched, opened, reverted, and the plan as it was looked at. */
export function JournalView() {
  const { store, plan } = useWorkbench();
  const state = useParts("revision");
  const [words, setWords] = useState("");
  const [kind, setKind] = useState<Kind>("all");
  const [chosen, setChosen] = useState<JournalLine | null>(null);
  const [wall, setWall] = useState<string | null>(null);
  const read = useCallback(
    (before: string | null) =>
      ask(store.address, api.readJournal, { query: { q: words, kind: kind === "all" ? null : kind, before } }),
    [store, words, kind],
  );
  const pages = usePages<JournalLine>(read, state.revision);
  const { timeZone } = plan.course;
  return (
    <>
      <div className={base.bar}>
        <TextField
          label="Search the journal"
          hideLabel
          placeholder="A name, a title, a word"
          value={words}
          onChange={setWords}
        />
        <Choice
          label="Kind of line"
          hideLabel
          value={kind}
          onChange={setKind}
          options={[
            { value: "all", label: "everything" },
            ...(Object.keys(kindNames) as JournalKind[]).map((value) => ({ value, label: kindNames[value] })),
          ]}
        />
        <span className={base.push} />
        <DateTime label="The plan as it was" hideLabel value={wall} onChange={setWall} />
        <Button isDisabled={wall === null} onPress={() => wall && void store.lookBack(instantOf(wall, timeZone))}>
          Show the plan as it was
        </Button>
      </div>
      <Lines
        pages={pages}
        empty={
          words === "" && kind === "all"
            ? "Nothing was done yet: whatever is published, taken in, marked or written will stand here."
            : "Nothing of the kind is in the journal."
        }
        row={(line) => (
          <tr key={line.id} data-chosen={chosen?.id === line.id || undefined} className={styles.journalRow}>
            <td className={styles.groupCell}>{sayInstant(line.at, timeZone)}</td>
            <td className={styles.groupCell}>{line.by}</td>
            <td>
              <button
                type="button"
                className={base.plainButton}
                aria-pressed={chosen?.id === line.id}
                onClick={() => setChosen(chosen?.id === line.id ? null : line)}
              >
                {line.says}
              </button>
            </td>
          </tr>
        )}
      />
      <Why>
        {chosen ? (
          <LineWhy key={chosen.id} line={chosen} />
        ) : (
          <p className={base.soft}>Press a line to see from what to what it changed, and to revert it.</p>
        )}
      </Why>
    </>
  );
}

const sayMark = (mark: { points: number | null; excused: boolean } | null) =>
  !mark ? "none" : mark.excused ? "excused" : mark.points === null ? "none" : sayPoints(mark.points);

/** One doing: from what to what, and the way back. */
function LineWhy({ line }: { line: JournalLine }) {
  const { store, plan } = useWorkbench();
  const [detail, setDetail] = useState<JournalDetail | null>(null);
  const [failure, setFailure] = useState("");
  useEffect(() => {
    void ask(store.address, api.openJournalLine, { params: { line: line.id } }).then((answer) =>
      isFailure(answer) ? setFailure(answer.detail) : setDetail(answer),
    );
  }, [store, line.id]);
  const revert = async () => {
    const answer = await ask(store.address, api.revertJournalLine, { params: { line: line.id } });
    if (isFailure(answer)) return store.tell("wrong", answer.detail);
    store.setDraft(answer.draft);
    store.tell("done", "Drafted: what leads it back. Review it, then publish.");
  };
  const nameOf = (mark: JournalDetail["marks"][number]) => {
    const person = plan.people[mark.personId ?? ""];
    return person ? fullName(person) : (plan.groups[mark.groupId ?? ""]?.name ?? "somebody who left");
  };
  return (
    <section>
      <h3 className={base.whyTitle}>{line.says}</h3>
      <p className={base.soft}>
        {line.by}, {sayInstant(line.at, plan.course.timeZone)}
      </p>
      {failure && <p className={base.wrong}>{failure}</p>}
      {!detail && !failure && <p role="status">Fetching it</p>}
      {detail && (
        <>
          {detail.rows.length > 0 && <p>The step that this belongs to:</p>}
          <ul className={styles.rows}>
            {detail.rows.map((row) => (
              <li key={`${row.about} ${row.field} ${row.from} ${row.to}`}>
                {row.about}
                {row.field && `, ${row.field}`}: {row.from && row.to ? `${row.from} to ${row.to}` : row.from || row.to}
              </li>
            ))}
            {detail.marks.map((mark) => (
              <li key={`${mark.itemId} ${mark.personId ?? mark.groupId}`}>
                {nameOf(mark)}, {plan.items[mark.itemId]?.title ?? "a removed item"}: {sayMark(mark.from)} to{" "}
                {sayMark(mark.to)}
              </li>
            ))}
          </ul>
          {detail.more > 0 && <p className={base.soft}>and {plural(detail.more, "more row")}</p>}
          {detail.revert && (
            <>
              {detail.revert.staying.slice(0, 6).map((says) => (
                <p key={says} className={base.wrong}>
                  {says}
                </p>
              ))}
              {detail.revert.staying.length > 6 && (
                <p className={base.wrong}>and {detail.revert.staying.length - 6} more that stay</p>
              )}
              {detail.revert.rows > 0 && <Button onPress={() => void revert()}>Revert in a new draft</Button>}
            </>
          )}
        </>
      )}
    </section>
  );
}
