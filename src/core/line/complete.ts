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

/** What can stand behind a word; in the order in which it is offered. */
const behind: [RegExp, Kind[]][] = [
  [/\b(?:along|each of|each group of)\s+$/i, ["layer"]],
  [/\b(?:for|write to|message)\s+$/i, ["group", "section", "person"]],
  [/\b(?:look as|as)\s+$/i, ["person"]],
  [/\b(?:into|out of|to)\s+$/i, ["group", "folder"]],
  [/\bin\s+$/i, ["folder", "layer"]],
  [/\bof\s+$/i, ["person", "layer"]],
  [/^(?:publish|unpublish|show|hide|split|rename|move|copy|remove)\s+$/i, ["item", "group"]],
  [/:\s*$/, ["setting"]],
  [/,\s*$/, ["setting", "group", "section", "person"]],
  [/^$/, ["item", "person"]],
];
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

/** What a name may begin behind, beside the start of the line. */
const beginnings =
  /\b(?:along|each of|each group of|for|write to|message|as|into|out of|to|in|of|publish|unpublish|show|hide|split|rename|move|copy|remove)\s+|[:,]\s*/gi;

/**
 * How a line may go on from its last name. Where that is not begun yet only layers, groups and settings are offered; of
 * what can stand there the longest that is typed counts, so that a title with a comma or "for" in it is found.
 */
export function completionsOf(text: string, context: LineContext): Completion[] {
  const places = [0, ...[...text.matchAll(beginnings)].map(({ index, 0: word }) => index + word.length)];
  for (const at of places) {
    const [head, typed] = [text.slice(0, at), fold(text.slice(at))];
    const kinds = behind.find(([before]) => before.test(head))?.[1];
    if (!kinds || (at === 0 && typed.length < 2)) continue;
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
