/** Dates and limits in a typed line: "due fri 5pm, 3 attempts", "due +1d". Source: semantics.md section 6. */
import { dayOf, wallOf } from "../clock/local-time.ts";
import { studentsOf } from "../placement/membership.ts";
import { lookup } from "../plan/lookup.ts";
import type { DateField, Item, ItemKind, Target } from "../plan/types.ts";
import {
  type GivenValue,
  isMomentField,
  membershipsAt,
  resolveDates,
  resolvedInstant,
  resolveField,
} from "../timing/resolving/resolve.ts";
import { readField, typedContext } from "../timing/typing/typed.ts";
import type { LineContext, NotUnderstood } from "./names.ts";

/** How each field is called in a line; the first is how the tray says it. */
const words: Record<DateField, string[]> = {
  opens: ["opens", "open", "starts", "start"],
  due: ["due", "ends", "end"],
  closes: ["closes", "close"],
  attempts: ["attempts"],
  minutes: ["minutes"],
  accessWord: ["password", "access word"],
};
const fields = Object.keys(words) as DateField[];
const named = fields.flatMap((field) => words[field]).join("|");
/** A setting begins with the name of its field, or is a number of attempts or minutes. */
export const settingBegins = `(?:${named})\\b|\\+?\\d+ (?:attempts?|minutes?)\\b`;
const begins = new RegExp(`^(?:${settingBegins})`, "i");

export type DatePatch = Partial<Record<DateField, GivenValue | null>>;

/** Whether a text begins like settings. */
export const beginsLikeDates = (text: string): boolean => begins.test(text.trim());

/** "due Mon 5 Oct, 09:00, attempts 3" in its settings: a comma within a date parts nothing. */
const settingsOf = (text: string): string[] =>
  text
    .split(new RegExp(`[,;]\\s*(?=${settingBegins})`, "i"))
    .map((part) => part.trim())
    .filter(Boolean);

const asWall = (given: GivenValue | undefined): string | null =>
  typeof given === "string" && given !== "none" ? given : null;

/** Of a person themselves, of a group the first of its students. */
const oneOf = ({ plan, now }: LineContext, { kind, id }: Target): string | undefined =>
  kind === "person" ? id : kind === "group" ? studentsOf(plan, id, now)[0] : undefined;

/** What holds for a target by now, as a wall-clock time; of a group what the first of its students has. */
function heldBy(context: LineContext, item: Item, target: Target | null, field: DateField): string | null {
  const { plan, now } = context;
  const own = asWall(item.dates[field]);
  if (target === null || !isMomentField(field)) return own;
  const overrides = lookup(plan).overridesOfItem.get(item.id) ?? [];
  const theirs = overrides.find((one) => one.target.kind === target.kind && one.target.id === target.id);
  const given = asWall(theirs?.dates[field]);
  const personId = oneOf(context, target);
  if (given !== null || !personId) return given ?? own;
  const instant = resolvedInstant(plan, resolveDates(plan, item, membershipsAt(plan, personId, now)), field);
  return instant === null ? null : wallOf(instant, plan.course.timeZone);
}

/** The limit that holds for a target by now; of a group what the first of its students has. 0 where there is none. */
function limitHeldBy(context: LineContext, item: Item, target: Target | null, field: DateField): number {
  const { plan, now } = context;
  const personId = target && oneOf(context, target);
  const value = personId
    ? resolveField(plan, item, membershipsAt(plan, personId, now), field).value
    : (item.dates[field] ?? null);
  return typeof value === "number" ? value : 0;
}

interface Setting {
  field: DateField;
  typed: string;
}
/** What one says of an event: when it starts is kept where others have their due date. */
const eventWords: [RegExp, DateField][] = [
  [/^starts?\b/i, "due"],
  [/^ends?\b/i, "closes"],
];
/** The field of a setting and what is typed for it; null where none begins it. */
function settingOf(text: string, kind: ItemKind): Setting | null {
  if (kind === "event")
    for (const [word, field] of eventWords) if (word.test(text)) return { field, typed: text.replace(word, "").trim() };
  const count = /^(\+?\d+) (attempt|minute)s?$/i.exec(text);
  if (count)
    return { field: count[2]?.toLowerCase() === "attempt" ? "attempts" : "minutes", typed: count[1] as string };
  for (const field of fields)
    for (const word of words[field])
      if (new RegExp(`^${word}\\b`, "i").test(text)) return { field, typed: text.slice(word.length).trim() };
  return null;
}

type Read = { value: GivenValue | null } | NotUnderstood;

/** Reads what is typed for one field. */
function readSetting(context: LineContext, item: Item, target: Target | null, { field, typed }: Setting): Read {
  const word = words[field][0] as string;
  if (typed === "") return { word, says: `What is it: ${word} …?`, could: ["fri 5pm", "+1d", "m6 start"] };
  if (/^unset$/i.test(typed)) return { value: null };
  const { course } = context.plan;
  const day = dayOf(context.now, course.timeZone);
  const from = heldBy(context, item, target, field);
  const more = /^\+\s*(\d+)$/.exec(typed);
  // A comma within a date is how the tray says it; one attempt more is counted from what holds.
  const text = isMomentField(field)
    ? typed.replaceAll(",", " ")
    : more
      ? String(limitHeldBy(context, item, target, field) + Number(more[1]))
      : typed;
  const read = readField(field, text, typedContext({ course, day, field, kind: item.kind, from }));
  return "wrong" in read ? { word: typed, says: read.wrong, could: [] } : read;
}

/** Reads the settings of a line for an item and, where they are somebody's own, for them. */
export function readDates(
  context: LineContext,
  item: Item,
  target: Target | null,
  text: string,
): DatePatch | NotUnderstood {
  const dates: DatePatch = {};
  for (const part of settingsOf(text)) {
    const setting = settingOf(part, item.kind);
    const could = fields.map((field) => `${words[field][0]} …`);
    if (!setting) return { word: part, says: "No date or limit begins like that.", could };
    const read = readSetting(context, item, target, setting);
    if (!("value" in read)) return read;
    dates[setting.field] = read.value;
  }
  return Object.keys(dates).length > 0 ? dates : { word: text, says: "Which date or limit?", could: ["due fri 5pm"] };
}
