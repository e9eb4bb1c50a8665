/** Whether the filter asks for groups as they are, as they were at each hand-in, or on a day. */
import { wallOf } from "../../../../core/clock/local-time.ts";
import { type AsOf, asOfFilter, withAsOf } from "../../../../core/gradebook/as-of.ts";
import type { Filter } from "../../../../core/gradebook/filter.ts";
import { DateTime } from "../../../kit/DateTime.tsx";
import { Views } from "../../../kit/Views.tsx";
import { useWorkbench } from "../../../workbench/context.tsx";
import styles from "./filters.module.css";

type How = "now" | "handin" | "day";
const options: { value: How; label: string }[] = [
  { value: "now", label: "as they are" },
  { value: "handin", label: "as at each hand-in" },
  { value: "day", label: "as on a day" },
];

interface AsOfProps {
  /** The last good filter. */
  filter: Filter;
  setText(text: string): void;
}

export function AsOfChoice({ filter, setText }: AsOfProps) {
  const { plan, t } = useWorkbench();
  const asOf = asOfFilter(filter);
  const choose = (next: AsOf) => setText(withAsOf(filter, next));
  const now = wallOf(t, plan.course.timeZone);
  return (
    <div className={styles.asOf}>
      <span>Groups</span>
      <Views
        label="Groups of the filter"
        value={typeof asOf === "object" ? "day" : asOf}
        onChange={(how) => choose(how === "day" ? { day: now.slice(0, 10) } : how)}
        options={options}
      />
      {typeof asOf === "object" && (
        <DateTime
          label="On"
          value={asOf.day.includes("T") ? asOf.day : `${asOf.day}T23:59`}
          onChange={(at) => at && choose({ day: at })}
          isRequired
        />
      )}
    </div>
  );
}
