/** Self-placement on the real database: the last seat, codes across courses, and wrong ones. */
import { join } from "node:path";
import { v4, v7 } from "uuid";
import { afterAll, beforeAll, expect, test } from "vitest";
import { storePlan } from "../../../demo/load.ts";
import { makeScenario } from "../../../demo/scenario.ts";
import { membershipOf } from "../../core/access/roles.ts";
import { studentsOf } from "../../core/placement/membership.ts";
import { lookup, studentsAt } from "../../core/plan/lookup.ts";
import type { Group, Layer, Plan } from "../../core/plan/types.ts";
import type { Account } from "../accounts/accounts.ts";
import { createAccount } from "../accounts/accounts.ts";
import { now } from "../clock.ts";
import { course } from "../store/courses.ts";
import { closeDatabase, rows, transaction } from "../store/database.ts";
import { migrate } from "../store/migrate.ts";
import { choose, coursesWithCode, leave, typeCode } from "./self-placing.ts";

const open = { opens: null, closes: null, by: "choice", help: "", showNames: false } as const;
const courses: Plan[] = [];
let seat: Group;
const accounts: Account[] = [];

beforeAll(async () => {
  await migrate(join(import.meta.dirname, "../../../database"), () => undefined);
  for (const code of ["SEAT-1", "SEAT-1"]) {
    const { plan } = makeScenario(Date.now(), v4());
    const layer = lookup(plan).layers.find(({ name }) => name === "Gauge kits") as Layer;
    plan.layers[layer.id] = { ...layer, selfPlacement: { ...open, by: courses.length === 0 ? "choice" : "code" } };
    seat = (lookup(plan).groupsOfLayer.get(layer.id) ?? [])[0] as Group;
    plan.groups[seat.id] = { ...seat, code, max: studentsOf(plan, seat.id, Date.now()).length + 1 };
    courses.push(plan);
    await transaction((connection) => storePlan(plan, connection));
  }
  const first = courses[0] as Plan;
  seat = Object.values(first.groups).find((group) => group.code === "SEAT-1") as Group;
  for (const [at, name] of ["one", "two", "three", "four"].entries()) {
    const sourcedId = at === 0 ? `by-code-${v4()}` : `other-${v4()}`;
    await createAccount({
      username: `${name}-${v4()}`,
      sourcedId,
      displayName: `Okafor, ${name}`,
      passwordHash: "none",
    });
    const [found] = await rows<Account>(
      "SELECT id, username, sourced_id AS sourcedId, display_name AS displayName FROM accounts WHERE sourced_id = ?",
      [sourcedId],
    );
    accounts.push(found as Account);
  }
});
afterAll(closeDatabase);

const stored = async (at: number) => (await course((courses[at] as Plan).course.id))?.plan as Plan;
const account = (at: number) => accounts[at] as Account;

test("fifty ask for the last seat at once: one gets it, the others are told that it is full, and lose nothing", async () => {
  const plan = courses[0] as Plan;
  const before = new Map(Object.values(plan.placements).map((row) => [row.id, row.until]));
  const there = new Set(studentsOf(plan, seat.id, now()));
  const racers = studentsAt(plan, now())
    .filter((id) => !there.has(id))
    .slice(0, 50);
  expect(racers).toHaveLength(50);
  const answers = await Promise.all(racers.map((id) => choose(plan.course.id, account(0), id, seat.id)));
  const winners = racers.filter((_, at) => !("refused" in (answers[at] as object)));
  expect(winners).toHaveLength(1);
  expect(new Set(answers.flatMap((answer) => ("refused" in answer ? [answer.code] : [])))).toEqual(
    new Set(["self.full"]),
  );
  const after = await stored(0);
  expect(studentsOf(after, seat.id, now())).toHaveLength(there.size + 1);
  for (const row of Object.values(after.placements))
    if (!winners.includes(row.personId)) expect(row.until).toBe(before.get(row.id));
  // Given back, the seat can be taken again.
  await leave(plan.course.id, account(0), winners[0] as string, seat.id);
  const next = racers.find((id) => id !== winners[0]) as string;
  expect(await choose(plan.course.id, account(0), next, seat.id)).toMatchObject({
    says: expect.stringContaining("placed"),
  });
});

test("a code that two courses have asks which; each course may then be named", async () => {
  expect(await coursesWithCode(" seat-1 ")).toHaveLength(2);
  const answer = await typeCode(account(0), "seat-1");
  expect("choose" in answer && answer.choose.map(({ id }) => id).sort()).toEqual(
    courses.map((plan) => plan.course.id).sort(),
  );
  const second = (courses[1] as Plan).course.id;
  expect(await typeCode(account(0), "Seat-1", second)).toMatchObject({ courseId: second, kind: "placed" });
  const after = await stored(1);
  const membership = membershipOf(after, account(0).sourcedId, now());
  expect(membership?.role).toBe("student");
  expect(after.people[membership?.personId ?? ""]).toMatchObject({ familyName: "Okafor", givenName: "one" });
  expect(studentsOf(after, (await groupOf(after)).id, now())).toContain(membership?.personId);
  // The seat is gone; whoever comes later is not enrolled either.
  expect(await typeCode(account(1), "seat-1", second)).toMatchObject({ code: "self.full" });
  expect(membershipOf(await stored(1), account(1).sourcedId, now())).toBeNull();
});
const groupOf = async (plan: Plan) => Object.values(plan.groups).find(({ code }) => code === "SEAT-1") as Group;

test("a hundred wrong codes at once are no more than twenty", async () => {
  const codes = await Promise.all(
    Array.from({ length: 100 }, async () => {
      const answer = await typeCode(account(3), `no-${v7()}`);
      return "code" in answer ? answer.code : "";
    }),
  );
  expect(codes.filter((code) => code === "self.code")).toHaveLength(20);
  expect(codes.filter((code) => code === "self.wait")).toHaveLength(80);
});

test("after twenty wrong codes even a right one waits, for that account alone", async () => {
  for (let time = 0; time < 20; time++)
    expect(await typeCode(account(2), `no-${v7()}`)).toMatchObject({ code: "self.code" });
  expect(await typeCode(account(2), "seat-1")).toMatchObject({ code: "self.wait" });
  expect(await typeCode(account(1), "nothing-here")).toMatchObject({ code: "self.code" });
});
