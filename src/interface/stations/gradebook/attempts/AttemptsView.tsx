/** Attempts on a quiz: who works on it now and who has, what can be done for them, and what its questions tell. */
import { useMemo, useState } from "react";
import { isInAttemptsForSome } from "../../../../core/attempts/beginning.ts";
import type { Item } from "../../../../core/plan/types.ts";
import { Choice } from "../../../kit/Fields.tsx";
import { Views } from "../../../kit/Views.tsx";
import { useWorkbench } from "../../../workbench/context.tsx";
import base from "../../station.module.css";
import styles from "./attempts.module.css";
import { Holders } from "./Holders.tsx";
import { MarkAnew } from "./MarkAnew.tsx";
import { Questions } from "./Questions.tsx";
import { useAttempts } from "./useAttempts.ts";

interface AttemptsViewProps {
  columns: Item[];
  /** Whom the filter shows. */
  personIds: string[];
  /** The cell that is chosen in the other views. */
  at: { itemId: string } | null;
}

type Shown = "holders" | "questions";

export function AttemptsView({ columns, personIds, at }: AttemptsViewProps) {
  const { plan } = useWorkbench();
  const items = useMemo(() => columns.filter((one) => isInAttemptsForSome(plan, one)), [plan, columns]);
  const [chosen, setChosen] = useState<string | null>(null);
  const [shown, setShown] = useState<Shown>("holders");
  const wanted = chosen ?? at?.itemId;
  const item = items.find(({ id }) => id === wanted) ?? items[0] ?? null;
  const attempts = useAttempts(item?.id ?? null);
  if (!item)
    return (
      <div className={base.empty}>
        <h3>Nothing is worked on in attempts yet</h3>
        <p className={base.soft}>
          A quiz with questions is, and an assignment with minutes. Write questions in the card of a quiz on Reach.
        </p>
      </div>
    );
  return (
    <div className={styles.view}>
      <div className={base.bar}>
        <Choice
          label="Quiz"
          hideLabel
          value={item.id}
          onChange={setChosen}
          options={items.map(({ id, title }) => ({ value: id, label: title }))}
        />
        <Views<Shown>
          label="What is shown"
          value={shown}
          onChange={setShown}
          options={[
            { value: "holders", label: "Who" },
            { value: "questions", label: "Questions" },
          ]}
        />
        {item.quiz && <MarkAnew item={item} onKept={attempts.refresh} />}
      </div>
      {!attempts.rows ? (
        <p className={base.soft}>Fetching the attempts</p>
      ) : shown === "holders" ? (
        <Holders key={item.id} item={item} rows={attempts.rows} act={attempts.act} personIds={personIds} />
      ) : (
        <Questions key={item.id} item={item} rows={attempts.rows} personIds={personIds} onMarked={attempts.refresh} />
      )}
    </div>
  );
}
