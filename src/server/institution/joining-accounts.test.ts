/** Two accounts of one person: the kept one has the places of both, and the other opens nothing any more. */
import { v4, v7 } from "uuid";
import { afterAll, beforeAll, expect, test } from "vitest";
import { accountOfPerson, coordinatorOf, type Desk, openDesk } from "../../tests/desk.ts";
import { accountOf, createAccount, openSession } from "../accounts/accounts.ts";
import { course, coursesOf } from "../store/courses.ts";
import { closeDatabase, rows, run } from "../store/database.ts";
import { joinAccounts } from "./joining-accounts.ts";

let desk: Desk;
let by = "";
beforeAll(async () => {
  desk = await openDesk();
  by = await coordinatorOf(desk);
});
afterAll(closeDatabase);

const account = async (username: string) => {
  await createAccount({ username, sourcedId: `local:${username}`, displayName: "Weir, Otter", passwordHash: "none" });
  const [found] = await rows<{ id: string }>("SELECT id FROM accounts WHERE username = ?", [username]);
  return found?.id ?? "";
};

test("the places in courses come over with what hangs on them; sessions of the other end", async () => {
  const { plan, courseId, moment } = desk;
  const row = Object.values(plan.enrolments).find(({ role, until }) => role === "student" && until === null);
  const personId = row?.personId ?? "";
  const sourcedId = plan.people[personId]?.sourcedId ?? "";
  const other = await accountOfPerson(plan, personId, v4());
  const username = v4();
  const kept = await account(username);
  const token = await openSession(other, "", Date.now());
  expect(await joinAccounts(kept, sourcedId, by)).toEqual({ done: expect.stringContaining("is joined into") });
  // The database of these tests holds the course many times, with the same people.
  const courses = (await coursesOf(`local:${username}`, moment)).filter(({ course: one }) => one.id === courseId);
  expect(courses.map((one) => [one.course.id, one.personId, one.role])).toEqual([[courseId, personId, "student"]]);
  expect(await coursesOf(sourcedId, moment)).toEqual([]);
  expect(await accountOf(token)).toBeNull();
  expect((await course(courseId))?.plan.people[personId]?.givenName).toBe(plan.people[personId]?.givenName);
  const [found] = await rows<{ disabled: number | null }>("SELECT disabled_at AS disabled FROM accounts WHERE id = ?", [
    other,
  ]);
  expect(found?.disabled).not.toBeNull();
});

test("what cannot be one is said, and nothing is changed", async () => {
  const { plan } = desk;
  const people = Object.values(plan.enrolments).filter(({ role, until }) => role === "student" && until === null);
  const [one, two] = [people[5]?.personId ?? "", people[9]?.personId ?? ""];
  const kept = await accountOfPerson(plan, one, v4());
  const [other, administrator] = [v4(), v4()];
  await accountOfPerson(plan, two, other);
  await run("UPDATE accounts SET administers = 1 WHERE id = ?", [await account(administrator)]);
  const wrong = async (typed: string) => {
    const answer = await joinAccounts(kept, typed, by);
    return answer && "wrong" in answer ? answer.wrong : "";
  };
  expect(await wrong(other)).toContain("Both are in WSH 240");
  expect(await wrong("no such person")).toContain("nobody's username or registrar's id");
  expect(await wrong(plan.people[one]?.sourcedId ?? "")).toContain("this account itself");
  expect(await wrong(administrator)).toContain("administers the institution");
  expect(await joinAccounts(v7(), other, by)).toBeNull();
  expect((await course(desk.courseId))?.plan.people[two]?.sourcedId).toBe(plan.people[two]?.sourcedId);
});
