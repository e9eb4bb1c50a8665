/** What is done with the chosen cells of the grid at once: emptied, filled down, copied, pasted over. */
import type { ClipboardEvent } from "react";
import { type JudgedMark, judgeBlock, readBlock, sayMark } from "../../../../core/gradebook/entry.ts";
import type { NewMark } from "../useMarks.ts";
import type { Editing } from "./editing.ts";
import type { Range } from "./useRange.ts";

interface Around extends Pick<Editing, "sheet" | "columns" | "marks" | "lines" | "at"> {
  range: Range;
  /** Shows marks to be looked at before they are given. */
  look(judged: JudgedMark[]): void;
}

export function blockOf({ sheet, columns, marks, lines, at, range, look }: Around) {
  const { left, right } = range.of;
  const shown = () => columns.slice(left, right + 1).map(({ item }) => item);
  const everyCell = (mark: (personId: string, itemId: string) => NewMark["mark"] | undefined): NewMark[] =>
    range.students().flatMap((personId) =>
      shown().flatMap((item): NewMark[] => {
        if (sheet.cell(item, personId)?.state === "not theirs") return [];
        const given = mark(personId, item.id);
        return given === undefined ? [] : [{ personId, itemId: item.id, mark: given }];
      }),
    );
  /** The mark of a cell as whoever typed it knows it: one that is on its way counts. */
  const markOf = (itemId: string, personId: string): NewMark["mark"] => {
    const sent = marks.underway(personId, itemId);
    if (sent !== undefined) return sent;
    const item = sheet.reach.plan.items[itemId];
    const mark = item && sheet.cell(item, personId)?.mark;
    return mark ? { points: mark.points, excused: mark.excused } : null;
  };
  return {
    markOf,
    empty: () => void marks.give(range.isRange ? everyCell(() => null) : at ? [{ ...at, mark: null }] : []),
    fillDown() {
      const [first, ...others] = range.students();
      if (!first || others.length === 0) return;
      const theirs = new Set(others);
      void marks.give(everyCell((personId, itemId) => (theirs.has(personId) ? markOf(itemId, first) : undefined)));
    },
    copy(event: ClipboardEvent) {
      if (!at) return;
      event.preventDefault();
      const text = (range.isRange ? range.students() : [at.personId]).map((personId) =>
        shown()
          .map((item) => sayMark(markOf(item.id, personId)))
          .join("\t"),
      );
      event.clipboardData.setData("text/plain", text.join("\n"));
    },
    /** One value fills the range; a block goes down and right from its first cell. */
    paste(event: ClipboardEvent) {
      if (!at) return;
      event.preventDefault();
      const block = readBlock(event.clipboardData.getData("text/plain"));
      const students = lines.flatMap((line) => (line.kind === "student" ? [line.personId] : []));
      const [one] = block[0] ?? [];
      const fills = range.isRange && block.length === 1 && block[0]?.length === 1;
      const whole = fills ? range.students().map(() => shown().map(() => one as string)) : block;
      const top = range.isRange ? (range.students()[0] as string) : at.personId;
      const from = { row: students.indexOf(top), column: range.isRange ? left : range.column };
      const all = columns.map(({ item }) => item);
      look(judgeBlock(sheet, whole, students, all, from));
    },
  };
}
export type Block = ReturnType<typeof blockOf>;
