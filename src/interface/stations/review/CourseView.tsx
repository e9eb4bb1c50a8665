import { useMemo, useState } from "react";
import { v4 } from "uuid";
import * as api from "../../../api/course.ts";
import { dayAfter } from "../../../core/clock/local-time.ts";
import type { Plan } from "../../../core/plan/types.ts";
import { type NewTerm, rollOver } from "../../../core/rolling/roll-over.ts";
import type { PlanFileAnswer, PlanFileWorker as PlanFileFunctions } from "../../../workers/plan-file.ts";
import PlanFileWorker from "../../../workers/plan-file.ts?sharing";
import { Button } from "../../kit/Button.tsx";
import { Day } from "../../kit/DateTime.tsx";
import { TextField } from "../../kit/Fields.tsx";
import { FileButton } from "../../kit/FileButton.tsx";
import { SubmitForm } from "../../kit/SubmitForm.tsx";
import { plural } from "../../kit/words.ts";
import { askOnce } from "../../kit/worker.ts";
import { useParts, useWorkbench, Why } from "../../workbench/context.tsx";
import { ask, isFailure } from "../../workbench/fetch.ts";
import base from "../station.module.css";
import styles from "./review.module.css";

/** The course as a whole: its plan as a file, and a new course out of it or out of a file. */
export function CourseView() {
  const { store } = useWorkbench();
  const state = useParts("published");
  const { published } = state;
  const [file, setFile] = useState<{ name: string; text: string; plan: Plan } | null>(null);
  const from = file?.plan ?? published;
  const [term, setTerm] = useState<NewTerm>(() => ({
    id: v4(),
    code: published.course.code,
    title: published.course.title,
    term: "",
    termStart: dayAfter(published.course.termStart, 364),
    termEnd: dayAfter(published.course.termEnd, 364),
    noClassDays: [],
  }));
  const set = (changes: Partial<NewTerm>) => setTerm({ ...term, ...changes });
  const [wrong, setWrong] = useState("");
  const [under, setUnder] = useState<string | null>(null);
  const [made, setMade] = useState<{ id: string; left: string[] } | null>(null);
  const inOrder = term.termStart < term.termEnd;
  const left = useMemo(() => (inOrder ? rollOver(from, term).left : []), [from, term, inOrder]);
  const read = async (chosen: File) => {
    setUnder(`Reading ${chosen.name}`);
    const text = await chosen.text();
    const unread = { wrong: `${chosen.name} could not be read here. Nothing was changed; try again.` };
    const found = await askOnce<PlanFileFunctions, PlanFileAnswer>(
      PlanFileWorker,
      (worker) => worker.read(text),
      unread,
    );
    setUnder(null);
    if ("wrong" in found) return setWrong(found.wrong);
    setWrong("");
    setFile({ name: chosen.name, text, plan: found.plan });
  };
  const make = async () => {
    const answer = await ask(store.address, api.rollOver, {
      body: { ...term, ...(file ? { file: file.text } : {}) },
    });
    if (isFailure(answer)) return setWrong(answer.detail);
    setWrong("");
    setMade(answer);
  };
  if (made)
    return (
      <div className={base.empty}>
        <h3>
          {term.code} {term.term} is there
        </h3>
        <p>You are its coordinator. Nobody else is in it until you take a roster in.</p>
        <a href={`/workbench/${made.id}/intake`}>Open it</a>
        <Left left={made.left} />
      </div>
    );
  return (
    <div className={styles.halves}>
      <section aria-label="A new course" className={base.scroll}>
        <h3>A new course out of {file ? file.name : `${published.course.code} ${published.course.term}`}</h3>
        <p className={base.soft}>
          Layers, groups, rules, outline, audiences, conditions, dates and settings come along; people and what they did
          stay. Dates keep their week and weekday of the term.
        </p>
        <SubmitForm onSubmit={() => void make()}>
          <div className={styles.termFields}>
            <TextField label="Code" value={term.code} onChange={(code) => set({ code })} />
            <TextField label="Title" value={term.title} onChange={(title) => set({ title })} />
            <TextField
              label="Term"
              value={term.term}
              onChange={(name) => set({ term: name })}
              placeholder="Spring 2027"
            />
            <Day label="From" value={term.termStart} onChange={(day) => day && set({ termStart: day })} isRequired />
            <Day label="To" value={term.termEnd} onChange={(day) => day && set({ termEnd: day })} isRequired />
          </div>
          {!inOrder && <p className={base.wrong}>The term ends before it begins.</p>}
          {wrong && (
            <p role="alert" className={base.wrong}>
              {wrong}
            </p>
          )}
          <Button
            strong
            type="submit"
            isDisabled={!inOrder || term.term.trim() === "" || term.code.trim() === "" || term.title.trim() === ""}
          >
            Make the course
          </Button>
        </SubmitForm>
        <Left left={left} />
      </section>
      <section aria-label="The plan as a file" className={base.scroll}>
        <h3>The plan as a file</h3>
        <p className={base.soft}>
          All that was decided, as JSON. Its <a href="/plan.schema.json">schema</a> says what each part means to a
          program.
        </p>
        <p className={base.bar}>
          <a href={`${store.address}/plan-file`}>Save the published plan</a>
          <FileButton accept=".json" testId="plan-file" onChoose={(chosen) => void read(chosen)}>
            A new course out of a file
          </FileButton>
          {under && <span role="status">{under}</span>}
          {file && (
            <Button quiet onPress={() => setFile(null)}>
              Out of this course instead
            </Button>
          )}
        </p>
      </section>
      <Why>
        <p className={base.soft}>
          Nothing of this course changes. What cannot be carried is listed before the new one is made.
        </p>
      </Why>
    </div>
  );
}

/** What could not be carried. */
function Left({ left }: { left: string[] }) {
  if (left.length === 0) return <p>Everything can be carried.</p>;
  return (
    <>
      <h4>{plural(left.length, "thing")} to look at</h4>
      <ul className={styles.rows}>
        {left.map((one) => (
          <li key={one}>{one}</li>
        ))}
      </ul>
    </>
  );
}
