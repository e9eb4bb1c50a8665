/** How the course separates what is split: along which layer, and whether an item may be split otherwise. */
import { lookup } from "../../core/plan/lookup.ts";
import type { Course, Layer } from "../../core/plan/types.ts";
import { Views } from "../kit/Views.tsx";
import { useWorkbench } from "../workbench/context.tsx";
import placement from "./placement/placement.module.css";

type Splitting = NonNullable<Course["splitting"]>;

/** What holds now, and a draft of something else; null: each item says itself. */
export function useSplitting() {
  const { store, plan } = useWorkbench();
  const { splitting } = plan.course;
  const layers = lookup(plan).layers.filter((layer) => !layer.private);
  return {
    splitting,
    layers,
    setSplitting(changes: Partial<Splitting> | null) {
      const now = splitting ?? { layerId: layers[0]?.id ?? "", between: "sealed" as const, locked: false };
      store.draft([{ kind: "course.splitting", splitting: changes === null ? null : { ...now, ...changes } }]);
    },
  };
}

/** On a layer's card: whether the course's split items have a thread for each of its groups. */
export function LayerSplitting({ layer }: { layer: Layer }) {
  const { splitting, setSplitting } = useSplitting();
  const isHere = splitting?.layerId === layer.id;
  return (
    <>
      <h4 className={placement.whyHead}>Split discussions and hand-ins</h4>
      <Views
        label="Split discussions and hand-ins"
        value={!isHere ? "own" : splitting.locked ? "locked" : "usual"}
        onChange={(how) => setSplitting(how === "own" ? null : { layerId: layer.id, locked: how === "locked" })}
        options={[
          { value: "own", label: splitting && !isHere ? "by other groups" : "as each says" },
          { value: "usual", label: "by these groups" },
          { value: "locked", label: "locked" },
        ]}
      />
    </>
  );
}
