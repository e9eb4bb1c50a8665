import { type ReactNode, useMemo, useState } from "react";
import type { Group, Item, Layer } from "../../../../core/plan/types.ts";
import type { DateTable } from "../../../../core/timing/resolving/table.ts";
import { Button } from "../../../kit/Button.tsx";
import { TextField } from "../../../kit/Fields.tsx";
import { Views } from "../../../kit/Views.tsx";
import { holdsWords, plural } from "../../../kit/words.ts";
import { useWorkbench, Why } from "../../../workbench/context.tsx";
import base from "../../station.module.css";
import { DatesWhy } from "../dates/DatesWhy.tsx";
import styles from "../timing.module.css";
import { MoveDialog } from "./MoveDialog.tsx";
import { rowsOf } from "./model.ts";
import { type Scale, SpansCanvas } from "./SpansCanvas.tsx";
import { barsOf } from "./walking.ts";

interface SpansProps {
  table: DateTable;
  items: Item[];
  layer: Layer | undefined;
  groups: Group[];
  layerChoice: ReactNode;
  showItem(itemId: string): void;
}

/** A row a group, a bar from opens to due to closes an item; edges dragged, bars moved, unequal time marked. */
export function SpansView({ table, items, layer, groups, layerChoice, showItem }: SpansProps) {
  const { plan } = useWorkbench();
  const [text, setText] = useState("");
  const [scale, setScale] = useState<{ kind: Scale; round: number }>({ kind: "term", round: 0 });
  const [selected, setSelected] = useState<ReadonlySet<string>>(new Set());
  const [focused, setFocused] = useState<string | null>(null);
  const [moving, setMoving] = useState(false);
  const shown = useMemo(() => {
    const fits = holdsWords(text);
    return items.filter(({ title }) => fits(title));
  }, [items, text]);
  const rows = useMemo(() => rowsOf(table, groups, shown), [table, groups, shown]);
  const bars = useMemo(() => barsOf(rows, selected), [rows, selected]);
  const item = plan.items[focused?.split("/")[0] ?? ""];
  const all = rows.flatMap((row) => row.bars);
  const short = all.filter((bar) => bar.short).length;
  const wrong = all.filter((bar) => bar.wrong).length;
  const clashing = all.filter((bar) => bar.clashes).length;
  return (
    <>
      <div className={base.bar}>
        <Views
          label="Scale"
          value={scale.kind}
          onChange={(kind) => setScale({ kind, round: scale.round + 1 })}
          options={[
            { value: "term", label: "Term" },
            { value: "month", label: "Month" },
            { value: "week", label: "Week" },
          ]}
        />
        <div className={styles.find}>
          <TextField label="Items shown" hideLabel placeholder="Items by title" value={text} onChange={setText} />
        </div>
        <span className={base.figures}>
          <span>
            <strong>{all.length}</strong> {all.length === 1 ? "bar" : "bars"}
          </span>
          {short > 0 && (
            <span className={base.wrong}>
              <strong>{short}</strong> with much less time
            </span>
          )}
          {clashing > 0 && (
            <span>
              <strong>{clashing}</strong> on a day with another due
            </span>
          )}
          {wrong > 0 && (
            <span className={base.wrong}>
              <strong>{wrong}</strong> out of order
            </span>
          )}
        </span>
        <span className={base.push} />
        {layerChoice}
        {bars.length > 0 && <span aria-live="polite">{plural(bars.length, "bar")} selected</span>}
        <Button isDisabled={item === undefined} onPress={() => item && setSelected(sameItem(rows, item))}>
          This item in every group
        </Button>
        <Button strong isDisabled={bars.length === 0} onPress={() => setMoving(true)}>
          Move them
        </Button>
      </div>
      {groups.length === 0 ? (
        <p className={base.soft}>This layer has no groups: make some on Placement, or choose another layer.</p>
      ) : (
        <SpansCanvas
          rows={rows}
          isPrivate={layer?.private ?? false}
          scale={scale}
          selected={selected}
          select={setSelected}
          focused={focused}
          focus={setFocused}
          itemId={item?.id ?? null}
          open={showItem}
          move={() => setMoving(true)}
        />
      )}
      {moving && bars.length > 0 && <MoveDialog bars={bars} onClose={() => setMoving(false)} />}
      <Why>
        {item ? (
          <DatesWhy key={item.id} table={table} item={item} findings={[]} />
        ) : (
          <section>
            <h3 className={base.whyTitle}>Spans</h3>
            <p>
              Drag an edge to give that group its own date: it snaps to class meetings, otherwise to hours. Drag a bar
              to move it by days; hold Ctrl or Shift to select several.
            </p>
            <p className={base.soft}>
              A dark stroke is the due, the thin line after it runs to the close. A ring is a due on the same day as
              another. A broken outline is much less working time than another group has.
            </p>
          </section>
        )}
      </Why>
    </>
  );
}

const sameItem = (rows: ReturnType<typeof rowsOf>, { id }: Item): ReadonlySet<string> =>
  new Set(rows.flatMap(({ bars }) => bars.filter(({ item }) => item.id === id).map(({ key }) => key)));
