import type { LayerCount } from "../../../core/placement/membership.ts";
import { sayNumber } from "../../../core/text/locale.ts";
import { Button, Toggle } from "../../kit/Button.tsx";
import { useWorkbench } from "../../workbench/context.tsx";
import { CoordinatorOnly } from "../../workbench/may.tsx";
import { type ViewOf, views } from "../../workbench/views.ts";
import base from "../station.module.css";
import { WriteTo } from "../WithPeople.tsx";
import styles from "./placement.module.css";
import type { Shown } from "./shown.ts";

export type View = ViewOf<"placement">;

interface FiguresProps {
  count: LayerCount;
  show(shown: Shown): void;
  view: View;
  setView(view: View): void;
  addGroup(): void;
  form(): void;
}
/** The numbers of a layer, each opening whom it counts; the views; what can be made. */
export function Figures({ count, show, view, setView, addGroup, form }: FiguresProps) {
  const { store } = useWorkbench();
  const { unplaced, inTwo, together, held, placed, groups, layer } = count;
  const isToPlace =
    layer.following === null && layer.rule === "exactly one" && unplaced.length > 0 && groups.length > 0;
  const small = groups.filter(({ group, personIds }) => group.min !== null && personIds.length < group.min).length;
  const full = groups.filter(({ group, personIds }) => group.max !== null && personIds.length > group.max).length;
  const wrongIf = (bad: boolean) => (bad ? base.wrong : "");
  return (
    <div className={base.figures}>
      <span>
        <strong>{sayNumber(placed)}</strong> placed
      </span>
      {layer.rule === "exactly one" && (
        <button
          type="button"
          className={`${base.plainButton} ${wrongIf(unplaced.length > 0)}`}
          onClick={() => show({ title: "Unplaced", personIds: unplaced })}
        >
          <strong>{sayNumber(unplaced.length)}</strong> unplaced
        </button>
      )}
      {inTwo.length > 0 && (
        <button
          type="button"
          className={`${base.plainButton} ${base.wrong}`}
          onClick={() => show({ title: "In two groups", personIds: inTwo })}
        >
          <strong>{sayNumber(inTwo.length)}</strong> in two
        </button>
      )}
      {held > 0 && (
        <span title="Moved by hand, and left there when the sections change">
          <strong>{sayNumber(held)}</strong> held
        </span>
      )}
      <span>
        <strong>{sayNumber(groups.length)}</strong> {groups.length === 1 ? "group" : "groups"}
      </span>
      {small > 0 && (
        <span className={base.wrong}>
          <strong>{small}</strong> too small
        </span>
      )}
      {full > 0 && (
        <span className={base.wrong}>
          <strong>{full}</strong> too full
        </span>
      )}
      {together.length > 0 && (
        <button
          type="button"
          className={`${base.plainButton} ${base.wrong}`}
          onClick={() =>
            show({
              title: "Kept apart, and together",
              personIds: together.flatMap(({ personIds }) => personIds),
            })
          }
        >
          <strong>{together.length}</strong> kept apart, and together
        </button>
      )}
      <span className={base.push}>
        <CoordinatorOnly>
          {" "}
          {isToPlace && (
            <Button
              quiet
              aria-label={`Place the ${unplaced.length} unplaced`}
              onPress={() => store.draft([{ kind: "layer.topUp", layerId: layer.id }])}
            >
              Place the {unplaced.length}
            </Button>
          )}
        </CoordinatorOnly>{" "}
        {layer.rule === "exactly one" && unplaced.length > 0 && (
          <WriteTo
            quiet
            unplacedIn={[layer.id]}
            says={isToPlace ? "Write to them" : `Write to the ${unplaced.length} unplaced`}
          />
        )}
        <span className={styles.views} role="group" aria-label="View">
          {views.placement.map(({ value: id, label: name }) => (
            <Toggle key={id} isSelected={view === id} onChange={() => setView(id)}>
              {name}
            </Toggle>
          ))}
        </span>{" "}
        <CoordinatorOnly>
          {" "}
          <Button quiet onPress={form}>
            Form groups
          </Button>
          <Button quiet onPress={addGroup}>
            New group
          </Button>
        </CoordinatorOnly>{" "}
      </span>
    </div>
  );
}
