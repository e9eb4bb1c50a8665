import { Fragment } from "react";
import { Dialog } from "../kit/Dialog.tsx";
import { useParts } from "./context.tsx";
import styles from "./dialogs.module.css";
import { glossary } from "./glossary.ts";
import { LineForms } from "./LinesDialog.tsx";
import { stationName } from "./names.ts";
import { type Station, stations } from "./state.ts";

const everywhere = [
  ["Ctrl K", "Find any student, group, item or action; or type a change, as below"],
  ["Alt 1 to Alt 5", "Intake, Placement, Reach, Timing, Gradebook"],
  ["Alt 6", "Review of the draft"],
  ["Ctrl Z", "Undo the last drafted change"],
  ["Ctrl Shift Z", "Redo"],
  ["Arrow keys", "Move over crossings, dates and gradebook cells, from view to view; move the marker of the time rail"],
  ["Enter", "Put the selected people into the group that is reached; open what is selected; keep a typed mark"],
  ["Escape", "Close, or put back what was typed"],
  ["?", "This list"],
] as const;
const atStations: Record<Station, readonly (readonly [string, string])[]> = {
  intake: [],
  placement: [["Space, Shift arrows", "Select people on the board; left and right lead from group to group"]],
  reach: [
    ["Alt arrows", "Move an item up, down, into the folder above, or out of its folder"],
    ["Left, Right, Space", "On an item's title: fold and unfold its folder, select it"],
  ],
  timing: [
    ["o, d, c, then arrows", "On a bar of the spans: take its opens, due or closes; Alt by meetings, Shift by days"],
    ["Space, m", "On a bar of the spans: select it, move what is selected"],
    ["+ and -, Shift arrows", "On the spans: nearer and farther, to and fro"],
    ["Ctrl D, Ctrl V", "On a date: take what stands above; paste a block from here on"],
  ],
  gradebook: [
    ["t", "On a cell: open the student's total"],
    ["m, w, l", "On cells: more time for these students, write to them, look through the eyes of the first"],
    ["Ctrl Enter, Alt arrows", "While marking: store and go on; go on or back without storing"],
    ["1 to 9", "Pinned filters"],
  ],
  review: [],
};

/** The keys of where one is first, then those of everywhere, then those of the other stations. */
export function Shortcuts({ onClose }: { onClose(): void }) {
  const { station, scope } = useParts("station", "scope");
  const others = stations.filter((one) => one !== station && atStations[one].length > 0);
  return (
    <Dialog title="Shortcuts" onClose={onClose}>
      {atStations[station].length > 0 && (
        <>
          <h3>{stationName(station, scope === null)}</h3>
          <Pairs pairs={atStations[station]} />
          <h3>Everywhere</h3>
        </>
      )}
      <Pairs pairs={everywhere} />
      {others.map((one) => (
        <Fragment key={one}>
          <h3>{stationName(one, scope === null)}</h3>
          <Pairs pairs={atStations[one]} />
        </Fragment>
      ))}
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
