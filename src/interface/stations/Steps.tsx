import type { Explanation } from "../../core/reach/explain.ts";
import base from "./station.module.css";

/** What decides whether somebody can open an item, step by step; what fails is marked. */
export const Steps = ({ steps }: Pick<Explanation, "steps">) => (
  <ul className={base.steps}>
    {steps.map(({ holds, says }) => (
      <li key={says} data-fails={!holds || undefined}>
        {says}
      </li>
    ))}
  </ul>
);
