/** Names in a sentence. */

/**
 * "Day 1", "Day 1 and Day 2", "Day 1, Day 2 and Evening"; of more than `most` the first ones, and how many there are
 * beside: "Day 1, Day 2 and 7 more". A list of names never runs as prose.
 */
export function sayNames(names: readonly string[], most = 4): string {
  const said = names.length > most ? [...names.slice(0, most - 1), `${names.length - most + 1} more`] : names;
  return said.length < 2 ? (said[0] ?? "") : `${said.slice(0, -1).join(", ")} and ${said.at(-1)}`;
}
