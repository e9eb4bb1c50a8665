import { Dialog } from "../kit/Dialog.tsx";
import styles from "./frame.module.css";
import { glossary } from "./glossary.ts";
import { LineForms } from "./LinesDialog.tsx";

const shortcuts = [
  ["Ctrl K", "Find any student, group, item or action; or type a change, as below"],
  ["Alt 1 to Alt 5", "Intake, Placement, Reach, Timing, Gradebook"],
  ["Alt 6", "Review of the draft"],
  ["Ctrl Z", "Undo the last drafted change"],
  ["Ctrl Shift Z", "Redo"],
  ["Arrow keys", "Move over crossings, dates and gradebook cells; move the marker of the time rail"],
  ["Alt arrows", "On Reach, move an item up, down, into the folder above, or out of its folder"],
  ["Left, Right, Space", "On an item's title: fold and unfold its folder, select it"],
  ["Space, Shift arrows", "Select people on the board; left and right lead from group to group"],
  ["o, d, c, then arrows", "On a bar of the spans: take its opens, due or closes; Alt by meetings, Shift by days"],
  ["Space, m", "On a bar of the spans: select it, move what is selected"],
  ["+ and -, Shift arrows", "On the spans: nearer and farther, to and fro"],
  ["Ctrl D, Ctrl V", "On a date: take what stands above; paste a block from here on"],
  ["t", "On a gradebook cell: open the student's total"],
  ["m, w, l", "On gradebook cells: more time for these students, write to them, look through the eyes of the first"],
  ["Enter", "Put the selected people into the group that is reached; open what is selected; keep a typed mark"],
  ["Escape", "Close, or put back what was typed"],
  ["1 to 9", "Pinned filters, in the gradebook"],
  ["?", "This list"],
] as const;

export function Shortcuts({ onClose }: { onClose(): void }) {
  return (
    <Dialog title="Shortcuts" onClose={onClose}>
      <Pairs pairs={shortcuts} />
      <h3>What can be typed after Ctrl K</h3>
      <LineForms />
      <h3>Words</h3>
      <Pairs pairs={glossary} />
    </Dialog>
  );
}

const Pairs = ({ pairs }: { pairs: readonly (readonly [string, string])[] }) => (
  <dl className={styles.shortcuts}>
    {pairs.map(([term, says]) => (
      <div key={term}>
        <dt>{term}</dt>
        <dd>{says}</dd>
      </div>
    ))}
  </dl>
);
