/** What the audit finds: with whom it touches, why, from when, and whether somebody let it stand. Source: semantics.md 4. */

import type { Acceptance, Item, Plan } from "../../plan/types.ts";
import { sayNumber } from "../../text/locale.ts";

/** What is left to put right in Timing. */
export const timingKinds = [
  "dates",
  "no date",
  "too little time",
  "moved earlier",
  "before meeting",
  "no-class day",
  "same day",
  "unequal time",
  "vain override",
] as const;
/** Worst first. */
export const findingKinds = [
  "leak",
  "stranded",
  "nobody",
  "outside",
  "circle",
  "unreachable",
  "no window",
  "never",
  "always",
  "telling",
  "private name",
  "sightline",
  "left out",
  "one group",
  "neighbours",
  ...timingKinds,
] as const;
export type FindingKind = (typeof findingKinds)[number];

export const isTiming = (kind: FindingKind): boolean => (timingKinds as readonly FindingKind[]).includes(kind);

/** What each kind is called in a list, and the sentence that says what it is. */
export const kindWords: Record<FindingKind, { name: string; is: string }> = {
  leak: { name: "Leak", is: "Somebody reaches a thing that is not meant for them." },
  stranded: { name: "Stranded", is: "Somebody a thing is meant for can never reach it." },
  nobody: { name: "For nobody", is: "An item whose audience is empty." },
  outside: { name: "No thread", is: "Somebody meant for a split item is in none of its groups." },
  circle: { name: "Circle", is: "Conditions that wait for each other." },
  unreachable: { name: "Asks in vain", is: "A condition on an item that its own audience can never reach." },
  "no window": { name: "No window", is: "An item that closes before it opens for somebody, or lies outside the term." },
  never: { name: "Never holds", is: "A part of a condition that can hold for nobody it is asked of." },
  always: { name: "Always holds", is: "A part of a condition that holds for everybody it is asked of, at any time." },
  telling: { name: "Telling label", is: "A label that students see tells a level or a need." },
  "private name": { name: "Private name", is: "A label that students see names a private layer or one of its groups." },
  sightline: { name: "Sightline", is: "Students of different groups see each other there." },
  "left out": { name: "Left out?", is: "Copies of an item for several groups, and a group without one." },
  "one group": { name: "For everyone?", is: "An item for everyone whose title names one group." },
  neighbours: { name: "For everyone?", is: "An item for everyone among neighbours that are all narrowed." },
  dates: { name: "Out of order", is: "Opens, due and closes contradict each other for somebody." },
  "no date": { name: "No date", is: "A date given as a class meeting that somebody's section does not have." },
  "too little time": { name: "Too little time", is: "An attempt that closes before somebody's minutes are over." },
  "moved earlier": { name: "Moved earlier", is: "The draft moves a due to an earlier moment for somebody." },
  "before meeting": { name: "Before the meeting", is: "Due by a meeting, but before the one before it begins." },
  "no-class day": { name: "No-class day", is: "Due on a day on which somebody has no class." },
  "same day": { name: "Same day", is: "Two or more dues of one group on one day." },
  "unequal time": { name: "Unequal time", is: "Groups have unequal working time for one item." },
  "vain override": { name: "In vain", is: "An override for somebody whom the item is not meant for." },
};
/** These are asked about rather than found wrong. */
const asking = new Set<FindingKind>([
  "always",
  "telling",
  "left out",
  "one group",
  "neighbours",
  "before meeting",
  "same day",
  "unequal time",
]);

export interface Finding {
  /** What it is about, the same as long as that is. */
  key: string;
  kind: FindingKind;
  asks: boolean;
  /** The item it is about; null for a label, the class list, a list of names. */
  itemId: string | null;
  /** What it is about, in words. */
  subject: string;
  /** One sentence with the effect on people. */
  says: string;
  why: string;
  personIds: string[];
  /** Since when or from when, epoch milliseconds; null where it does not depend on the clock. */
  from: number | null;
  /** What it says, shortened: an acceptance holds as long as this stays. */
  state: string;
  accepted: Acceptance | null;
}

/** FNV-1a over a text, from a beginning of its own. */
function hash(text: string, seed: number): number {
  let value = seed;
  for (let at = 0; at < text.length; at++) value = Math.imul(value ^ text.charCodeAt(at), 0x01000193) >>> 0;
  return value;
}

// People are in many findings: what each adds to a state is computed once.
const known = new Map<string, [number, number]>();
function hashesOf(id: string): [number, number] {
  let hashes = known.get(id);
  if (!hashes) {
    if (known.size > 200_000) known.clear();
    hashes = [hash(id, 0x811c9dc5), hash(id, 0x2545f491)];
    known.set(id, hashes);
  }
  return hashes;
}

/** 64 bits that tell one state of a finding from another: what it says, and whom it touches in whatever order. */
export function shortened(text: string, personIds: string[]): string {
  let [one, other] = [hash(text, 0x811c9dc5), hash(text, 0x2545f491)];
  for (const id of personIds) {
    const hashes = hashesOf(id);
    one = (one + Math.imul(hashes[0], 0x9e3779b1)) >>> 0;
    other = (other + Math.imul(hashes[1], 0x85ebca6b)) >>> 0;
  }
  return [one, other].map((value) => value.toString(16).padStart(8, "0")).join("");
}

type Found = Omit<Finding, "asks" | "state" | "accepted" | "itemId" | "subject" | "personIds" | "from"> & {
  item?: Item;
  subject?: string;
  personIds?: string[];
  from?: number | null;
  /** What must stay the same for an acceptance to hold, beside the people. */
  about?: unknown;
};

/** A finding with its state, and with the acceptance that still holds. */
export function finding(plan: Plan, { item, about, ...found }: Found): Finding {
  const personIds = found.personIds ?? [];
  // The moment is left out: that time goes by changes nothing in it.
  const state = shortened(JSON.stringify([found.key, about ?? null]), personIds);
  const accepted =
    Object.values(plan.acceptances).find((one) => one.finding === found.key && one.state === state) ?? null;
  return {
    ...found,
    asks: asking.has(found.kind),
    itemId: item?.id ?? null,
    subject: found.subject ?? item?.title ?? "",
    personIds,
    from: found.from ?? null,
    state,
    accepted,
  };
}

export const studentsSay = (count: number): string => `${sayNumber(count)} ${count === 1 ? "student" : "students"}`;
