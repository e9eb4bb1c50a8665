/** Names in a sentence. */

/**
 * A name as it stands in a sentence: one that is written from right to left does not pull the signs and numbers beside it
 * along. What is an element of its own on a page needs none of this: the style sheet keeps it apart.
 */
export const isolated = (name: string): string =>
  /[\p{Script=Arabic}\p{Script=Hebrew}\p{Script=Syriac}\p{Script=Thaana}\p{Script=Nko}]/u.test(name)
    ? `\u2068${name}\u2069`
    : name;

/**
 * "Day 1", "Day 1 and Day 2", "Day 1, Day 2 and Evening"; of more than `most` the first ones, and how many there are
 * beside: "Day 1, Day 2 and 7 more". A list of names never runs as prose.
 */
export function sayNames(names: readonly string[], most = 4): string {
  const apart = names.map(isolated);
  const said = apart.length > most ? [...apart.slice(0, most - 1), `${apart.length - most + 1} more`] : apart;
  return said.length < 2 ? (said[0] ?? "") : `${said.slice(0, -1).join(", ")} and ${said.at(-1)}`;
}
