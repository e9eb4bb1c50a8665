import type { ClipboardEvent } from "react";
import { linesOf } from "./words.ts";

/** Several lines that are pasted into a field of one line stand in it with something between them, where the cursor was. */
export const onPastedLines = (between: string, setText: (text: string) => void) => (event: ClipboardEvent) => {
  const field = event.target as HTMLInputElement;
  const lines = linesOf(event.clipboardData.getData("text/plain"));
  if (lines.length < 2) return;
  event.preventDefault();
  const { value, selectionStart, selectionEnd } = field;
  const [from, to] = [selectionStart ?? value.length, selectionEnd ?? value.length];
  setText(value.slice(0, from) + lines.join(between) + value.slice(to));
};
