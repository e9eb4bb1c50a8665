import type { Anchor, Moment } from "../../../../core/plan/types.ts";
import { isAnchor } from "../../../../core/timing/anchors.ts";
import { DateTime } from "../../../kit/DateTime.tsx";
import { Choice } from "../../../kit/Fields.tsx";
import { NumberField } from "../../../kit/NumberField.tsx";
import base from "../../station.module.css";
import styles from "./items.module.css";

const plainAnchor: Anchor = { meeting: 1, edge: "start", days: 0, time: null, fallback: null };

interface MomentProps {
  label: string;
  value: Moment | null;
  onChange(value: Moment | null): void;
}

/** A moment on the clock, or a class meeting that each section turns into its own date. */
export function MomentField({ label, value, onChange }: MomentProps) {
  const anchored = isAnchor(value);
  return (
    <div className={styles.moment}>
      <Choice
        label={`${label}, given as`}
        hideLabel
        value={anchored ? "meeting" : "date"}
        onChange={(kind) => onChange(kind === "meeting" ? plainAnchor : anchored ? value.fallback : value)}
        options={[
          { value: "date", label: "a date" },
          { value: "meeting", label: "a class meeting" },
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
  const { meeting, edge, days } = value;
  return (
    <span className={styles.anchor}>
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
      <span className={base.soft}>of meeting</span>
      <NumberField
        label={`${label}: meeting`}
        value={typeof meeting === "number" ? meeting : 1}
        least={1}
        most={1000}
        onChange={(next) => set({ meeting: next })}
      />
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
