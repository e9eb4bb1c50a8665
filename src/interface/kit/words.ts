export { plural } from "../../core/text/plural.ts";

/** The lines of a text that say something. */
export const linesOf = (text: string): string[] =>
  text
    .split("\n")
    .map((line) => line.trim())
    .filter(Boolean);

/** Whether something searched holds each word of a text, wherever it stands. */
export function holdsWords(text: string): (searched: string) => boolean {
  const words = text.toLowerCase().split(/\s+/).filter(Boolean);
  return (searched) => {
    const folded = searched.toLowerCase();
    return words.every((word) => folded.includes(word));
  };
}

/** Those whose name is the text first, then those whose name begins with it, then the others, each in their order. */
export function exactFirst<One extends { name: string; what?: string }>(found: One[], text: string): One[] {
  const asked = text.trim().toLowerCase();
  if (asked === "") return found;
  const rank = ({ name, what = "" }: One) => {
    const [a, b] = [name.toLowerCase(), what.toLowerCase()];
    return a === asked || b === asked ? 0 : a.startsWith(asked) ? 1 : 2;
  };
  return found
    .map((one, at) => ({ one, at, rank: rank(one) }))
    .sort((a, b) => a.rank - b.rank || a.at - b.at)
    .map(({ one }) => one);
}

/** Ticks with those of a list added or taken away; what is ticked elsewhere stays. */
export function withTicks(ticked: ReadonlySet<string>, ids: readonly string[], isOn: boolean): Set<string> {
  const next = new Set(ticked);
  for (const id of ids) isOn ? next.add(id) : next.delete(id);
  return next;
}
