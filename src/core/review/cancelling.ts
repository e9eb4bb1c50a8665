/**
 * Commands of a draft that undo each other: set and removed again, moved there and back, made and taken away. They leave
 * the draft together. Source: semantics.md section 8 ("A command that undoes another leaves no trace in the draft").
 */
import { apply, type Command, replay } from "../commands.ts";
import { type Context, isRefusal } from "../plan/command.ts";
import { difference, type RowChange, same } from "../plan/difference.ts";
import { lookup } from "../plan/lookup.ts";
import type { Plan } from "../plan/types.ts";

const isObject = (value: unknown): value is Record<string, unknown> =>
  typeof value === "object" && value !== null && !Array.isArray(value);

/** Rows that tell a time in which somebody was somewhere: another row may go on where one ended. */
const spans = new Set(["placements", "enrolments"]);
const personOf = ({ table, before, after }: RowChange) => `${table}/${(before ?? after)?.personId}`;

/** What a change of a row touches: its person where it is a span, the row where it comes or goes, else fields. */
function touchedBy(change: RowChange): string[] {
  const { table, id, before, after } = change;
  if (spans.has(table)) return [personOf(change)];
  if (!before || !after) return [`${table}/${id}`];
  return [...new Set([...Object.keys(before), ...Object.keys(after)])].flatMap((field) => {
    const [was, is] = [before[field], after[field]];
    if (same(was, is)) return [];
    if (!isObject(was) || !isObject(is)) return [`${table}/${id}/${field}`];
    const inner = [...new Set([...Object.keys(was), ...Object.keys(is)])];
    return inner.filter((key) => !same(was[key], is[key])).map((key) => `${table}/${id}/${field}/${key}`);
  });
}

/** Whether one of two things that were touched lies within the other. */
const meets = (a: string, b: string) => a === b || a.startsWith(`${b}/`) || b.startsWith(`${a}/`);

type SpanTable = "placements" | "enrolments";

/** Somebody's spans of a table, as text: those that follow on each other joined, and empty ones left out. */
function spansOf(plan: Plan, table: SpanTable, personId: string): string[] {
  const { placementsOfPerson, enrolmentsOfPerson } = lookup(plan);
  const rows = (table === "placements" ? placementsOfPerson : enrolmentsOfPerson).get(personId) ?? [];
  const found: { what: string; since: number; until: number | null }[] = [];
  for (const { id: _, since, until, ...rest } of [...rows].sort((a, b) => a.since - b.since)) {
    if (until === since) continue;
    const what = JSON.stringify(Object.entries(rest).sort(([a], [b]) => (a < b ? -1 : 1)));
    const before = found.find((one) => one.what === what && one.until === since);
    if (before) before.until = until;
    else found.push({ what, since, until });
  }
  return found.map(({ what, since, until }) => `${what} ${since} ${until}`).sort();
}

/** Whether the person of a change of a span is where they are in both plans. */
function isSpanAlike(a: Plan, b: Plan, { table, before, after }: RowChange): boolean {
  const personId = (before ?? after)?.personId as string;
  return same(spansOf(a, table as SpanTable, personId), spansOf(b, table as SpanTable, personId));
}

/** Whether two plans say the same, whichever rows tell a person's spans. */
const isAlike = (a: Plan, b: Plan): boolean =>
  difference(a, b).every((change) => spans.has(change.table) && isSpanAlike(a, b, change));

/** Whether all that was touched is as the published plan has it: only then can anything have been undone whole. */
function isAsPublished(published: Plan, after: Plan, touched: string[]): boolean {
  return difference(published, after).every((change) =>
    touchedBy(change).every((one) => {
      if (!touched.some((other) => meets(one, other))) return true;
      return spans.has(change.table) && isSpanAlike(published, after, change);
    }),
  );
}

/** What each command of a draft touches, in order; nothing where it no longer applies. */
function touchedByEach(published: Plan, commands: Command[], context: Context): string[][] {
  let plan = published;
  return commands.map((command) => {
    const next = apply(plan, command, context);
    if (isRefusal(next)) return [];
    const touched = difference(plan, next).flatMap(touchedBy);
    plan = next;
    return touched;
  });
}

export interface Addition {
  published: Plan;
  /** The draft so far, and the plan that it makes of the published one. */
  commands: Command[];
  before: Plan;
  /** The plan with the commands that are added. */
  after: Plan;
  /** Commands that may not leave: they wait for their moment. */
  fixed?: ReadonlySet<string>;
}

/**
 * The ids of drafted commands that what is added undoes: they leave the draft, and what is added is not kept. Null where
 * it undoes nothing, or more than it undoes would leave with it.
 */
export function cancelledBy(
  { published, commands, before, after, fixed = new Set() }: Addition,
  context: Context,
): string[] | null {
  const undone = difference(before, after).flatMap(touchedBy);
  if (commands.length === 0 || undone.length === 0 || !isAsPublished(published, after, undone)) return null;
  const isUndone = (touched: string) => undone.some((one) => meets(one, touched));
  const steps = touchedByEach(published, commands, context);
  const concerned = commands.filter(({ id }, at) => !fixed.has(id) && steps[at]?.some(isUndone));
  const whole = concerned.filter((command) => steps[commands.indexOf(command)]?.every(isUndone));
  const refused = replay(published, commands, context).refused.length;
  for (const leaving of [concerned, whole, concerned.slice(-1)]) {
    if (leaving.length === 0) continue;
    const rest = replay(
      published,
      commands.filter((command) => !leaving.includes(command)),
      context,
    );
    if (rest.refused.length <= refused && isAlike(rest.plan, after)) return leaving.map(({ id }) => id);
  }
  return null;
}
