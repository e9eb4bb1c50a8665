import { dayAfter } from "../../core/clock/local-time.ts";
import type { Anchor, Moment } from "../../core/plan/types.ts";
import { isAnchor } from "../../core/timing/anchors.ts";
import { DateTime, Day, TimeOfDay } from "../kit/DateTime.tsx";
import { Choice } from "../kit/Fields.tsx";
import { NumberField } from "../kit/NumberField.tsx";
import { useWorkbench } from "../workbench/context.tsx";
import base from "./station.module.css";

const plainAnchor: Anchor = { meeting: 1, edge: "start", days: 0, time: null, fallback: null };

interface MomentProps {
  label: string;
  value: Moment | null;
  onChange(value: Moment | null): void;
}

type Kind = "date" | "meeting" | "last";

/** A moment on the clock, or a class meeting that each section turns into its own date. */
export function MomentField({ label, value, onChange }: MomentProps) {
  const { plan } = useWorkbench();
  const anchored = isAnchor(value);
  const kind: Kind = !anchored ? "date" : typeof value.meeting === "number" ? "meeting" : "last";
  const choose = (next: Kind) => {
    if (next === "date") return onChange(anchored ? value.fallback : value);
    const from = anchored ? value : plainAnchor;
    const meeting = next === "meeting" ? 1 : { lastBefore: dayAfter(plan.course.termEnd, 1) };
    onChange({ ...from, meeting });
  };
  return (
    <div className={base.moment}>
      <Choice
        label={`${label}, given as`}
        hideLabel
        value={kind}
        onChange={choose}
        options={[
          { value: "date", label: "a date" },
          { value: "meeting", label: "a class meeting" },
          { value: "last", label: "the last meeting before a day" },
        ]}
      />
      {anchored ? (
        <AnchorField label={label} value={value} onChange={onChange} />
      ) : (
        <DateTime label={label} hideLabel value={value} onChange={onChange} isRequired />
      )}
    </div>
  );
}

function AnchorField({ label, value, onChange }: { label: string; value: Anchor; onChange(value: Anchor): void }) {
  const set = (changes: Partial<Anchor>) => onChange({ ...value, ...changes });
  const { meeting, edge, days, time } = value;
  return (
    <span className={base.anchor}>
      <NumberField
        label={`${label}: days away`}
        value={days}
        least={-365}
        most={365}
        onChange={(next) => set({ days: next })}
      />
      <span className={base.soft}>days after the</span>
      <Choice
        label={`${label}: start or end`}
        hideLabel
        value={edge}
        onChange={(next) => set({ edge: next })}
        options={[
          { value: "start", label: "start" },
          { value: "end", label: "end" },
        ]}
      />
      {typeof meeting === "number" ? (
        <>
          <span className={base.soft}>of meeting</span>
          <NumberField
            label={`${label}: meeting`}
            value={meeting}
            least={1}
            most={1000}
            onChange={(next) => set({ meeting: next })}
          />
        </>
      ) : (
        <>
          <span className={base.soft}>of the last one before</span>
          <Day
            label={`${label}: last before`}
            hideLabel
            value={meeting.lastBefore}
            onChange={(day) => day && set({ meeting: { lastBefore: day } })}
            isRequired
          />
        </>
      )}
      <span className={base.soft}>at</span>
      <TimeOfDay label={`${label}: time of day`} hideLabel value={time} onChange={(next) => set({ time: next })} />
      <span className={base.soft}>without such a meeting:</span>
      <DateTime
        label={`${label}: otherwise`}
        hideLabel
        value={value.fallback}
        onChange={(fallback) => set({ fallback })}
      />
    </span>
  );
}
