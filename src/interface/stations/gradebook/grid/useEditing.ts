/** What is chosen in the grid and typed into it: keys as a spreadsheet has them, ranges, filling, the clipboard. */
import { type ClipboardEvent, useCallback, useState } from "react";
import type { JudgedMark } from "../../../../core/gradebook/entry.ts";
import { blockOf } from "./block.ts";
import type { Editing } from "./editing.ts";
import { createKeys } from "./keys.ts";
import { shapingOf } from "./shaping.ts";
import { useRange } from "./useRange.ts";
import { useTyping } from "./useTyping.ts";

export function useEditing(editing: Editing) {
  const { sheet, columns, marks, at, setAt } = editing;
  const range = useRange(editing);
  const [pasted, setPasted] = useState<JudgedMark[] | null>(null);
  const typing = useTyping(editing, setPasted);
  const block = blockOf({ sheet, columns, marks, lines: editing.lines, at, range, look: setPasted });
  const shaping = shapingOf(editing);
  const { setAnchor } = range;
  const choose = useCallback(
    (personId: string, itemId: string, extend: boolean) => {
      setAnchor((before) => (extend ? (before ?? at) : null));
      setAt({ personId, itemId });
    },
    [at, setAt, setAnchor],
  );
  return {
    row: range.row,
    column: range.column,
    /** Null where one cell is chosen, or none. */
    range: range.isRange ? range.of : null,
    typed: typing.typed,
    setTyped: typing.setTyped,
    wrong: typing.wrong,
    choose,
    left: typing.left,
    key: createKeys({ editing, range, typing, block, ...shaping }),
    copy: (event: ClipboardEvent) => typing.typed === null && block.copy(event),
    paste: (event: ClipboardEvent) => typing.typed === null && block.paste(event),
    pasted,
    putAway: () => setPasted(null),
    ...shaping,
  };
}
