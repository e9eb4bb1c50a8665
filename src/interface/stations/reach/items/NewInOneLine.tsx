/** A new item, said in one line; what is understood stands in the fields below while one types. */
import { useState } from "react";
import { v7 } from "uuid";
import { isNotUnderstood, type NotUnderstood } from "../../../../core/line/names.ts";
import { type NewItem, readNewItem } from "../../../../core/line/new-item.ts";
import { TextField } from "../../../kit/Fields.tsx";
import { onPastedLines } from "../../../kit/paste.ts";
import { useLineContext } from "../../../workbench/useLineContext.ts";

interface OneLineProps {
  /** What the line says, each time all of it is understood. */
  onRead(read: NewItem): void;
  /** Whether a line stands there that is not understood. */
  onWrong(isWrong: boolean): void;
}

export function NewInOneLine({ onRead, onWrong }: OneLineProps) {
  const context = useLineContext();
  const [text, setText] = useState("");
  const [wrong, setWrong] = useState<NotUnderstood | null>(null);
  const take = (next: string) => {
    setText(next);
    const read = next.trim() === "" ? null : readNewItem(next.trim(), context, v7);
    const isWrong = read !== null && isNotUnderstood(read);
    setWrong(isWrong ? read : null);
    onWrong(isWrong);
    if (read && !isNotUnderstood(read)) onRead(read);
  };
  // A list from a mail or a spreadsheet has its names on lines of their own, and this field has one line.
  const paste = onPastedLines(", ", take);
  return (
    <TextField
      label="In one line, or in the fields below"
      value={text}
      onChange={take}
      onPaste={paste}
      placeholder="discussion Field notes for Day 1 and Evening, due fri 5pm, a thread each of Sections"
      hint={wrong && <Wrong {...wrong} />}
      autoFocus
    />
  );
}

const Wrong = ({ word, says, could }: NotUnderstood) => (
  <>
    {word !== "" && <q>{word}</q>} {says} {could.length > 0 && could.join(" · ")}
  </>
);
