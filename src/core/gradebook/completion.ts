/** What a filter may go on with where the caret stands: fields, groups, sections, layers, columns, states. Section 7. */

import { wallOf } from "../clock/local-time.ts";
import { lookup } from "../plan/lookup.ts";
import type { Plan } from "../plan/types.ts";
import { fold } from "../text/caseless.ts";
import { cellStates, columnsOf } from "./cells.ts";
import { quote } from "./filter.ts";
import { attributeNames, attributeOf } from "./names.ts";

export interface Completion {
  /** What stands from `from` to the caret gives way to this. */
  text: string;
  says: string;
}
export interface Completions {
  from: number;
  options: Completion[];
}

const fields: Completion[] = [
  { text: "group:", says: "in a group, of any layer" },
  { text: "section:", says: "in a section, by code or title" },
  { text: "layer:", says: "in some group of a layer" },
  { text: "set:", says: "in a group of a named set" },
  { text: "status:", says: "a cell's state, in any column" },
  { text: "status@", says: "a cell's state, in one column" },
  { text: "mark@", says: "percent in one column, compared" },
  { text: "total<", says: "percent of the total, compared" },
  { text: "late", says: "handed in after the own due" },
  { text: "late@", says: "handed one column in late" },
  { text: "unplaced", says: "in no group of a layer that everyone needs one of" },
  { text: "held", says: "placed by hand and held" },
  { text: "asof:", says: "groups as they stood on a day, or at the hand-in" },
  { text: "not ", says: "turns the next term round" },
  { text: "or ", says: "this or the next" },
];
const most = 12;

/** Where the word begins that ends at the caret, quotes and escapes minded. */
function wordStart(text: string): number {
  let [start, quoted] = [0, false];
  for (let at = 0; at < text.length; at++) {
    const sign = text[at];
    if (quoted && sign === "\\") at++;
    else if (sign === '"') quoted = !quoted;
    else if (!quoted && /[\s()]/.test(sign as string)) start = at + 1;
  }
  return start;
}

/** Completions of a filter's text at the caret, at most twelve, best first. */
export function completionsOf(text: string, caret: number, plan: Plan, t: number): Completions {
  const before = text.slice(0, caret);
  const start = wordStart(before);
  const word = before.slice(start);
  const found = /^("(?:[^"\\]|\\.)*"|[^:@<>="]+)(@(?:"(?:[^"\\]|\\.)*"?|[^\s:<>="]*))?(:)?(.*)$/s.exec(word);
  const [, head = "", at, colon, rest = ""] = found ?? [];
  if (!colon && at === undefined) {
    const attributes = attributeNames(plan.people).map((name) => ({
      text: `${quote(name)}:`,
      says: "an attribute of the rosters",
    }));
    const typed = fold(word.replaceAll('"', ""));
    const options = [...fields, ...attributes].filter((option) =>
      fold(option.text).replaceAll('"', "").startsWith(typed),
    );
    return { from: start, options: options.filter((option) => option.text !== word).slice(0, most) };
  }
  const offer = (from: number, typed: string, values: { value: string; says: string }[], after = ""): Completions => {
    const wanted = fold(typed.replace(/^"/, "").replace(/"$/, ""));
    const fitting = values.filter(({ value }) => fold(value).includes(wanted));
    const first = fitting.filter(({ value }) => fold(value).startsWith(wanted));
    const options = [...new Set([...first, ...fitting])].map(({ value, says }) => ({
      text: quote(value) + after,
      says,
    }));
    return { from: start + from, options: options.filter((option) => option.text !== typed).slice(0, most) };
  };
  if (at !== undefined && !colon)
    return offer(
      head.length + 1,
      at.slice(1),
      columnsOf(plan).map(({ title, points }) => ({ value: title, says: `a column, of ${points}` })),
      fold(head) === "status" ? ":" : "",
    );
  const from = word.length - rest.length;
  const { layers, groupsOfLayer } = lookup(plan);
  switch (fold(head)) {
    case "group":
      return offer(
        from,
        rest,
        layers.flatMap(({ id, name }) =>
          (groupsOfLayer.get(id) ?? []).map((group) => ({ value: group.name, says: `of ${name}` })),
        ),
      );
    case "section":
      return offer(
        from,
        rest,
        Object.values(plan.sections).map(({ code, title }) => ({ value: code, says: title })),
      );
    case "layer":
    case "unplaced":
    case "held":
      return offer(
        from,
        rest,
        layers.map(({ name, rule }) => ({ value: name, says: rule })),
      );
    case "set":
      return offer(
        from,
        rest,
        Object.values(plan.sets).map(({ name }) => ({ value: name, says: "a named set" })),
      );
    case "status":
      return offer(
        from,
        rest,
        cellStates.map((value) => ({ value, says: "a state" })),
      );
    case "asof":
      return offer(from, rest, [
        { value: "handin", says: "at some hand-in of the columns named" },
        { value: plan.course.termStart, says: "the term's first day" },
        { value: wallOf(t, plan.course.timeZone).slice(0, 10), says: "the day of the time rail" },
      ]);
    default: {
      const values = [...new Set(attributeOf(plan.people, head.replaceAll('"', "")).values())].sort();
      return offer(
        from,
        rest,
        values.slice(0, 200).map((value) => ({ value, says: head })),
      );
    }
  }
}
