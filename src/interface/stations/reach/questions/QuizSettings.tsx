/** How the attempts of a quiz count, and from when their marks and right answers are shown. */
import type { Quiz } from "../../../../core/plan/questions.ts";
import { Checkbox, Choice } from "../../../kit/Fields.tsx";
import styles from "./questions.module.css";

const counts: { value: Quiz["counts"]; label: string }[] = [
  { value: "best", label: "the best attempt" },
  { value: "last", label: "the last attempt" },
  { value: "first", label: "the first attempt" },
  { value: "mean", label: "the mean of all attempts" },
];
const shows: { value: Quiz["shows"]; label: string }[] = [
  { value: "at once", label: "at once" },
  { value: "after due", label: "after their own due date" },
  { value: "after all", label: "after it closed for everybody" },
  { value: "when released", label: "when staff say so" },
];

interface QuizSettingsProps {
  quiz: Quiz;
  onChange(quiz: Quiz): void;
}

export function QuizSettings({ quiz, onChange }: QuizSettingsProps) {
  return (
    <div className={styles.settings}>
      <Choice
        label="The mark is"
        value={quiz.counts}
        onChange={(value) => onChange({ ...quiz, counts: value })}
        options={counts}
      />
      <Choice
        label="Students read marks and right answers"
        value={quiz.shows}
        onChange={(value) => onChange({ ...quiz, shows: value, released: false })}
        options={shows}
      />
      {quiz.shows === "when released" && (
        <Checkbox isSelected={quiz.released} onChange={(released) => onChange({ ...quiz, released })}>
          They are shown now
        </Checkbox>
      )}
      <Checkbox isSelected={quiz.mixChoices} onChange={(mixChoices) => onChange({ ...quiz, mixChoices })}>
        Choices in another order for each attempt
      </Checkbox>
    </div>
  );
}
