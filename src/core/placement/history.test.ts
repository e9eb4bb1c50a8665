/** Placements under random sequences of commands. Source: semantics.md section 3, rule of membership and history. */
import fc from "fast-check";
import { expect, test } from "vitest";
import { apply, Command, replay } from "../commands.ts";
import { isRefusal } from "../plan/command.ts";
import { difference } from "../plan/difference.ts";
import { plainForming } from "../plan/forming.ts";
import { holdsAt, lookup, studentsAt } from "../plan/lookup.ts";
import type { Plan } from "../plan/types.ts";
import { membershipSetsAt } from "../reach/membership-sets.ts";
import { type Bits, hasBit } from "../sets/bits.ts";
import { addLayer, addSection, addStudent, coursePlan, t0 } from "../tests/fixture.ts";
import { type Formed, formNow } from "./forming/form.ts";
import { formingInput } from "./forming/input.ts";
import { formedGroups } from "./forming/keep.ts";
import { countLayer, placementsAt } from "./membership.ts";

const people = ["a", "b", "c", "d", "e", "f"];
const groups = { Banks: ["North", "South"], Teams: ["Red", "Blue", "Green"] } as const;

function course(): Plan {
  const plan = coursePlan();
  for (const code of ["D1", "EV"]) addSection(plan, code);
  addLayer(plan, "Banks", [...groups.Banks], {
    following: [
      { sectionIds: ["D1"], attribute: null, groupId: "North" },
      { sectionIds: ["EV"], attribute: null, groupId: "South" },
    ],
  });
  addLayer(plan, "Teams", [...groups.Teams]);
  for (const [at, id] of people.entries()) addStudent(plan, id, [at % 2 ? "D1" : "EV"], [at % 2 ? "North" : "South"]);
  return plan;
}

const someone = fc.uniqueArray(fc.constantFrom(...people), { minLength: 1, maxLength: 3 });
const group = fc.constantFrom(...groups.Banks, ...groups.Teams);
/** What somebody does, still without an id and a moment of its own. */
const deed = fc.oneof(
  fc.record({ kind: fc.constant("placement.place" as const), groupId: group, personIds: someone }),
  fc.record({ kind: fc.constant("placement.remove" as const), groupId: group, personIds: someone }),
  fc.record({ kind: fc.constant("placement.hold" as const), groupId: group, personIds: someone, held: fc.boolean() }),
  fc.constant({ kind: "layer.topUp" as const, layerId: "Teams" }),
  fc.record({ kind: fc.constant("form" as const), seed: fc.integer({ min: 1, max: 9 }) }),
  fc.record({ kind: fc.constant("follow" as const), yes: fc.boolean() }),
);
type Deed = typeof deed extends fc.Arbitrary<infer Value> ? Value : never;

function commandOf(plan: Plan, made: Deed, serial: number, now: number): Command {
  const id = `00000000-0000-7000-8000-${String(serial).padStart(12, "0")}`;
  if (made.kind === "form") {
    const forming = { ...plainForming, into: { by: "groups" as const, number: 3 } };
    const input = formingInput(plan, "Teams", forming, now);
    const formed = formNow(input, made.seed) as Formed;
    let number = 0;
    const kept = formedGroups(plan, "Teams", input, formed, () => `extra ${serial} ${++number}`);
    return Command.parse({ id, kind: "layer.form", layerId: "Teams", layer: null, forming, groups: kept });
  }
  if (made.kind === "follow") {
    const following = made.yes ? course().layers.Banks?.following : null;
    return Command.parse({ id, kind: "layer.change", layerId: "Banks", fields: { following } });
  }
  return Command.parse({ id, ...made });
}

test("nobody is ever in two groups of a layer of one, nobody is lost, and what was at any moment stays known", () => {
  fc.assert(
    fc.property(fc.array(deed, { minLength: 1, maxLength: 14 }), (deeds) => {
      let plan = course();
      /** Who is in which groups after each moment, written down when it happened. */
      const journal: { at: number; groupsOf: Record<string, string[]> }[] = [];
      const groupsOf = (of: Plan, t: number) =>
        Object.fromEntries(
          people.map((id) => [
            id,
            lookup(of)
              .layers.flatMap((layer) => placementsAt(of, layer.id, t))
              .filter(({ personId }) => personId === id)
              .map(({ groupId }) => groupId)
              .sort(),
          ]),
        );
      for (const [at, made] of deeds.entries()) {
        const now = t0 + at * 1000;
        const next = apply(plan, commandOf(plan, made, at + 1, now), { now });
        if (isRefusal(next)) expect(next.sentence).toMatch(/\.$/);
        else plan = next;
        journal.push({ at: now, groupsOf: groupsOf(plan, now) });
        expect([...studentsAt(plan, now)].sort()).toEqual([...people].sort());
        for (const layerId of ["Banks", "Teams"]) {
          const { inTwo, placed, unplaced, groups: all } = countLayer(plan, layerId, now);
          expect(inTwo).toEqual([]);
          expect(placed + unplaced.length).toBe(people.length);
          expect(all.reduce((sum, { personIds }) => sum + personIds.length, 0)).toBe(placed);
        }
      }
      // What was kept on the way answers as a plan does that was never asked before, at every moment and in any order.
      const strange = structuredClone(plan);
      for (const t of [...journal.map(({ at }) => at - 1), ...journal.map(({ at }) => at).reverse()]) {
        const [mine, theirs] = [membershipSetsAt(plan, t), membershipSetsAt(strange, t)];
        expect([mine.students, mine.groups, mine.sections]).toEqual([theirs.students, theirs.groups, theirs.sections]);
        const all = Object.values(plan.placements).filter((row) => holdsAt(row, t));
        expect([...mine.groups.keys()].sort()).toEqual([...new Set(all.map(({ groupId }) => groupId))].sort());
        for (const { groupId, personId } of all)
          expect(hasBit(mine.groups.get(groupId) as Bits, mine.indexOf.get(personId) as number)).toBe(true);
        for (const { id } of Object.values(plan.layers))
          expect(countLayer(plan, id, t)).toEqual(countLayer(structuredClone(plan), id, t));
      }
      // A later change never changes the answer to an earlier question, up to the moment of the next change.
      for (const [at, written] of journal.entries()) {
        expect(groupsOf(plan, written.at)).toEqual(written.groupsOf);
        const until = journal[at + 1]?.at;
        if (until !== undefined) expect(groupsOf(plan, until - 1)).toEqual(written.groupsOf);
      }
    }),
    { numRuns: 60 },
  );
});

test("undo is a replay without the last: the plan is the one before, row for row", () => {
  fc.assert(
    fc.property(fc.array(deed, { minLength: 1, maxLength: 8 }), (deeds) => {
      const published = course();
      const commands: Command[] = [];
      let before = published;
      let last = published;
      for (const [at, made] of deeds.entries()) {
        const command = commandOf(last, made, at + 1, t0);
        if (isRefusal(apply(last, command, { now: t0 }))) continue;
        before = last;
        commands.push(command);
        last = replay(published, commands, { now: t0 }).plan;
      }
      const undone = replay(published, commands.slice(0, -1), { now: t0 }).plan;
      expect(difference(undone, before)).toEqual([]);
      expect(difference(replay(published, commands, { now: t0 }).plan, last)).toEqual([]);
    }),
    { numRuns: 60 },
  );
});
