import { lookup } from "../../core/plan/lookup.ts";
import type { Layer } from "../../core/plan/types.ts";
import { Choice } from "../kit/Fields.tsx";
import { useWorkbench } from "./context.tsx";
import styles from "./layerchoice.module.css";

interface LayerChoiceProps {
  layer: Layer | undefined;
  choose(layerId: string): void;
  /** What the list is called where the layer that is shown stands elsewhere. */
  says?: string;
}

/** Which layer's groups a station shows. */
export function LayerChoice({ layer, choose, says }: LayerChoiceProps) {
  const { layers } = lookup(useWorkbench().plan);
  if (layers.length === 0) return null;
  const options = layers.map(({ id, name }) => ({ value: id, label: name }));
  return (
    <div className={styles.layerChoice}>
      <Choice
        label={says ?? "Groups of"}
        hideLabel
        value={says ? null : (layer?.id ?? null)}
        placeholder={says}
        onChange={choose}
        options={options}
      />
    </div>
  );
}
