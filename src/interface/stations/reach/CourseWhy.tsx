import { useState } from "react";
import { Button } from "../../kit/Button.tsx";
import { Checkbox, Choice, TextField } from "../../kit/Fields.tsx";
import { linesOf, plural } from "../../kit/words.ts";
import { useWorkbench } from "../../workbench/context.tsx";
import { useSplitting } from "../Splitting.tsx";
import base from "../station.module.css";
import { betweenWords } from "./items/SplitField.tsx";
import styles from "./reach.module.css";

const indexNames = {
  discussions: "All discussions",
  files: "All files",
  calendar: "Calendar",
  work: "List of work",
} as const;

/** What is decided for the course as a whole: indexes, class list, how items are split, telling words. */
export function CourseWhy() {
  const { store, plan } = useWorkbench();
  const { indexes, classList, mayWriteToStaff, mayCompareWithOthers } = plan.course;
  const { splitting, layers, setSplitting } = useSplitting();
  const chooseList = (value: string) =>
    store.draft([
      {
        kind: "course.classList",
        classList: value === "everyone" || value === "nobody" ? { to: value } : { to: "layer", layerId: value },
      },
    ]);
  return (
    <section className={styles.course}>
      <h3 className={base.whyTitle}>Course-wide indexes</h3>
      <p className={base.soft}>
        An index that is on is an entrance to every item of its kind, also to those in a folder that does not seal.
      </p>
      {(Object.keys(indexNames) as (keyof typeof indexNames)[]).map((key) => (
        <div key={key}>
          <Checkbox
            isSelected={indexes[key]}
            onChange={(on) => store.draft([{ kind: "course.indexes", indexes: { ...indexes, [key]: on } }])}
          >
            {indexNames[key]}
          </Checkbox>
        </div>
      ))}
      <h3 className={base.whyTitle}>Class list</h3>
      <Choice
        label="On the class list a student finds"
        value={classList.to === "layer" ? classList.layerId : classList.to}
        onChange={chooseList}
        options={[
          { value: "everyone", label: "everyone" },
          ...layers.map(({ id, name }) => ({ value: id, label: `those who share a group of ${name}` })),
          { value: "nobody", label: "nobody" },
        ]}
      />
      <Checkbox isSelected={mayWriteToStaff} onChange={(toStaff) => store.draft([{ kind: "course.writing", toStaff }])}>
        Students may write to their instructors
      </Checkbox>
      <Checkbox
        isSelected={mayCompareWithOthers}
        onChange={(withOthers) => store.draft([{ kind: "course.comparing", withOthers }])}
      >
        Instructors may compare with all other students, as sums
      </Checkbox>
      <h3 className={base.whyTitle}>How items are split</h3>
      <Choice
        label="Split items have a thread for"
        value={splitting?.layerId ?? "each"}
        onChange={(value) => setSplitting(value === "each" ? null : { layerId: value })}
        options={[
          { value: "each", label: "what each item says itself" },
          ...layers.map(({ id, name }) => ({ value: id, label: `each group of ${name}` })),
        ]}
      />
      {splitting && (
        <>
          <Choice
            label="Between groups"
            value={splitting.between}
            onChange={(between) => setSplitting({ between })}
            options={betweenWords}
          />
          <Checkbox isSelected={splitting.locked} onChange={(locked) => setSplitting({ locked })}>
            Locked: no item otherwise
          </Checkbox>
        </>
      )}
      <TellingWords />
    </section>
  );
}

function TellingWords() {
  const { store, plan } = useWorkbench();
  const [text, setText] = useState<string | null>(null);
  const words = plan.course.tellingWords;
  const keep = () => {
    if (store.draft([{ kind: "course.tellingWords", words: linesOf(text ?? "") }])) setText(null);
  };
  return (
    <>
      <h3 className={base.whyTitle}>Telling words</h3>
      {text === null ? (
        <>
          <p className={base.soft}>Labels that hold one of {plural(words.length, "word")} are asked about.</p>
          <Button quiet onPress={() => setText(words.join("\n"))}>
            Change the list
          </Button>
        </>
      ) : (
        <>
          <TextField
            label="Words that tell a level or a need, a line each"
            lines={8}
            value={text}
            onChange={setText}
            autoFocus
          />
          <div className={styles.itemActions}>
            <Button onPress={() => setText(null)}>Leave</Button>
            <Button strong onPress={keep}>
              Draft the list
            </Button>
          </div>
        </>
      )}
    </>
  );
}
