import { lookup } from "../../../core/plan/lookup.ts";
import { Button } from "../../kit/Button.tsx";
import { Choice } from "../../kit/Fields.tsx";
import { useFindings, useWorkbench } from "../../workbench/context.tsx";
import { CoordinatorOnly } from "../../workbench/may.tsx";
import { CrossingMark } from "./CrossingMark.tsx";
import type { Crossing } from "./crossings.ts";
import styles from "./reach.module.css";
import type { Show } from "./useOutline.ts";
import { nothing, type ReachState } from "./useReachState.ts";

const shows: { value: Show; label: string }[] = [
  { value: "all", label: "every item" },
  { value: "differs", label: "only what differs" },
  { value: "week", label: "only what changes this week" },
  { value: "problems", label: "only problems" },
];

/** Whose columns stand there, and how much of the outline. */
export function ReachBar({ reach }: { reach: ReachState }) {
  const { plan } = useWorkbench();
  const audit = useFindings();
  const { layers } = lookup(plan);
  const { view, shown, setColumnView } = reach;
  const isLattice = view === "lattice";
  const layerOfColumns = shown?.kind === "layer" ? shown.layerId : null;
  const layerId = isLattice ? (audit.sightlines?.layerId ?? null) : layerOfColumns;
  const hasSections = !isLattice && Object.keys(plan.sections).length > 0;
  return (
    <div className={styles.bar}>
      <Choice
        label={isLattice ? "Groups of" : "Columns"}
        hideLabel
        value={layerId ?? (shown?.kind === "sections" ? "sections" : null)}
        placeholder={shown?.kind === "students" ? `Students of ${shown.name}` : "Columns"}
        onChange={(value) => {
          if (isLattice) audit.setLayerId(value);
          else setColumnView(value === "sections" ? { kind: "sections" } : { kind: "layer", layerId: value });
        }}
        options={[
          ...layers.filter((layer) => !isLattice || !layer.private).map(({ id, name }) => ({ value: id, label: name })),
          ...(hasSections ? [{ value: "sections", label: "Registrar's sections" }] : []),
        ]}
      />
      {!isLattice && <OutlineBar reach={reach} />}
    </div>
  );
}

function OutlineBar({ reach }: { reach: ReachState }) {
  const { plan } = useWorkbench();
  const { shown, setColumnView, show, setShow, folded, setFolded, setDialog } = reach;
  const folders = Object.values(plan.items).filter(({ kind }) => kind === "folder");
  const isWithin =
    shown !== null &&
    (shown.block !== undefined || shown.kind === "students" || (shown.kind === "layer" && shown.scopeId !== undefined));
  const allColumns = () => setColumnView(shown?.kind === "layer" ? { kind: "layer", layerId: shown.layerId } : null);
  return (
    <>
      <Choice label="Show" hideLabel value={show} onChange={setShow} options={shows} />
      {isWithin && (
        <Button quiet onPress={allColumns}>
          All columns again
        </Button>
      )}
      {folders.length > 0 && show === "all" && (
        <Button quiet onPress={() => setFolded(folded.size > 0 ? nothing : new Set(folders.map(({ id }) => id)))}>
          {folded.size > 0 ? "Unfold all" : "Fold all"}
        </Button>
      )}
      <CoordinatorOnly>
        <Button quiet aria-label="Outline in and out" onPress={() => setDialog("cartridge")}>
          In and out
        </Button>
      </CoordinatorOnly>
      <Legend />
    </>
  );
}

function Legend() {
  const kinds: [Crossing["kind"], string][] = [
    ["open", "open"],
    ["partly", "later, or for some"],
    ["hidden", "hidden"],
    ["problem", "leak or stranded"],
  ];
  return (
    <div className={styles.legend} aria-hidden="true">
      {kinds.map(([kind, word]) => (
        <span key={kind}>
          <CrossingMark
            crossing={{ kind, members: 1, open: 0, later: 0, leaks: 0, stranded: 0 }}
            colour="var(--ink-soft)"
          />
          {word}
        </span>
      ))}
    </div>
  );
}
