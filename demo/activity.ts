/** Eight weeks of marks, hand-ins, opened items and posts. */

import { studentsOf } from "../src/core/placement/membership.ts";
import { lookup } from "../src/core/plan/lookup.ts";
import { type GroupMark, type HandIn, type Mark, noProgress, type Opening } from "../src/core/plan/progress.ts";
import type { Item, Plan } from "../src/core/plan/types.ts";
import { reachAt } from "../src/core/reach/reach.ts";
import { listBits } from "../src/core/sets/bits.ts";
import { resolveDates, resolvedInstant } from "../src/core/timing/resolving/resolve.ts";
import { onlyId } from "../src/server/groups/entries.ts";
import type { Random } from "./random.ts";

export interface Activity {
  marks: Mark[];
  handIns: (HandIn & { body: string })[];
  openings: Opening[];
  groupMarks: GroupMark[];
  posts: {
    id: string;
    itemId: string;
    groupId: string | null;
    personId: string;
    at: number;
    body: string;
  }[];
  /** What teams keep on their pages. */
  entries: {
    id: string;
    groupId: string;
    kind: "notice" | "note" | "meeting link";
    personId: string;
    at: number;
    title: string;
    body: string;
  }[];
}

const remarks = [
  "The left bank is undercut for about four metres; we could not place the tape there.",
  "We had 0.42 m/s at six tenths. Does anyone else find the upstream side slower?",
  "Our float stuck in the weed twice. Third run counts, I think.",
  "Somebody should check the datum against the plate before lab 3.",
  "Good point. I would rather take more verticals than longer averages.",
  "The levels page says it rose 11 cm overnight, so Tuesday's readings are not comparable.",
];

export function makeActivity(plan: Plan, random: Random, now: number, id: (name: string) => string): Activity {
  const made: Activity = { marks: [], handIns: [], openings: [], groupMarks: [], posts: [], entries: [] };
  // Who may do what is asked once, now: progress of the past needs no more than that.
  const reach = reachAt(plan, noProgress, now);
  const hour = 3600_000;
  const skill = new Map(reach.students.map((personId) => [personId, random.around(0.72, 0.13)]));

  for (const item of Object.values(plan.items)) {
    const audience = listBits(reach.meant(item)).filter(() => item.published);
    for (const index of audience) {
      const personId = reach.students[index] as string;
      const dates = resolveDates(plan, item, reach.memberships(index));
      const opens = resolvedInstant(plan, dates, "opens") ?? now - 56 * 24 * hour;
      const due = resolvedInstant(plan, dates, "due");
      if (opens > now) continue;
      const first = Math.min(now - hour, opens + random.next() * 72 * hour);
      if (item.kind !== "folder" && random.next() < 0.9) {
        made.openings.push({
          personId,
          itemId: item.id,
          at: Math.round(first),
          readAt: random.next() < 0.4 ? Math.round(first + hour) : null,
        });
      }
      if (item.points !== null && due !== null) work(item, personId, due);
    }
  }

  function work(item: Item, personId: string, due: number): void {
    const ability = skill.get(personId) ?? 0.7;
    const started = (lookup(plan).enrolmentsOfPerson.get(personId) ?? []).reduce(
      (first, { since }) => Math.min(first, since),
      now,
    );
    if (started > due) return;
    const hands = random.next() < (due < now ? 0.94 : 0.35);
    const excused = !hands && random.next() < 0.25;
    const markedAt = due + (30 + random.below(80)) * hour;
    if (hands) {
      const late = random.next() < 0.07 ? random.below(40) * hour : -random.below(50) * hour;
      const at = Math.min(now - hour, due + late - 7 * 60_000);
      const body =
        item.kind === "assignment"
          ? "Readings, sketch and discharge are below.\n\nQ = 1.84 ± 0.12 m³/s, from eleven verticals."
          : "";
      made.handIns.push({
        id: id(`hand-in ${item.id} ${personId}`),
        personId,
        itemId: item.id,
        at,
        body,
      });
    }
    if (markedAt < now && (hands || excused)) {
      const share = Math.min(1, Math.max(0.15, ability + random.around(0, 0.09)));
      const points = Math.round(share * (item.points ?? 0) * 2) / 2;
      made.marks.push({
        personId,
        itemId: item.id,
        points: excused ? null : points,
        excused,
        at: Math.round(markedAt),
      });
    }
  }

  for (const item of Object.values(plan.items)) {
    if (item.kind !== "discussion" || item.condition) continue;
    const writers = random.shuffle(listBits(reach.meant(item))).slice(0, item.split ? 60 : 9);
    for (const index of writers) {
      const personId = reach.students[index] as string;
      const mine = reach.memberships(index).groupIds;
      const groupId = item.split
        ? ((lookup(plan).groupsOfLayer.get(item.split.layerId) ?? []).find((group) => mine.has(group.id))?.id ?? null)
        : null;
      if (item.split && !groupId) continue;
      made.posts.push({
        id: id(`post ${item.id} ${personId}`),
        itemId: item.id,
        groupId,
        personId,
        at: Math.round(now - (2 + random.next() * 40) * 24 * hour),
        body: random.pick(remarks),
      });
    }
  }
  for (const group of Object.values(plan.groups)) {
    const [first, second] = studentsOf(plan, group.id, now);
    if (!group.page || !first || !second) continue;
    const add = (
      kind: "notice" | "note" | "meeting link",
      personId: string,
      days: number,
      title: string,
      body: string,
    ) =>
      made.entries.push({
        id: kind === "notice" ? id(`notice ${group.id}`) : onlyId(group.id, kind),
        groupId: group.id,
        kind,
        personId,
        at: now - days * 24 * hour,
        title,
        body,
      });
    add("meeting link", first, 40, `https://meet.tarnbeck.example/${group.stripe.mark.toLowerCase()}`, "");
    add(
      "note",
      first,
      33,
      "",
      "<p>Tape and current meter: whoever is first at the hut. Readings go into the shared file the same evening.</p>",
    );
    add(
      "notice",
      second,
      2,
      "Waders",
      "<p>The hut is short of two pairs on Thursday. Bring your own if you have them.</p>",
    );
  }
  return made;
}
