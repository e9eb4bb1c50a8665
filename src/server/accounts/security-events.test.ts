/** Security events on the real database: repeats are counted, nothing that was typed is kept, and a year is their end. */
import { join } from "node:path";
import { v4 } from "uuid";
import { afterAll, beforeAll, expect, test } from "vitest";
import { closeDatabase, rows } from "../store/database.ts";
import { migrate } from "../store/migrate.ts";
import { createAccount } from "./accounts.ts";
import { signIn } from "./entering.ts";
import { hashPassword } from "./passwords.ts";
import { forgetEvents, noteEvent } from "./security-events.ts";

const hour = 3_600_000;
const at = Math.floor(Date.now() / hour) * hour;
interface Row {
  kind: string;
  times: number;
  at: number;
  lastAt: number;
}
const ofCourse = (courseId: string) =>
  rows<Row>("SELECT kind, times, at, last_at AS lastAt FROM security_events WHERE course_id = ? ORDER BY at, kind", [
    courseId,
  ]);

beforeAll(() => migrate(join(import.meta.dirname, "../../../database"), () => undefined));
afterAll(closeDatabase);

test("what somebody does again within the hour is one row, also at the same time; the next hour is another", async () => {
  const [courseId, accountId, personId] = [v4(), v4(), v4()];
  const look = { kind: "looked", courseId, accountId, personId } as const;
  await Promise.all(Array.from({ length: 40 }, () => noteEvent(look, at)));
  await noteEvent(look, at + 60_000);
  await noteEvent({ ...look, personId: v4() }, at + 60_000);
  await noteEvent(look, at + hour);
  expect((await ofCourse(courseId)).map(({ times, lastAt }) => [times, lastAt - at])).toEqual([
    [41, 60_000],
    [1, 60_000],
    [1, hour],
  ]);
});

test("a sign-in that failed is kept with the account and the address, and without what was typed", async () => {
  const username = `noted-${v4()}`;
  await createAccount({
    username,
    sourcedId: v4(),
    displayName: "Adeyemi, Bola",
    passwordHash: await hashPassword("right"),
  });
  const address = `192.0.2.${v4().slice(0, 8)}`;
  await signIn(username, "wr0ng-s3cret", { address });
  await signIn(`nobody-${username}`, "wr0ng-s3cret", { address });
  await signIn(username, "right", { address });
  const noted = await rows<Record<string, unknown>>("SELECT * FROM security_events WHERE address = ? ORDER BY id", [
    address,
  ]);
  expect(noted.map(({ kind, account_id }) => [kind, account_id !== null])).toEqual(
    expect.arrayContaining([
      ["sign-in failed", true],
      ["sign-in failed", false],
      ["signed in", true],
    ]),
  );
  expect(noted).toHaveLength(3);
  expect(JSON.stringify(noted)).not.toMatch(/noted-|nobody-|s3cret|right/);
});

test("after a year a line is forgotten, and not before", async () => {
  const courseId = v4();
  const year = 365 * 24 * hour;
  await noteEvent({ kind: "exported", courseId, what: "old.csv" }, at - year - 1);
  await noteEvent({ kind: "exported", courseId, what: "young.csv" }, at - year + 1);
  await forgetEvents(at);
  expect((await ofCourse(courseId)).map((row) => row.at)).toEqual([at - year + 1]);
});
