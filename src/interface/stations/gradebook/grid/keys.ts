/** What each key does in the grid: the first of these that fits. */
import type { KeyboardEvent } from "react";
import { sayMark } from "../../../../core/gradebook/entry.ts";
import type { ShownColumn } from "../../../../core/gradebook/view.ts";
import type { Block } from "./block.ts";
import type { At, Editing, WithChosen } from "./editing.ts";
import type { Shaping } from "./shaping.ts";
import type { Range } from "./useRange.ts";
import type { Typing } from "./useTyping.ts";

interface Around extends Shaping {
  editing: Editing;
  range: Range;
  typing: Typing;
  block: Block;
}

const steps: Record<string, [number, number]> = {
  ArrowUp: [-1, 0],
  ArrowDown: [1, 0],
  ArrowLeft: [0, -1],
  ArrowRight: [0, 1],
  PageDown: [15, 0],
  PageUp: [-15, 0],
};

/** A key with what it does; it does nothing else then. */
interface Key {
  fits(event: KeyboardEvent): boolean;
  does(event: KeyboardEvent): void;
}

const isCommand = ({ ctrlKey, metaKey }: KeyboardEvent) => ctrlKey || metaKey;
const plain =
  (...names: string[]) =>
  (event: KeyboardEvent) =>
    !isCommand(event) && names.includes(event.key);

export function createKeys(around: Around): (event: KeyboardEvent) => void {
  const { at } = around.editing;
  const { column } = around.range;
  return (event) => {
    if (!at || column < 0) return;
    if (around.typing.typed !== null) return whileTyping(around, event);
    const key = [...columnKeys(around), ...moveKeys(around), ...markKeys(around, at)].find(({ fits }) => fits(event));
    if (!key) return;
    event.preventDefault();
    event.stopPropagation();
    key.does(event);
  };
}

/** Keeps what was typed, and goes on from there; Escape puts it away. */
function whileTyping({ typing, range, editing }: Around, event: KeyboardEvent): void {
  if (event.key === "Escape") {
    typing.forget();
    editing.focusCell();
    return;
  }
  if (!["Enter", "ArrowDown", "ArrowUp", "Tab"].includes(event.key)) return;
  event.preventDefault();
  if (!typing.keep()) return;
  const { row, column } = range;
  if (event.key === "Tab") range.moveTo(row, column + (event.shiftKey ? -1 : 1));
  else range.moveTo(row + (event.key === "ArrowUp" ? -1 : 1), column);
}

/** Alt with an arrow moves the column, with Shift it makes it wider. */
function columnKeys({ editing: { columns }, range: { column }, resize, move }: Around): Key[] {
  const does = (event: KeyboardEvent) => {
    const side = event.key === "ArrowRight" ? 1 : -1;
    const here = columns[column] as ShownColumn;
    if (event.shiftKey) return resize(here.item.id, here.width + side * 20);
    const next = columns[column + (side === 1 ? 2 : -1)];
    if (side === 1 || next) move(here.item.id, next?.item.id ?? null);
  };
  return [{ fits: ({ altKey, key }) => altKey && (key === "ArrowLeft" || key === "ArrowRight"), does }];
}

function moveKeys({ editing: { columns, lines }, range }: Around): Key[] {
  const { row, column } = range;
  return [
    {
      fits: (event) => steps[event.key] !== undefined && !isCommand(event) && !event.altKey,
      does({ key, shiftKey }) {
        const [down, right] = steps[key] as [number, number];
        range.moveTo(row + down, column + right, shiftKey);
      },
    },
    {
      fits: ({ key }) => key === "Home" || key === "End",
      does(event) {
        const isHome = event.key === "Home";
        const last = isHome ? 0 : lines.length - 1;
        range.moveTo(isCommand(event) ? last : row, isHome ? 0 : columns.length - 1, event.shiftKey);
      },
    },
  ];
}

const chosenKeys: Record<string, WithChosen> = { m: "more time", w: "message", l: "look" };

function markKeys({ editing: { marks, columns, showTotal, begin }, range, typing, block }: Around, at: At): Key[] {
  const { item } = columns[range.column] as ShownColumn;
  const command = (letter: string) => (event: KeyboardEvent) => isCommand(event) && event.key.toLowerCase() === letter;
  return [
    { fits: command("d"), does: () => block.fillDown() },
    {
      fits: (event) => command("z")(event) && !event.shiftKey && Boolean(marks.canUndo),
      does: () => void marks.undo(),
    },
    { fits: plain("t"), does: () => showTotal(at.personId) },
    {
      fits: (event) => plain(...Object.keys(chosenKeys))(event) && !event.altKey,
      does: ({ key }) => begin(chosenKeys[key] as WithChosen, range.students(), item.id),
    },
    { fits: plain("Delete", "Backspace"), does: () => block.empty() },
    { fits: plain("Enter", "F2"), does: () => typing.setTyped(sayMark(block.markOf(item.id, at.personId))) },
    {
      fits: (event) => !isCommand(event) && !event.altKey && /^[0-9.,x]$/i.test(event.key),
      does: ({ key }) => typing.setTyped(key),
    },
  ];
}
