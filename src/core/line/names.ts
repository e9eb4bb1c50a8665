/** What a typed line names: items, groups, layers, and whoever else can be meant. */
import { once, onceOfTwo } from "../memo.ts";
import { compareText, lookup, targetName } from "../plan/lookup.ts";
import { readTargets } from "../plan/typed-targets.ts";
import type { Group, Item, Layer, Plan, Target } from "../plan/types.ts";
import { fold } from "../text/caseless.ts";

/** What a line is read with. */
export interface LineContext {
  plan: Plan;
  /** Who can be meant beside groups, sections and sets. The same list for as long as the plan is the same. */
  personIds: readonly string[];
  /** Epoch milliseconds. */
  now: number;
}
/** A part of a line that is not understood, and what could stand there. */
export interface NotUnderstood {
  word: string;
  says: string;
  could: string[];
}
export const isNotUnderstood = (value: object): value is NotUnderstood => "could" in value;

const most = 6;
/** Of named things the one that a text means: by its whole name, else by a part that only one has. */
function oneNamed<One>(all: One[], nameOf: (one: One) => string, text: string, what: string): One | NotUnderstood {
  const asked = fold(text.trim());
  const exact = all.filter((one) => fold(nameOf(one)) === asked);
  if (exact.length === 1) return exact[0] as One;
  const among = exact.length > 1 ? exact : all.filter((one) => fold(nameOf(one)).startsWith(asked));
  if (among.length === 1) return among[0] as One;
  const containing = among.length > 0 ? among : all.filter((one) => fold(nameOf(one)).includes(asked));
  if (containing.length === 1) return containing[0] as One;
  const could = containing.slice(0, most).map(nameOf);
  const says =
    text.trim() === ""
      ? `Which ${what}?`
      : containing.length > 1
        ? `Several are called that: which ${what}?`
        : `No ${what} is called that.`;
  return { word: text.trim(), says, could };
}

const byTitle = once((items: Plan["items"]) => Object.values(items).sort((a, b) => compareText(a.title, b.title)));
const itemsOf = (plan: Plan): Item[] => byTitle(plan.items);
export const itemNamed = ({ plan }: LineContext, text: string) =>
  oneNamed(itemsOf(plan), ({ title }) => title, text, "item");
export const folderNamed = ({ plan }: LineContext, text: string) =>
  oneNamed(
    itemsOf(plan).filter(({ kind }) => kind === "folder"),
    ({ title }) => title,
    text,
    "folder",
  );
export const layerNamed = ({ plan }: LineContext, text: string): Layer | NotUnderstood =>
  oneNamed(lookup(plan).layers, ({ name }) => name, text, "layer");
const groupsOf = (plan: Plan): Group[] =>
  lookup(plan).layers.flatMap(({ id }) => lookup(plan).groupsOfLayer.get(id) ?? []);
export function groupNamed({ plan }: LineContext, text: string): Group | NotUnderstood {
  const byMark = groupsOf(plan).filter(({ stripe }) => fold(stripe.mark) === fold(text.trim()));
  const found = oneNamed(groupsOf(plan), ({ name }) => name, text, "group");
  return isNotUnderstood(found) && byMark.length === 1 ? (byMark[0] as Group) : found;
}

/** Items whose whole titles stand at the beginning of a text, with commas between them; the longest title first. */
export function itemsAtStart({ plan }: LineContext, text: string): { items: Item[]; rest: string } | null {
  const folded = fold(text);
  const found = itemsOf(plan)
    .filter(({ title }) => folded.startsWith(fold(title)) && /^($|[\s:,])/.test(text.slice(title.length)))
    .sort((a, b) => b.title.length - a.title.length);
  const [first] = found;
  if (!first || found.filter(({ title }) => fold(title) === fold(first.title)).length > 1) return null;
  const rest = text.slice(first.title.length);
  const more = /^\s*,\s*/.exec(rest);
  const others = more && itemsAtStart({ plan } as LineContext, rest.slice(more[0].length));
  return others ? { items: [first, ...others.items], rest: others.rest } : { items: [first], rest };
}

/** Items named by a text as a whole: by titles, or by a part of one. */
export function itemsNamed(context: LineContext, text: string): Item[] | NotUnderstood {
  const whole = itemsAtStart(context, text.trim());
  if (whole && whole.rest.trim() === "") return whole.items;
  const one = itemNamed(context, text);
  return isNotUnderstood(one) ? one : [one];
}

/** The same value for the same plan and people: what is known of their names stands with it. */
const nameable = onceOfTwo((plan: Plan, personIds: readonly string[]) => ({ plan, personIds }));

/** Everybody and everything that a text names; a part that fits nobody or several is not understood. */
export function targetsNamed({ plan, personIds }: LineContext, text: string): Target[] | NotUnderstood {
  const { targets, unclear } = readTargets(nameable(plan, personIds), text);
  const [first] = unclear;
  if (!first && targets.length > 0) return targets;
  const could = (first?.likely ?? []).map((target) => targetName(plan, target));
  const word = first?.text ?? text.trim();
  const says = word === "" ? "Who?" : could.length > 0 ? "That fits several." : "Nobody and no group is called that.";
  return { word, says, could };
}
