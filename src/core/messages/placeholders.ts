/**
 * What a message says to each: `{name}`, `{given name}`, `{course}`, `{now}`, `{group of LAYER}`, `{code of LAYER}`,
 * `{due of ITEM}`, `{opens of ITEM}`, `{closes of ITEM}`, `{minutes of ITEM}`, `{attempts of ITEM}`. Dates and limits are told
 * only to those whom the item is meant for.
 */

import { sayInstant } from "../clock/local-time.ts";
import { compareText, lookup, plainName } from "../plan/lookup.ts";
import { noProgress } from "../plan/progress.ts";
import type { Layer, Plan } from "../plan/types.ts";
import { type Reach, reachAt } from "../reach/reach.ts";
import { hasBit } from "../sets/bits.ts";
import { sayNumber } from "../text/locale.ts";
import { isolated } from "../text/names.ts";
import { fieldTitle } from "../timing/field-titles.ts";
import { type MomentField, resolveDates, resolvedInstant } from "../timing/resolving/resolve.ts";

interface Placeholder {
  /** In the text, without the braces. */
  name: string;
  fill(reach: Reach, personId: string): string;
}
export interface PlaceholderMistake {
  /** Where it stands in the text, from 0. */
  position: number;
  says: string;
}

const plain: Record<string, Placeholder["fill"]> = {
  name: ({ plan }, personId) => {
    const person = plan.people[personId];
    return person ? isolated(plainName(person)) : "";
  },
  "given name": ({ plan }, personId) => isolated(plan.people[personId]?.givenName ?? ""),
  course: ({ plan }) => `${plan.course.code} ${plan.course.title}`,
  now: ({ plan, t }) => sayInstant(t, plan.course.timeZone),
};
const dateWords: MomentField[] = ["opens", "due", "closes"];
const limitWords = ["minutes", "attempts"] as const;

function groupsIn({ plan, indexOf, memberships }: Reach, personId: string, layer: Layer) {
  const place = indexOf.get(personId);
  const mine = place === undefined ? null : memberships(place).groupIds;
  return (lookup(plan).groupsOfLayer.get(layer.id) ?? []).filter(({ id }) => mine?.has(id));
}

/** What a date or limit of an item is for each; nobody learns of a thing that is not for them. */
function theirOwn(itemId: string, field: MomentField | (typeof limitWords)[number]): Placeholder["fill"] {
  const isDate = field !== "minutes" && field !== "attempts";
  const nothing = isDate ? "no date" : "no limit";
  return (reach, personId) => {
    const place = reach.indexOf.get(personId);
    const item = reach.plan.items[itemId];
    if (place === undefined || !item || !hasBit(reach.meant(item), place)) return nothing;
    const dates = resolveDates(reach.plan, item, reach.memberships(place));
    const at = isDate ? resolvedInstant(reach.plan, dates, field) : null;
    if (at !== null) return sayInstant(at, reach.plan.course.timeZone);
    const { value } = dates[field];
    return !isDate && typeof value === "number" ? sayNumber(value) : nothing;
  };
}

/** The blank that a name stands for, or why there is none. */
function placeholderOf(plan: Plan, name: string): Placeholder["fill"] | string {
  const own = plain[name.toLowerCase()];
  if (own) return own;
  const [, what = "", of = ""] = /^(\w+) of (.+)$/i.exec(name) ?? [];
  const wanted = of.trim().toLowerCase();
  const kind = what.toLowerCase();
  if (kind === "group" || kind === "code") {
    const layer = lookup(plan).layers.find((one) => one.name.toLowerCase() === wanted);
    if (!layer) return `There is no layer called "${of}".`;
    if (layer.private) return `${layer.name} is private: no student ever reads of its groups.`;
    return (reach, personId) =>
      groupsIn(reach, personId, layer)
        .map((group) => (kind === "group" ? group.label : (group.code ?? "")))
        .filter(Boolean)
        .join(", ") || (kind === "group" ? "no group yet" : "no code");
  }
  const field = [...dateWords, ...limitWords].find((one) => one === kind);
  if (field) {
    const item = Object.values(plan.items).find(({ title }) => title.toLowerCase() === wanted);
    return item ? theirOwn(item.id, field) : `There is no item called "${of}".`;
  }
  return `"{${name}}" stands for nothing. Use {name}, {group of ${lookup(plan).layers[0]?.name ?? "a layer"}}, {due of an item}.`;
}

const blanks = /\{([^{}\n]{1,250})\}/g;

/** What in a text stands for nothing. */
export const placeholderMistakes = (plan: Plan, text: string): PlaceholderMistake[] =>
  [...text.matchAll(blanks)].flatMap((match) => {
    const found = placeholderOf(plan, (match[1] ?? "").trim());
    return typeof found === "string" ? [{ position: match.index, says: found }] : [];
  });

/** A text as each person reads it; what stands for nothing is left as it is. */
export function fillPlaceholders(plan: Plan, text: string, t: number): (personId: string) => string {
  const known = new Map<string, Placeholder["fill"] | string>();
  for (const [, name = ""] of text.matchAll(blanks)) known.set(name, placeholderOf(plan, name.trim()));
  if (known.size === 0) return () => text;
  const reach = reachAt(plan, noProgress, t);
  return (personId) =>
    text.replace(blanks, (whole, name: string) => {
      const fill = known.get(name);
      return typeof fill === "function" ? fill(reach, personId) : whole;
    });
}

/** What may be put into a text, the usual first. */
export const offeredPlaceholders = (plan: Plan): string[] => [
  "{given name}",
  "{name}",
  ...lookup(plan).layers.flatMap((layer) => (layer.private ? [] : [`{group of ${layer.name}}`])),
  "{course}",
];

/** The due first: it is what one writes of most. */
const offeredFields = ["due", "opens", "closes", ...limitWords] as const;
/** Dates and limits of items that may be put into a text: of what has them for everybody or for some, by title. */
export function offeredDatePlaceholders(plan: Plan): { id: string; name: string; what: string }[] {
  const { overridesOfItem } = lookup(plan);
  const found = Object.values(plan.items).flatMap(({ id, title, kind, dates }) => {
    const all = [dates, ...(overridesOfItem.get(id) ?? []).map((override) => override.dates)];
    return offeredFields
      .filter((field) => all.some((one) => one[field]))
      .map((field) => ({ id: `${field} of ${title}`, name: title, what: fieldTitle(field, kind).toLowerCase() }));
  });
  // Of items of one title the first is meant.
  const first = new Map<string, (typeof found)[number]>();
  for (const one of found) if (!first.has(one.id)) first.set(one.id, one);
  return [...first.values()].sort((a, b) => compareText(a.name, b.name));
}
