const graphemes = new Intl.Segmenter(undefined, { granularity: "grapheme" });

/** The beginning of a text that takes at most so many places (UTF-16), with no letter, flag or face of it cut in two. */
export function cut(text: string, most: number): string {
  if (text.length <= most) return text;
  // What a place too far belongs to begins before it, or there.
  const at = graphemes.segment(text.slice(0, most + 200)).containing(most)?.index ?? most;
  // A single sign of more places than there are: the end is at least whole.
  return at > 0 ? text.slice(0, at) : text.slice(0, most).replace(/[\ud800-\udbff]$/, "");
}

/** The beginning of a text, of at most so many characters as people count them, with an ellipsis where it was cut. */
export function shorten(text: string, most: number): string {
  if (text.length <= most) return text;
  const parts: string[] = [];
  // No further than is needed: a cell may hold a book.
  for (const { segment } of graphemes.segment(text)) {
    parts.push(segment);
    if (parts.length > most)
      return `${parts
        .slice(0, most - 1)
        .join("")
        .trimEnd()}…`;
  }
  return text;
}
