/** Pairs of students from different groups who come to see each other, or no longer do. Source: semantics.md 4 and 8. */
import { lookup } from "../plan/lookup.ts";
import { surfacesOf } from "../reach/audit/surfaces.ts";
import type { Reach } from "../reach/reach.ts";
import {
  and,
  andNot,
  type Bits,
  countBits,
  countShared,
  emptyBits,
  hasBit,
  listBits,
  or,
  setBit,
} from "../sets/bits.ts";

export interface SightlineChange {
  /** Pairs. */
  added: number;
  removed: number;
  /** The same between two groups, those with most added first. */
  between: { groupIds: [string, string]; added: number; removed: number }[];
}

/** For each student whom they see of the groups of the layer that they are not in. */
function seenBy(reach: Reach, layerId: string): (index: number) => Bits {
  const groups = lookup(reach.plan).groupsOfLayer.get(layerId) ?? [];
  const nobody = emptyBits(reach.students.length);
  const members = groups.map(({ id }) => reach.members({ kind: "group", id }));
  const placed = members.reduce(or, nobody);
  const meetings = surfacesOf(reach).flatMap((surface) => surface.meetings);
  // Students who meet in the same places see the same people: the union is made once.
  const unions = new Map<string, Bits>();
  return (index) => {
    if (!hasBit(placed, index)) return nobody;
    let key = "";
    const theirs: Bits[] = [];
    for (let at = 0; at < meetings.length; at++) {
      if (!hasBit(meetings[at] as Bits, index)) continue;
      key += `${at},`;
      theirs.push(meetings[at] as Bits);
    }
    let met = unions.get(key);
    if (!met) {
      met = theirs.reduce(or, nobody);
      unions.set(key, met);
    }
    return members.reduce((bits, group) => (hasBit(group, index) ? andNot(bits, group) : bits), and(met, placed));
  };
}

/** What a draft changes in who sees whom between the groups of a layer. Students are those of both plans. */
export function sightlineChange(before: Reach, after: Reach, layerId: string): SightlineChange {
  const groups = lookup(after.plan).groupsOfLayer.get(layerId) ?? [];
  const [saw, sees] = [seenBy(before, layerId), seenBy(after, layerId)];
  const { students } = after;
  const alike =
    students.length === before.students.length && students.every((personId, at) => before.students[at] === personId);
  const places = alike ? null : before.students.map((personId) => after.indexOf.get(personId));
  const placed = (bits: Bits): Bits => {
    if (!places) return bits;
    const moved = emptyBits(students.length);
    for (const at of listBits(bits)) {
      const place = places[at];
      if (place !== undefined) setBit(moved, place);
    }
    return moved;
  };
  const nobody = emptyBits(students.length);
  const members = groups.map(({ id }) => after.members({ kind: "group", id }));
  const change: SightlineChange = { added: 0, removed: 0, between: [] };
  const cells = new Map<string, { added: number; removed: number }>();
  for (let index = 0; index < students.length; index++) {
    const then = before.indexOf.get(students[index] as string);
    const old = then === undefined ? nobody : placed(saw(then));
    const now = sees(index);
    for (const [kind, bits] of [
      ["added", andNot(now, old)],
      ["removed", andNot(old, now)],
    ] as const) {
      const count = countBits(bits);
      if (count === 0) continue;
      change[kind] += count / 2;
      members.forEach((mine, a) => {
        if (!hasBit(mine, index)) return;
        members.forEach((theirs, b) => {
          const met = a === b ? 0 : countShared(bits, theirs);
          if (met === 0) return;
          const key = a < b ? `${a}/${b}` : `${b}/${a}`;
          const cell = cells.get(key) ?? { added: 0, removed: 0 };
          cells.set(key, cell);
          cell[kind] += met / 2;
        });
      });
    }
  }
  change.between = [...cells]
    .map(([key, cell]) => {
      const [a, b] = key.split("/").map((at) => groups[Number(at)]?.id ?? "") as [string, string];
      return { groupIds: [a, b] as [string, string], ...cell };
    })
    .sort((a, b) => b.added - a.added || b.removed - a.removed);
  return change;
}
