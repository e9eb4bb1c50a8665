/** What is being typed into a cell of the grid. */
import { useCallback, useRef, useState } from "react";
import { exceeds, type JudgedMark, judgeMark, readMark } from "../../../../core/gradebook/entry.ts";
import type { Editing } from "./editing.ts";

/** What is being typed into the cell that is looked at. */
export function useTyping({ sheet, marks, at }: Editing, look: (judged: JudgedMark[]) => void) {
  const [typed, setTyped] = useState<string | null>(null);
  const [wrong, setWrong] = useState<string | null>(null);
  const forget = () => {
    setTyped(null);
    setWrong(null);
  };
  /** Keeps it: a number, x for excused, nothing to take the mark away. Gives whether it could be. */
  const keep = (): boolean => {
    if (typed === null || !at) return true;
    const item = sheet.reach.plan.items[at.itemId];
    const read = readMark(typed, { possible: item?.points ?? null, isTyped: true });
    if (read && "wrong" in read) {
      setWrong(read.wrong);
      return false;
    }
    forget();
    if (item && read && exceeds(item, read.mark)) {
      // Looked at first, as what is pasted is.
      look([judgeMark(sheet, item, at.personId, typed, { where: "typed" })]);
      return false;
    }
    void marks.give([{ ...at, mark: read ? read.mark : null }]);
    return true;
  };
  const leave = useRef(() => {});
  leave.current = () => {
    if (!keep()) setTyped(null);
  };
  const left = useCallback(() => leave.current(), []);
  return { typed, setTyped, wrong, keep, forget, left };
}
export type Typing = ReturnType<typeof useTyping>;
