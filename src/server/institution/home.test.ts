/** What waits for somebody in their courses, and what the audit found: as it stands in the database of the demo course. */
import { v7 } from "uuid";
import { afterAll, beforeAll, expect, test } from "vitest";
import { accountOfPerson, coordinatorOf, type Desk, openDesk } from "../../tests/desk.ts";
import { calendarAt, makeAddress, wholeAddresses, withdrawWhole } from "../course/calendar-addresses.ts";
import { coursesOf } from "../store/courses.ts";
import { closeDatabase, rows, run } from "../store/database.ts";
import { dueIn, soonDays } from "../student/home.ts";
import { renewFindings } from "./findings.ts";
import { waitingFor } from "./waiting.ts";

let desk: Desk;
let coordinator = "";
const personOf = (role: string, code?: string) => {
  const { plan } = desk;
  const row = Object.values(plan.enrolments).find(
    (one) => one.role === role && (!code || plan.sections[one.sectionId ?? ""]?.code === code),
  );
  return row?.personId ?? "";
};
const sourcedId = (personId: string) => desk.plan.people[personId]?.sourcedId ?? "";
const waits = async (accountId: string, personId: string) => {
  const courses = await coursesOf(sourcedId(personId), desk.moment);
  const all = await waitingFor(accountId, courses, desk.moment);
  return (all.get(desk.courseId) ?? []).map(({ says }) => says);
};

beforeAll(async () => {
  desk = await openDesk();
  coordinator = await coordinatorOf(desk);
});
afterAll(closeDatabase);

test("a coordinator is told of findings once the audit has asked, of proposals, drafts, plans and rosters", async () => {
  const before = await waits(coordinator, personOf("coordinator"));
  expect(before.filter((says) => /leak|finding/.test(says))).toEqual([]);
  // Whatever else the database holds is asked as well, some courses a round.
  for (let round = 0; round < 20 && (await renewFindings(desk.moment)) > 0; round++);
  expect(await renewFindings(desk.moment)).toBe(0);
  const [found] = await rows<{ leaks: number; students: number }>(
    "SELECT leaks, students FROM course_findings WHERE course_id = ?",
    [desk.courseId],
  );
  expect(found?.leaks).toBeGreaterThan(0);
  expect(found?.students).toBeGreaterThan(90);
  const { courseId, moment } = desk;
  await run("INSERT INTO proposals (id, course_id, account_id, at, commands) VALUES (?, ?, ?, ?, '[]')", [
    ...[v7(), courseId, desk.first, moment],
  ]);
  await run("INSERT INTO pulls (id, course_id, at, state, says) VALUES (?, ?, ?, 'waiting', '')", [
    v7(),
    courseId,
    moment,
  ]);
  const after = await waits(coordinator, personOf("coordinator"));
  expect(after[0]).toContain(`${found?.leaks} leak`);
  for (const says of ["a proposal", "a roster to look at"]) expect(after).toContain(says);
  expect(after.some((says) => /^\d+ to mark$/.test(says))).toBe(true);
  // Changed, it is asked anew.
  await run("UPDATE courses SET revision = revision + 1 WHERE id = ?", [courseId]);
  expect(await renewFindings(moment)).toBe(1);
  await run("UPDATE courses SET revision = revision - 1 WHERE id = ?", [courseId]);
});

test("whoever has a section is told of work in it alone, and of nothing that only coordinators see", async () => {
  const number = (all: string[]) => Number(all.find((says) => says.endsWith("to mark"))?.split(" ")[0] ?? 0);
  const whole = number(await waits(coordinator, personOf("coordinator")));
  const one = personOf("instructor", "EV");
  const theirs = await waits(await accountOfPerson(desk.plan, one), one);
  expect(number(theirs)).toBeGreaterThan(0);
  expect(number(theirs)).toBeLessThan(whole);
  expect(theirs.filter((says) => !says.endsWith("to mark"))).toEqual([]);
});

test("a student's dues stand in one list and at one address, which is withdrawn and is nobody else's", async () => {
  const student = personOf("student", "EV");
  const account = await accountOfPerson(desk.plan, student);
  const courses = await coursesOf(sourcedId(student), desk.moment);
  const [soon, all] = [await dueIn(courses, soonDays), await dueIn(courses)];
  expect(all.length).toBeGreaterThanOrEqual(3);
  expect(all.slice(0, soon.length)).toEqual(soon);
  const days = ((all[0]?.at ?? 0) - Date.now()) / 86_400_000 + 0.01;
  expect(await dueIn(courses, days)).toEqual(all.filter(({ at }) => at === all[0]?.at));
  const address = await makeAddress(null, account, { kind: "all" });
  const token = /\/calendar\/(.+)\.ics/.exec(address ?? "")?.[1] ?? "";
  const file = await calendarAt(token, { origin: "https://amber.example" });
  for (const { title } of all.slice(0, 3)) expect(file?.replaceAll(/\r\n /g, "")).toContain(title);
  expect(file).toContain("SUMMARY:WSH 240: ");
  const [made] = await wholeAddresses(account);
  expect(made?.readAt).not.toBeNull();
  expect(await withdrawWhole(desk.first, made?.id ?? "")).toBe(false);
  expect(await withdrawWhole(account, made?.id ?? "")).toBe(true);
  expect(await calendarAt(token, { origin: null })).toBeNull();
});
