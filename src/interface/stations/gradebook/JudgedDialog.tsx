import { useMemo, useState } from "react";
import { countVerdicts, type JudgedMark, type MarkVerdict, sayMark, verdicts } from "../../../core/gradebook/entry.ts";
import { fullName } from "../../../core/plan/lookup.ts";
import { sayNumber } from "../../../core/text/locale.ts";
import { Button, Toggle } from "../../kit/Button.tsx";
import { Actions, Dialog } from "../../kit/Dialog.tsx";
import { Checkbox } from "../../kit/Fields.tsx";
import { Rows } from "../../kit/Rows.tsx";
import { plural } from "../../kit/words.ts";
import { useWorkbench } from "../../workbench/context.tsx";
import base from "../station.module.css";
import styles from "./gradebook.module.css";
import type { Marks, NewMark } from "./useMarks.ts";

interface JudgedProps {
  title: string;
  judged: JudgedMark[];
  marks: Marks;
  onClose(): void;
  /** What else is to be known before: columns of the file that are ignored. */
  note?: string | undefined;
}

/** What a pasted block or a file would change, a mark a line with its verdict, before anything changes. */
export function JudgedDialog({ title, judged, marks, onClose, note }: JudgedProps) {
  const { plan, store } = useWorkbench();
  const counts = useMemo(() => countVerdicts(judged), [judged]);
  const [shown, setShown] = useState<MarkVerdict | null>(
    () => verdicts.find((verdict) => verdict !== "same" && counts[verdict] > 0) ?? null,
  );
  const rows = useMemo(() => judged.filter(({ verdict }) => verdict === shown), [judged, shown]);
  // More points than there are is asked about: it may be meant, and is more often a slip.
  const [withMore, setWithMore] = useState(false);
  const changed = judged.filter(
    ({ verdict }) => verdict === "changed" || (withMore && verdict === "more than there are"),
  );
  const keep = async () => {
    const wanted = changed.map(
      ({ personId, itemId, after }): NewMark => ({ personId: personId ?? "", itemId: itemId ?? "", mark: after }),
    );
    if (!(await marks.give(wanted))) return;
    store.tell("done", `${plural(wanted.length, "mark")} stored.`);
    onClose();
  };
  return (
    <Dialog title={title} onClose={onClose} wide>
      <p className={base.soft}>
        {plural(judged.length, "mark")} looked at; nothing has changed yet. An empty cell leaves the mark as it is; none
        takes it away. {note}
      </p>
      <div className={base.bar}>
        {verdicts
          .filter((verdict) => counts[verdict] > 0)
          .map((verdict) => (
            <Toggle key={verdict} isSelected={shown === verdict} onChange={() => setShown(verdict)}>
              {verdict} <strong>{sayNumber(counts[verdict])}</strong>
            </Toggle>
          ))}
      </div>
      <Rows count={rows.length} label="Marks with this verdict" upTo="40vh" className={styles.judged as string}>
        {(index) => {
          const one = rows[index] as JudgedMark;
          const person = plan.people[one.personId ?? ""];
          return (
            <div className={styles.judgedRow}>
              <span className={base.soft}>{one.where}</span>
              <span>{person ? fullName(person) : "–"}</span>
              <span>{plan.items[one.itemId ?? ""]?.title ?? "–"}</span>
              <strong>{one.verdict === "changed" ? sayMark(one.after) || "none" : one.text}</strong>
              <span className={one.verdict === "changed" || one.verdict === "same" ? base.soft : base.wrong}>
                {one.says}
              </span>
            </div>
          );
        }}
      </Rows>
      {counts["more than there are"] > 0 && (
        <Checkbox isSelected={withMore} onChange={setWithMore}>
          Store {plural(counts["more than there are"], "mark")} with more points than there are, too
        </Checkbox>
      )}
      <Actions>
        <Button onPress={onClose}>Leave</Button>
        <Button strong isDisabled={changed.length === 0 || marks.storing} onPress={() => void keep()}>
          {marks.storing ? "Storing" : `Store ${plural(changed.length, "mark")}`}
        </Button>
      </Actions>
    </Dialog>
  );
}
