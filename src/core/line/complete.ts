/** How a typed line can go on: names of the course, and what belongs behind a name. */
import { fullName, lookup } from "../plan/lookup.ts";
import { fold } from "../text/caseless.ts";
import type { LineContext } from "./names.ts";

export interface Completion {
  name: string;
  /** What it is. */
  what: string;
  /** The line with it. */
  fills: string;
}
type Kind = "item" | "folder" | "layer" | "group" | "section" | "person" | "setting";

/** What can stand behind some words or a sign, in the order in which it is offered. The longer word stands first. */
const behind: [words: string[], Kind[]][] = [
  [["along", "each group of", "each of"], ["layer"]],
  [
    ["for", "write to", "message"],
    ["group", "section", "person"],
  ],
  [["as"], ["person"]],
  [
    ["into", "out of", "to"],
    ["group", "folder"],
  ],
  [["in"], ["folder", "layer"]],
  [["of"], ["person", "layer"]],
  [
    ["publish", "unpublish", "show", "hide", "split", "rename", "move", "copy", "remove"],
    ["item", "group"],
  ],
  [[":"], ["setting"]],
  [[","], ["setting", "group", "section", "person"]],
];
const kindsBehind = new Map(behind.flatMap(([words, kinds]) => words.map((word): [string, Kind[]] => [word, kinds])));
const atStart: Kind[] = ["item", "person"];
const settings = ["due ", "opens ", "closes ", "attempts ", "minutes ", "password ", "for ", "one for each group of "];
/** So many are offered, and a person only once so much of a name is typed. */
const most = 6;
const leastOfPerson = 3;

function namesOf({ plan, personIds }: LineContext, kind: Kind): string[] {
  const { layers, groupsOfLayer } = lookup(plan);
  const items = Object.values(plan.items);
  switch (kind) {
    case "item":
      return items.map(({ title }) => title);
    case "folder":
      return items.filter((item) => item.kind === "folder").map(({ title }) => title);
    case "layer":
      return layers.map(({ name }) => name);
    case "group":
      return layers.flatMap(({ id }) => groupsOfLayer.get(id) ?? []).map(({ name }) => name);
    case "section":
      return Object.values(plan.sections).map(({ code }) => code);
    case "person":
      return personIds.flatMap((id) => plan.people[id] ?? []).map((person) => fullName(person));
    case "setting":
      return settings;
  }
}

const words = [...kindsBehind.keys()].filter((word) => /\w/.test(word));
/** A name begins behind one of them. */
const beginnings = new RegExp(`\\b(${words.join("|")})\\s+|([:,])\\s*`, "gi");

/**
 * How a line may go on from its last name. Where that is not begun yet only layers, groups and settings are offered; of
 * what can stand there the longest that is typed counts, so that a title with a comma or "for" in it is found.
 */
export function completionsOf(text: string, context: LineContext): Completion[] {
  const places = [...text.matchAll(beginnings)].map(({ index, 0: whole, 1: word, 2: sign = "" }) => ({
    at: index + whole.length,
    kinds: kindsBehind.get((word ?? sign).toLowerCase()) ?? [],
  }));
  for (const { at, kinds } of [{ at: 0, kinds: atStart }, ...places]) {
    const [head, typed] = [text.slice(0, at), fold(text.slice(at))];
    if (at === 0 && typed.length < 2) continue;
    const found = kinds.flatMap((kind) => {
      if (typed === "" && !["layer", "group", "setting"].includes(kind)) return [];
      if (kind === "person" && typed.length < leastOfPerson) return [];
      return namesOf(context, kind)
        .filter((name) => fold(name).startsWith(typed) && fold(name) !== typed)
        .map((name) => ({ name: name.trim(), what: kind, fills: head + name }));
    });
    if (found.length > 0) return found.slice(0, most);
  }
  return [];
}
