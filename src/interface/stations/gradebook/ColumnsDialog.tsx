import { ArrowDown, ArrowUp } from "lucide-react";
import { useState } from "react";
import { type Bands, inOrder, movedBefore, type SavedView, usualView } from "../../../core/gradebook/view.ts";
import type { Item } from "../../../core/plan/types.ts";
import { Button } from "../../kit/Button.tsx";
import { Actions, Dialog } from "../../kit/Dialog.tsx";
import { Checkbox, Choice, TextField } from "../../kit/Fields.tsx";
import base from "../station.module.css";
import styles from "./gradebook.module.css";

interface ColumnsProps {
  columns: Item[];
  view: SavedView;
  setView(view: SavedView): void;
  onClose(): void;
}

const bands: { value: Bands; label: string }[] = [
  { value: "none", label: "one after another" },
  { value: "category", label: "by category" },
  { value: "folder", label: "by folder" },
];

/** Which columns are shown, in which order, and what stands together. */
export function ColumnsDialog({ columns, view, setView, onClose }: ColumnsProps) {
  const [find, setFind] = useState("");
  const ordered = inOrder(columns, view.order);
  const shown = ordered.filter(({ title }) => title.toLowerCase().includes(find.trim().toLowerCase()));
  const hidden = new Set(view.hidden);
  const show = (ids: string[], isShown: boolean) => {
    const others = view.hidden.filter((id) => !ids.includes(id));
    setView({ ...view, hidden: isShown ? others : [...others, ...ids] });
  };
  const move = (at: number, to: number) => {
    const [item, before] = [ordered[at], ordered[to > at ? to + 1 : to]];
    if (item) setView({ ...view, order: movedBefore(columns, view.order, item.id, before?.id ?? null) });
  };
  const ids = shown.map(({ id }) => id);
  return (
    <Dialog title="Columns" onClose={onClose} wide>
      <div className={base.bar}>
        <TextField label="Find a column" hideLabel placeholder="Find a column" value={find} onChange={setFind} />
        <Choice
          label="Stand"
          hideLabel
          value={view.bands}
          onChange={(value) => setView({ ...view, bands: value })}
          options={bands}
        />
        <Button quiet onPress={() => show(ids, true)}>
          Show {find.trim() ? "these" : "all"}
        </Button>
        <Button quiet onPress={() => show(ids, false)}>
          Hide {find.trim() ? "these" : "all"}
        </Button>
        <Button quiet onPress={() => setView({ ...usualView, groupBy: view.groupBy })}>
          As the outline has them
        </Button>
      </div>
      <ul className={styles.columnChoice} aria-label="Columns">
        {shown.map((item) => {
          const at = ordered.indexOf(item);
          return (
            <li key={item.id}>
              <Checkbox isSelected={!hidden.has(item.id)} onChange={(isShown) => show([item.id], isShown)}>
                {item.title}
              </Checkbox>
              <Button
                quiet
                aria-label={`${item.title} before the one before it`}
                isDisabled={at === 0}
                onPress={() => move(at, at - 1)}
              >
                <ArrowUp size={14} aria-hidden />
              </Button>
              <Button
                quiet
                aria-label={`${item.title} after the one after it`}
                isDisabled={at === ordered.length - 1}
                onPress={() => move(at, at + 1)}
              >
                <ArrowDown size={14} aria-hidden />
              </Button>
            </li>
          );
        })}
      </ul>
      <p className={base.soft}>
        In the grid a title is dragged to its place and drawn wider at its edge; Alt with an arrow key moves the column,
        Alt and Shift with an arrow key widens it.
      </p>
      <Actions>
        <Button strong onPress={onClose}>
          Done
        </Button>
      </Actions>
    </Dialog>
  );
}
