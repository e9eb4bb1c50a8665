const graphemes = new Intl.Segmenter(undefined, { granularity: "grapheme" });

/** The beginning of a text, of at most so many characters as people count them, with an ellipsis where it was cut. */
export function shorten(text: string, most: number): string {
  const parts = [...graphemes.segment(text)];
  if (parts.length <= most) return text;
  return `${parts
    .slice(0, most - 1)
    .map(({ segment }) => segment)
    .join("")
    .trimEnd()}…`;
}
