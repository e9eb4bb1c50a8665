import { lookup } from "../../core/plan/lookup.ts";
import type { Layer } from "../../core/plan/types.ts";
import { Choice } from "../kit/Fields.tsx";
import { useWorkbench } from "./context.tsx";
import styles from "./frame.module.css";

/** Which layer's groups a station shows. */
export function LayerChoice({ layer, choose }: { layer: Layer | undefined; choose(layerId: string): void }) {
  const { layers } = lookup(useWorkbench().plan);
  if (layers.length === 0) return null;
  const options = layers.map(({ id, name }) => ({ value: id, label: name }));
  return (
    <div className={styles.layerChoice}>
      <Choice label="Groups of" hideLabel value={layer?.id ?? null} onChange={choose} options={options} />
    </div>
  );
}
