import { type ReactNode, useMemo, useState } from "react";
import type { LayerCount } from "../../../core/placement/membership.ts";
import { lookup } from "../../../core/plan/lookup.ts";
import type { Layer } from "../../../core/plan/types.ts";
import { Chip } from "../../kit/Chip.tsx";
import { Choice } from "../../kit/Fields.tsx";
import { useWorkbench } from "../../workbench/context.tsx";
import { FlowStrip } from "./FlowStrip.tsx";
import styles from "./placement.module.css";
import type { Shown } from "./shown.ts";

interface FlowProps {
  count: LayerCount;
  counts: LayerCount[];
  show(shown: Shown): void;
  /** The list beside the strip. */
  children: ReactNode;
}

/** The strip of who goes where, with the layers that it runs on into, and a list beside it. */
export function Flow({ count, counts, show, children }: FlowProps) {
  const { layer } = count;
  const [ids, setIds] = useState<string[]>([]);
  const further = useMemo(
    () => ids.flatMap((id) => (id === layer.id ? [] : (counts.find((one) => one.layer.id === id) ?? []))),
    [ids, counts, layer.id],
  );
  return (
    <div className={styles.halves} data-wide={further.length > 0 || undefined}>
      <div className={styles.stripSide}>
        <OnInto layer={layer} further={ids} setFurther={setIds} />
        <FlowStrip count={count} further={further} show={show} />
      </div>
      {children}
    </div>
  );
}

/** Further layers for the threads to run on into: three are as many as can be read. */
function OnInto(props: { layer: Layer; further: string[]; setFurther(ids: string[]): void }) {
  const { layer, further, setFurther } = props;
  const { plan } = useWorkbench();
  const others = lookup(plan).layers.filter(({ id }) => id !== layer.id && !further.includes(id));
  return (
    <div className={styles.onInto}>
      {further.map((id) => {
        const name = plan.layers[id]?.name ?? "";
        return (
          <Chip key={id} name={`on into ${name}`} onLeaveOut={() => setFurther(further.filter((one) => one !== id))} />
        );
      })}
      {further.length < 2 && others.length > 0 && (
        <Choice
          label="On into"
          hideLabel
          placeholder="On into another layer"
          value={null}
          options={others.map(({ id, name }) => ({ value: id, label: name }))}
          onChange={(id) => setFurther([...further, id])}
        />
      )}
    </div>
  );
}
