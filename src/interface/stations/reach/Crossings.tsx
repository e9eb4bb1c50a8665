import { useCallback, useMemo } from "react";
import { openFindings } from "../../../core/reach/audit/audit.ts";
import { kindWords } from "../../../core/reach/audit/finding.ts";
import { Button } from "../../kit/Button.tsx";
import { withTicks } from "../../kit/words.ts";
import { useFindings, useWorkbench } from "../../workbench/context.tsx";
import base from "../station.module.css";
import { CrossingGrid } from "./CrossingGrid.tsx";
import { ItemTools } from "./items/ItemTools.tsx";
import { useOutline, type useStranded } from "./useOutline.ts";
import { nothing, type ReachState } from "./useReachState.ts";

/** Of each item what is found of it, in a word. */
function useFlags() {
  const { findings } = useFindings();
  return useMemo(() => {
    const found = new Map<string, string>();
    for (const one of openFindings(findings))
      if (one.itemId && !one.asks && one.kind !== "sightline" && !found.has(one.itemId))
        found.set(one.itemId, kindWords[one.kind].name.toLowerCase());
    return found;
  }, [findings]);
}

interface CrossingsProps {
  reach: ReachState;
  stranded: ReturnType<typeof useStranded>;
  /** The item that the card shows, where another one is written. */
  shownItem: string | null;
}

export function Crossings({ reach, stranded, shownItem }: CrossingsProps) {
  const { plan } = useWorkbench();
  const { columns, show, folded, setFolded, selected, setSelected, written, at } = reach;
  const rows = useOutline(columns, show, folded, stranded);
  const flags = useFlags();
  const chosenItems = useMemo(
    () => [...selected].map((id) => plan.items[id]).filter((item) => item !== undefined),
    [selected, plan.items],
  );
  const select = useCallback(
    (itemIds: string[], isSelected: boolean) => setSelected((before) => withTicks(before, itemIds, isSelected)),
    [setSelected],
  );
  const fold = useCallback(
    (itemId: string, isFolded: boolean) => setFolded((before) => withTicks(before, [itemId], isFolded)),
    [setFolded],
  );
  if (Object.keys(plan.items).length === 0) return <EmptyOutline reach={reach} />;
  return (
    <>
      {chosenItems.length > 0 && <ItemTools items={chosenItems} clear={() => setSelected(nothing)} />}
      <CrossingGrid
        rows={rows}
        columns={columns}
        at={written && shownItem ? { itemId: shownItem, columnId: null } : at}
        setAt={reach.choose}
        selected={selected}
        select={select}
        folded={folded}
        fold={fold}
        stranded={stranded}
        flags={flags}
        inOrder={show === "all"}
        edit={reach.edit}
        open={reach.setColumnView}
      />
    </>
  );
}

function EmptyOutline({ reach: { setWritten, setDialog } }: { reach: ReachState }) {
  return (
    <div className={base.empty}>
      <h3>The outline is empty</h3>
      <p className={base.soft}>
        Make a folder for a group, and put in it what only they should see; or take an outline in from an archive. Every
        crossing of an item with a group then shows who can open what.
      </p>
      <div className={base.bar}>
        <Button strong onPress={() => setWritten({ itemId: null, parentId: null })}>
          New item
        </Button>
        <Button onPress={() => setDialog("cartridge")}>Take an outline in</Button>
      </div>
    </div>
  );
}
