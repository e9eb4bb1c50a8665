/** The answers to one question, or of one student, with the points they earned; those that a person marks are marked here. */
import { useState } from "react";
import type { AnswerRow, QuestionRow } from "../../../../api/attempts.ts";
import { fullName } from "../../../../core/plan/lookup.ts";
import type { Item } from "../../../../core/plan/types.ts";
import { sayPoints } from "../../../../core/text/locale.ts";
import { Button } from "../../../kit/Button.tsx";
import { NumberField } from "../../../kit/NumberField.tsx";
import { plural } from "../../../kit/words.ts";
import { useWorkbench } from "../../../workbench/context.tsx";
import base from "../../station.module.css";
import styles from "./attempts.module.css";
import { useAnswers } from "./useAttempts.ts";

interface AnswersProps {
  item: Item;
  question: QuestionRow;
  personIds: string[];
  onMarked(): void;
}

/** By question: everybody's answers to it, those that are to be marked first. */
export function Answers({ item, question, personIds, onMarked }: AnswersProps) {
  const { plan } = useWorkbench();
  const { answers, give } = useAnswers(item.id, { question: question.id });
  const persons = new Set(personIds);
  const shown = (answers ?? [])
    .filter(({ holderId }) => !plan.people[holderId] || persons.has(holderId))
    .sort((a, b) => Number(a.earned !== null) - Number(b.earned !== null));
  const toMark = shown.filter(({ earned }) => earned === null).length;
  return (
    <section className={styles.answers} aria-label={`Answers to ${question.text}`}>
      <h3>
        {question.text} <small>{toMark > 0 ? `${toMark} to be marked` : plural(shown.length, "answer")}</small>
      </h3>
      {!answers && <p className={base.soft}>Fetching the answers</p>}
      {shown.map((one) => (
        <OneAnswer
          key={one.attemptId}
          answer={one}
          name={nameOf(plan.people[one.holderId], plan.groups[one.holderId]?.name, one.number)}
          onGive={async (points) => {
            await give(one, points);
            onMarked();
          }}
        />
      ))}
    </section>
  );
}

const nameOf = (person: Parameters<typeof fullName>[0] | undefined, group: string | undefined, number: number) =>
  `${person ? fullName(person) : (group ?? "Somebody")}${number > 1 ? `, attempt ${number}` : ""}`;

/** By student: what they answered in their attempts, the latest first. */
export function AnswersOf({ item, holderId }: { item: Item; holderId: string }) {
  const { answers, give } = useAnswers(item.id, { holder: holderId });
  if (!answers) return <p className={base.soft}>Fetching the answers</p>;
  const numbers = [...new Set(answers.map(({ number }) => number))].sort((a, b) => b - a);
  return (
    <>
      {numbers.map((number, order) => (
        <details key={number} open={order === 0}>
          <summary>Attempt {number}</summary>
          {answers
            .filter((one) => one.number === number)
            .map((one, at) => (
              <OneAnswer
                key={one.questionId}
                answer={one}
                name={`${at + 1} ${one.text}`}
                onGive={(points) => give(one, points)}
              />
            ))}
        </details>
      ))}
    </>
  );
}

interface OneAnswerProps {
  answer: AnswerRow;
  name: string;
  onGive(points: number | null): Promise<void>;
}

function OneAnswer({ answer, name, onGive }: OneAnswerProps) {
  const { store } = useWorkbench();
  const [isOpen, setOpen] = useState(answer.earned === null);
  const [points, setPoints] = useState(answer.earned ?? answer.worth);
  return (
    <div className={styles.answer} data-to-mark={answer.earned === null || undefined}>
      <strong>{name}</strong>
      {answer.file ? (
        <a href={`${store.address}/attachments/${answer.file.id}`} target="_blank" rel="noreferrer">
          {answer.file.name}
        </a>
      ) : (
        <p>{answer.answer || <span className={base.soft}>Not answered</span>}</p>
      )}
      {answer.right && answer.earned !== answer.worth && <p className={base.holds}>Right: {answer.right}</p>}
      <div className={base.bar}>
        {isOpen && answer.answer !== "" ? (
          <>
            <NumberField
              label={`Points for ${name}`}
              value={points}
              least={0}
              most={answer.worth}
              decimal
              onChange={setPoints}
            />
            <span>of {sayPoints(answer.worth)}</span>
            <Button
              onPress={() => {
                setOpen(false);
                void onGive(points);
              }}
            >
              Store
            </Button>
          </>
        ) : (
          <>
            <span>
              {answer.earned === null ? "to be marked" : sayPoints(answer.earned)} of {sayPoints(answer.worth)}
              {answer.byHand && <small className={base.soft}>, by hand</small>}
            </span>
            {answer.answer !== "" && (
              <Button quiet onPress={() => setOpen(true)}>
                {answer.earned === null ? "Mark" : "Change"}
              </Button>
            )}
            {answer.byHand && answer.right !== "" && (
              <Button quiet onPress={() => void onGive(null)}>
                As it marks itself
              </Button>
            )}
          </>
        )}
      </div>
    </div>
  );
}
