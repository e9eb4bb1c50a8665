import { lookup } from "../../../../core/plan/lookup.ts";
import type { Between, Item } from "../../../../core/plan/types.ts";
import { Choice } from "../../../kit/Fields.tsx";
import { useWorkbench } from "../../../workbench/context.tsx";
import base from "../../station.module.css";
import styles from "./items.module.css";

export const betweenWords: { value: Between; label: string }[] = [
  { value: "sealed", label: "sealed: own thread only" },
  { value: "readable", label: "readable: others' can be read" },
  { value: "shared", label: "shared: others' can be answered" },
];

interface SplitProps {
  /** What each group has of its own. */
  each?: "thread" | "hand-in" | "thread or hand-in";
  split: Item["split"];
  onChange(split: Item["split"]): void;
}

/** Whether an item is not split, or has a thread (or hand-in) for each group of a layer, and what lies between the groups. */
export function SplitField({ each = "thread or hand-in", split, onChange }: SplitProps) {
  const { plan } = useWorkbench();
  const fixed = plan.course.splitting;
  const layers = lookup(plan).layers.filter((layer) => !layer.private);
  const choose = (layerId: string) => {
    if (layerId === "none") return onChange(null);
    onChange({ layerId, between: split?.between ?? fixed?.between ?? "sealed" });
  };
  const options = layers
    .filter(({ id }) => !fixed?.locked || id === fixed.layerId)
    .map(({ id, name }) => ({ value: id, label: `${name}: a ${each} each` }));
  return (
    <div className={styles.pair}>
      <Choice
        label="Split"
        value={split?.layerId ?? "none"}
        onChange={choose}
        options={[{ value: "none", label: each === "hand-in" ? "not split: each alone" : "not split" }, ...options]}
      />
      {split && (
        <Choice
          label="Between groups"
          value={split.between}
          onChange={(between) => onChange({ ...split, between })}
          options={betweenWords.filter(({ value }) => !fixed?.locked || value === fixed.between)}
        />
      )}
      {fixed?.locked && <p className={base.soft}>How items are split is locked for the course.</p>}
    </div>
  );
}
