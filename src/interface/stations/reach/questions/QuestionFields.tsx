/** One question as it is written: its text, what it asks for, what is right, and what that earns. */
import { useState } from "react";
import { v7 } from "uuid";
import { asKind } from "../../../../core/attempts/editing.ts";
import { type Question, type QuestionKind, questionKinds } from "../../../../core/plan/questions.ts";
import { Button } from "../../../kit/Button.tsx";
import { Checkbox, Choice, TextField } from "../../../kit/Fields.tsx";
import { NumberField } from "../../../kit/NumberField.tsx";
import { RichText } from "../../../kit/RichText.tsx";
import styles from "./questions.module.css";

interface QuestionFieldsProps {
  question: Question;
  onChange(question: Question): void;
}
type Of<Kind extends QuestionKind> = Extract<Question, { kind: Kind }>;
interface Fields<Kind extends QuestionKind> {
  question: Of<Kind>;
  onChange(question: Of<Kind>): void;
}

export function QuestionFields({ question, onChange }: QuestionFieldsProps) {
  return (
    <>
      <RichText
        label="Question"
        value={question.text}
        onChange={(text) => onChange({ ...question, text: text || "New question" })}
      />
      <div className={styles.pair}>
        <Choice
          label="Asks for"
          value={question.kind}
          onChange={(kind) => onChange(asKind(question, kind, v7))}
          options={(Object.entries(questionKinds) as [QuestionKind, string][]).map(([value, label]) => ({
            value,
            label,
          }))}
        />
        <span className={styles.number}>
          <span aria-hidden>Points</span>
          <NumberField
            label="Points"
            value={question.points}
            least={0}
            most={1000}
            decimal
            onChange={(points) => onChange({ ...question, points })}
          />
        </span>
      </div>
      {(question.kind === "one" || question.kind === "several") && <Choices question={question} onChange={onChange} />}
      {question.kind === "number" && <NumberAnswer question={question} onChange={onChange} />}
      {question.kind === "short" && <ShortAnswer question={question} onChange={onChange} />}
      {(question.kind === "long" || question.kind === "file") && (
        <p className={styles.sum}>A person marks it: it waits among what is to be marked.</p>
      )}
    </>
  );
}

function Choices({ question, onChange }: Fields<"one" | "several">) {
  const { choices } = question;
  const isRight = (id: string) => (question.kind === "one" ? question.right === id : question.right.includes(id));
  const setRight = (id: string, right: boolean) => {
    if (question.kind === "one") onChange({ ...question, right: id });
    else onChange({ ...question, right: right ? [...question.right, id] : question.right.filter((one) => one !== id) });
  };
  const remove = (id: string) => {
    const left = choices.filter((one) => one.id !== id);
    if (question.kind === "several")
      onChange({ ...question, choices: left, right: question.right.filter((one) => one !== id) });
    else
      onChange({ ...question, choices: left, right: question.right === id ? (left[0]?.id as string) : question.right });
  };
  return (
    <fieldset className={styles.choices}>
      <legend>Choices, ticked where right</legend>
      {choices.map(({ id, text }, at) => (
        <div key={id} className={styles.choice}>
          <Checkbox
            aria-label={`Choice ${at + 1} is right`}
            isSelected={isRight(id)}
            onChange={(right) => setRight(id, right)}
          />
          <TextField
            label={`Choice ${at + 1}`}
            hideLabel
            value={text}
            onChange={(words) =>
              onChange({ ...question, choices: choices.map((one) => (one.id === id ? { id, text: words } : one)) })
            }
            error={text.trim() === "" && "A choice says something."}
          />
          <Button
            quiet
            isDisabled={choices.length <= 2}
            onPress={() => remove(id)}
            aria-label={`Remove choice ${at + 1}`}
          >
            Remove
          </Button>
        </div>
      ))}
      <Button
        quiet
        onPress={() =>
          onChange({ ...question, choices: [...choices, { id: v7(), text: `Choice ${choices.length + 1}` }] })
        }
      >
        Add a choice
      </Button>
      {question.kind === "several" && (
        <Checkbox isSelected={question.partial} onChange={(partial) => onChange({ ...question, partial })}>
          Each right choice earns its share, each wrong one takes one
        </Checkbox>
      )}
    </fieldset>
  );
}

function NumberAnswer({ question, onChange }: Fields<"number">) {
  const { right, tolerance, unit, withoutUnit } = question;
  const most = Number.MAX_SAFE_INTEGER;
  return (
    <div className={styles.sentence}>
      <span>Right is</span>
      <NumberField
        label="What is right"
        value={right}
        least={-most}
        most={most}
        decimal
        onChange={(to) => onChange({ ...question, right: to })}
      />
      <span>up to</span>
      <NumberField
        label="How far away"
        value={tolerance.amount}
        least={0}
        most={most}
        decimal
        onChange={(amount) => onChange({ ...question, tolerance: { ...tolerance, amount } })}
      />
      <Choice
        label="How far away is meant"
        hideLabel
        value={tolerance.relative ? "relative" : "absolute"}
        onChange={(by) => onChange({ ...question, tolerance: { ...tolerance, relative: by === "relative" } })}
        options={[
          { value: "absolute", label: "either way" },
          { value: "relative", label: "percent either way" },
        ]}
      />
      <TextField label="Unit, if one is asked" value={unit} onChange={(to) => onChange({ ...question, unit: to })} />
      {unit.trim() !== "" && (
        <>
          <span>Without it the right number earns</span>
          <NumberField
            label="Percent without the unit"
            value={withoutUnit}
            least={0}
            most={100}
            decimal
            onChange={(to) => onChange({ ...question, withoutUnit: to })}
          />
          <span>%</span>
        </>
      )}
    </div>
  );
}

const linesOf = (text: string): string[] =>
  text
    .split("\n")
    .map((line) => line.trim())
    .filter(Boolean);

function ShortAnswer({ question, onChange }: Fields<"short">) {
  // A line that was just begun holds nothing yet.
  const [typed, setTyped] = useState<string | null>(null);
  const text = typed ?? question.accepted.join("\n");
  return (
    <>
      <TextField
        label="Accepted, one a line"
        lines={3}
        value={text}
        onChange={(next) => {
          setTyped(next);
          if (linesOf(next).length > 0) onChange({ ...question, accepted: linesOf(next).slice(0, 50) });
        }}
        onBlur={() => setTyped(null)}
        error={linesOf(text).length === 0 && "Say at least one answer that is accepted."}
      />
      <div className={styles.tools}>
        <Checkbox isSelected={question.caseCounts} onChange={(caseCounts) => onChange({ ...question, caseCounts })}>
          Capitals count
        </Checkbox>
        <Checkbox isSelected={question.blanksCount} onChange={(blanksCount) => onChange({ ...question, blanksCount })}>
          Blanks within count
        </Checkbox>
      </div>
    </>
  );
}
