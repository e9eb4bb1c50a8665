/** The questions of a quiz, in the card of its item: parts with their questions, of which one is written at a time. */
import { useState } from "react";
import { v7 } from "uuid";
import {
  changedPart,
  changedQuestion,
  movedQuestion,
  newQuestion,
  withoutPart,
  withoutQuestion,
  withPart,
  withQuestion,
} from "../../../../core/attempts/editing.ts";
import {
  possibleIn,
  type Question,
  type QuestionKind,
  type QuestionPart,
  type Quiz,
  questionKinds,
  questionsOf,
  quizFault,
} from "../../../../core/plan/questions.ts";
import { sayPoints } from "../../../../core/text/locale.ts";
import { wordsIn } from "../../../../core/text/rich-text.ts";
import { shorten } from "../../../../core/text/shorten.ts";
import { Button } from "../../../kit/Button.tsx";
import { Checkbox, Choice, TextField } from "../../../kit/Fields.tsx";
import { NumberField } from "../../../kit/NumberField.tsx";
import { plural } from "../../../kit/words.ts";
import { QuestionFields } from "./QuestionFields.tsx";
import { QuestionFiles } from "./QuestionFiles.tsx";
import { QuizSettings } from "./QuizSettings.tsx";
import styles from "./questions.module.css";

interface QuestionsFieldProps {
  quiz: Quiz | null;
  /** The points of the column; empty where nothing is marked. */
  points: string;
  onChange(quiz: Quiz | null, points: string): void;
  /** Of the item; files are named by it. */
  title: string;
}

export function QuestionsField({ quiz, onChange, points, title }: QuestionsFieldProps) {
  const [openId, setOpenId] = useState<string | null>(null);
  const count = quiz ? questionsOf(quiz).length : 0;
  const possible = quiz ? possibleIn(quiz) : 0;
  /** What the column is worth goes with the questions, until somebody says otherwise. */
  const change = (next: Quiz) => {
    const goesWith = points.trim() === "" || Number(points) === possible;
    const worth = goesWith && possibleIn(next) > 0 ? String(possibleIn(next)) : points;
    onChange(next.parts.length === 0 ? null : next, worth);
  };
  const add = (kind: QuestionKind, partId?: string) => {
    const question = newQuestion(kind, v7);
    change(withQuestion(quiz, question, v7, partId));
    setOpenId(question.id);
  };
  const fault = quiz && quizFault(quiz);
  const isScaled = possible > 0 && points.trim() !== "" && Number(points) !== possible;
  return (
    <section className={styles.questions} aria-label="Questions">
      {quiz?.parts.map((part, at) => (
        <Part
          key={part.id}
          part={part}
          from={quiz.parts.slice(0, at).reduce((sum, { questions }) => sum + questions.length, 0)}
          isOnly={quiz.parts.length === 1}
          openId={openId}
          onOpen={setOpenId}
          onPart={(next) => change(next === null ? withoutPart(quiz, part.id) : changedPart(quiz, next))}
          onQuestion={(question) => change(changedQuestion(quiz, question))}
          onMove={(id, by) => change(movedQuestion(quiz, id, by))}
          onRemove={(id) => change(withoutQuestion(quiz, id))}
          onAdd={(kind) => add(kind, part.id)}
        />
      ))}
      {!quiz && <NewQuestion onAdd={add} />}
      <QuestionFiles quiz={quiz} title={title} onChange={change} />
      {fault && <p role="alert">{fault}</p>}
      {quiz && count > 0 && (
        <>
          <p className={styles.sum}>
            {plural(count, "question")}, {sayPoints(possible)} points in an attempt
            {isScaled && `; its mark is given out of ${points}`}
          </p>
          <Button quiet onPress={() => onChange(withPart(quiz, v7), points)}>
            Add a part
          </Button>
          <QuizSettings quiz={quiz} onChange={(next) => onChange(next, points)} />
        </>
      )}
    </section>
  );
}

const kinds = Object.entries(questionKinds) as [QuestionKind, string][];

/** What kind a further question is of: chosen, it is there. */
function NewQuestion({ onAdd }: { onAdd(kind: QuestionKind): void }) {
  return (
    <Choice
      label="Add a question"
      value={null}
      placeholder="Choose what is asked for"
      onChange={onAdd}
      options={kinds.map(([value, label]) => ({ value, label }))}
    />
  );
}

interface PartProps {
  part: QuestionPart;
  /** How many questions stand before it. */
  from: number;
  isOnly: boolean;
  openId: string | null;
  onOpen(id: string | null): void;
  /** Null: it goes, with its questions. */
  onPart(part: QuestionPart | null): void;
  onQuestion(question: Question): void;
  onMove(id: string, by: 1 | -1): void;
  onRemove(id: string): void;
  onAdd(kind: QuestionKind): void;
}

function Part({ part, from, isOnly, openId, onOpen, onPart, onQuestion, onMove, onRemove, onAdd }: PartProps) {
  const { questions, draw, mixed, title } = part;
  return (
    <div className={styles.part}>
      {!isOnly && (
        <TextField label="Heading of the part" value={title} onChange={(text) => onPart({ ...part, title: text })} />
      )}
      <ol className={styles.rows} start={from + 1}>
        {questions.map((question, at) => (
          <li key={question.id}>
            <QuestionRow
              question={question}
              number={from + at + 1}
              isOpen={openId === question.id}
              onOpen={() => onOpen(openId === question.id ? null : question.id)}
            />
            {openId === question.id && (
              <div className={styles.open}>
                <QuestionFields question={question} onChange={onQuestion} />
                <div className={styles.tools}>
                  <Button quiet onPress={() => onMove(question.id, -1)}>
                    Move up
                  </Button>
                  <Button quiet onPress={() => onMove(question.id, 1)}>
                    Move down
                  </Button>
                  <Button quiet onPress={() => onRemove(question.id)}>
                    Remove the question
                  </Button>
                </div>
              </div>
            )}
          </li>
        ))}
      </ol>
      <NewQuestion onAdd={onAdd} />
      {questions.length > 1 && (
        <div className={styles.tools}>
          <Checkbox isSelected={mixed} onChange={(isMixed) => onPart({ ...part, mixed: isMixed })}>
            In another order for each attempt
          </Checkbox>
          <Checkbox
            isSelected={draw !== null}
            onChange={(draws) => onPart({ ...part, draw: draws ? Math.max(1, questions.length - 1) : null })}
          >
            Draw some for each attempt
          </Checkbox>
          {draw !== null && (
            <span className={styles.draws}>
              <NumberField
                label="How many are drawn"
                value={draw}
                least={1}
                most={questions.length}
                onChange={(count) => onPart({ ...part, draw: count })}
              />
              of {questions.length}
            </span>
          )}
          {!isOnly && (
            <Button quiet onPress={() => onPart(null)}>
              Remove the part
            </Button>
          )}
        </div>
      )}
    </div>
  );
}

interface QuestionRowProps {
  question: Question;
  number: number;
  isOpen: boolean;
  onOpen(): void;
}
function QuestionRow({ question, number, isOpen, onOpen }: QuestionRowProps) {
  return (
    <button type="button" className={styles.row} aria-expanded={isOpen} onClick={onOpen}>
      <span>{number}</span>
      <span>{shorten(wordsIn(question.text), 90)}</span>
      <small>
        {questionKinds[question.kind]}, {sayPoints(question.points)}
      </small>
    </button>
  );
}
