/** What the grid's editing is told: its sheet, its columns, and the cell that is looked at. */
import type { Sheet } from "../../../../core/gradebook/sheet.ts";
import type { SavedView, ShownColumn } from "../../../../core/gradebook/view.ts";
import type { Marks } from "../useMarks.ts";
import type { Line } from "./lines.ts";

export interface At {
  personId: string;
  itemId: string;
}
export interface EditingProps {
  sheet: Sheet;
  columns: ShownColumn[];
  marks: Marks;
  view: SavedView;
  setView(view: SavedView): void;
  /** Opens a student's total. */
  showTotal(personId: string): void;
  /** Begins something with the chosen students, on the item of their column. */
  begin(what: WithChosen, personIds: string[], itemId: string): void;
  at: At | null;
  setAt(at: At): void;
}
/** What can be begun with chosen students at a key. */
export type WithChosen = "more time" | "message" | "look";
export interface Editing extends EditingProps {
  lines: Line[];
  /** The line of each student. */
  places: Map<string | number, number>;
  /** Brings a cell into sight and gives it the focus. */
  reveal(row: number, column: number): void;
  /** Gives the focus to the cell that is looked at. */
  focusCell(): void;
}
