import { Check } from "lucide-react";
import { useState } from "react";
import { progressByItem } from "../../core/plan/progress.ts";
import { Button } from "../kit/Button.tsx";
import { useParts, useWorkbench } from "./context.tsx";
import styles from "./first.module.css";
import { firstSteps } from "./first-steps.ts";
import { stationName } from "./names.ts";

/** In a new course: the stations in the order of the work, what is done, and what this one is for. */
export function FirstSteps() {
  const { store, plan } = useWorkbench();
  const state = useParts("progress", "scope", "station");
  const key = `first steps ${store.courseId}`;
  const [away, setAway] = useState(() => localStorage.getItem(key) !== null);
  const { marks, handIns } = progressByItem(state.progress);
  const steps = state.scope === null && !away ? firstSteps(plan, !marks.isEmpty() || !handIns.isEmpty()) : [];
  if (steps.length === 0) return null;
  const here = steps.find(({ station }) => station === state.station);
  const next = steps.find(({ isDone }) => !isDone);
  return (
    <section className={styles.first} aria-label="First steps">
      <ol>
        {steps.map(({ station, isDone }, at) => (
          <li
            key={station}
            aria-current={station === state.station ? "step" : undefined}
            data-done={isDone || undefined}
          >
            <a
              href={`/workbench/${store.courseId}/${station}`}
              onClick={(event) => {
                event.preventDefault();
                store.go(station);
              }}
            >
              {isDone ? <Check size={14} aria-hidden /> : <span aria-hidden="true">{at + 1}</span>}{" "}
              {stationName(station)}
              {isDone && <span className="visually-hidden">, done</span>}
            </a>
          </li>
        ))}
      </ol>
      <p>
        {here ? here.says : "What is drafted waits here: look at its effect on people, then publish."}
        {here?.isDone && next && ` Done; ${stationName(next.station)} comes next.`}
      </p>
      <Button
        quiet
        onPress={() => {
          localStorage.setItem(key, "away");
          setAway(true);
        }}
      >
        Hide these steps
      </Button>
    </section>
  );
}
