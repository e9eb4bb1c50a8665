/** Erasing a person: afterwards no row of any table holds what they were called, and what others did is as it was. */
import { gunzipSync } from "node:zlib";
import { v7 } from "uuid";
import { afterAll, beforeAll, expect, test } from "vitest";
import type { RosterRow } from "../../core/intake/rows.ts";
import { wholeRoster } from "../../core/intake/verdict.ts";
import { fullName, plainName } from "../../core/plan/lookup.ts";
import type { Person } from "../../core/plan/types.ts";
import { faultsIn } from "../../core/plan/valid.ts";
import { accountOfPerson, coordinatorOf, type Desk, openDesk, sendFile } from "../../tests/desk.ts";
import { createAccount } from "../accounts/accounts.ts";
import { applyIntake, undoIntake } from "../intake/intakes.ts";
import { course } from "../store/courses.ts";
import { closeDatabase, rows, run, transaction } from "../store/database.ts";
import { type WorkRow, workRows } from "../store/work-copy.ts";
import { erase, lookAtErasing } from "./erasing.ts";

let desk: Desk;
let by = "";
beforeAll(async () => {
  desk = await openDesk();
  by = await coordinatorOf(desk);
});
afterAll(closeDatabase);

/**
 * Somebody with a name of their own who wrote posts and has marks: always the same one, whom no other test of these files
 * asks about, since those begin with the first students of a course.
 */
async function somebody(): Promise<Person> {
  const { plan, courseId } = desk;
  const names = new Map<string, number>();
  for (const one of Object.values(plan.people)) names.set(plainName(one), (names.get(plainName(one)) ?? 0) + 1);
  const found = await rows<{ id: string }>(
    "SELECT DISTINCT p.person_id AS id FROM posts p JOIN marks m ON m.person_id = p.person_id WHERE p.course_id = ?",
    [courseId],
  );
  const those = found.map(({ id }) => plan.people[id] as Person).filter((person) => names.get(plainName(person)) === 1);
  const one = those.sort((a, b) => (a.sourcedId < b.sourcedId ? -1 : 1)).at(-1);
  if (!one) throw new Error("nobody");
  return one;
}

/** Every table with a row that holds one of the words, also in what is compressed. */
async function tablesThatHold(words: string[]): Promise<string[]> {
  const tables = (await rows<Record<string, string>>("SHOW TABLES")).flatMap((row) => Object.values(row));
  const found: string[] = [];
  for (const table of tables) {
    for (const row of await rows<Record<string, unknown>>(`SELECT * FROM \`${table}\``)) {
      const text = Object.values(row)
        .map((value) => {
          if (!(value instanceof Uint8Array)) return typeof value === "object" ? JSON.stringify(value) : String(value);
          return value[0] === 0x1f && value[1] === 0x8b
            ? gunzipSync(value).toString("utf8")
            : Buffer.from(value).toString();
        })
        .join("\n");
      const word = words.find((one) => text.includes(one));
      if (word) found.push(`${table}: ${word}`);
    }
  }
  return [...new Set(found)];
}

test("after it no table holds a name, login, e-mail or id of theirs, and the work of all others is as it was", async () => {
  const { courseId, moment } = desk;
  const person = await somebody();
  const accountId = await accountOfPerson(desk.plan, person.id, person.username ?? "somebody");
  // A roster that changes their e-mail, a file of theirs, a comment, a letter, a line of the journal, a past proposal.
  const email = "somebody.else@tarnbeck.example";
  const row: RosterRow = {
    ...{ file: "week-9.csv", line: 2, sourcedId: person.sourcedId, username: person.username ?? "", email },
    ...{ givenName: person.givenName, familyName: person.familyName, sectionCode: "", sectionTitle: "", meets: "" },
    ...{ role: "student", attributes: {}, problem: null },
  };
  const section = Object.values(desk.plan.enrolments).find(({ personId }) => personId === person.id)?.sectionId ?? "";
  const request = {
    ...{ intakeId: v7(), revision: (await course(courseId))?.revision ?? 0, sectionLayer: null, files: ["week-9.csv"] },
    rows: [{ ...row, sectionCode: desk.plan.sections[section]?.code ?? "" }],
    options: { ...wholeRoster, partial: true },
  };
  expect(await applyIntake(courseId, by, request)).toMatchObject({ applied: true });
  const file = await sendFile(courseId, accountId, { name: "mine.csv", bytes: Buffer.from(plainName(person)) }, moment);
  const fileId = "id" in file ? file.id : "";
  const handIn =
    "INSERT INTO hand_ins (id, course_id, item_id, person_id, at, body, file_id) VALUES (?, ?, ?, ?, ?, ?, ?)";
  await run(handIn, [v7(), courseId, v7(), person.id, moment, `By ${plainName(person)}`, fileId]);
  const line =
    "INSERT INTO journal (id, course_id, account_id, revision, at, kind, says, detail) VALUES (?, ?, ?, 0, ?, 'staff', ?, '{}')";
  await run(line, [v7(), courseId, by, moment, `Wrote to ${fullName(person)}`]);
  const words = [plainName(person), fullName(person), person.sourcedId, person.email ?? email, email];
  expect((await tablesThatHold(words)).length).toBeGreaterThan(4);

  const look = await lookAtErasing(accountId);
  expect(look).toMatchObject({
    displayName: person.username,
    remains: expect.arrayContaining([expect.stringMatching(/^\d+ marks? without a name/)]),
  });
  const others = (list: WorkRow[]) =>
    list
      .filter((one) => ![one.person_id, one.holder_id, one.about_id].includes(person.id))
      .map((one) => JSON.stringify(one));
  const work = () => transaction((connection) => workRows(courseId, connection));
  const before = await work();
  expect(await erase(accountId, by)).toEqual({ erased: true });
  const after = await work();
  expect(others(after).sort()).toEqual(others(before).sort());
  const theirs = (list: WorkRow[], column: string) =>
    list.filter((one) => one.person_id === person.id && column in one);
  for (const column of ["points", "place_id", "link"])
    expect(theirs(after, column)).toHaveLength(theirs(before, column).length);
  expect(theirs(after, "place_id").map(({ body }) => body)).not.toContainEqual(expect.stringMatching(/^(?!Erased\.$)/));

  expect(await tablesThatHold(words)).toEqual([]);
  const plan = (await course(courseId))?.plan;
  expect(plan && faultsIn(plan)).toEqual([]);
  expect(plan?.people[person.id]).toMatchObject({ givenName: "Erased", username: null, email: null, attributes: {} });
  // Erased again nothing is found any more.
  expect(await erase(accountId, by)).toEqual({ erased: true });
});

test("whoever was in a course once, and is not in its plan any more, goes out of its history too", async () => {
  const { courseId, plan } = desk;
  const gone = { sourcedId: "77310042", givenName: "Quillon", familyName: "Abelard-Voss", username: "qabelard" };
  const row: RosterRow = {
    ...{ file: "late.csv", line: 2, ...gone, email: "quillon@tarnbeck.example", sectionTitle: "", meets: "" },
    ...{ sectionCode: Object.values(plan.sections)[0]?.code ?? "", role: "student", attributes: {}, problem: null },
  };
  const intakeId = v7();
  const request = {
    ...{ intakeId, revision: (await course(courseId))?.revision ?? 0, sectionLayer: null, files: ["late.csv"] },
    ...{ rows: [row], options: { ...wholeRoster, partial: true } },
  };
  expect(await applyIntake(courseId, by, request)).toMatchObject({ applied: true });
  expect(await undoIntake(courseId, by, intakeId)).toMatchObject({ undone: true });
  const there = Object.values((await course(courseId))?.plan.people ?? {});
  expect(there.some(({ sourcedId }) => sourcedId === gone.sourcedId)).toBe(false);
  const words = Object.values(gone);
  expect(await tablesThatHold(words)).toContain(`revisions: ${gone.sourcedId}`);
  const accountId = await createAccount({
    ...{ username: gone.username, sourcedId: gone.sourcedId, passwordHash: null },
    displayName: `${gone.familyName}, ${gone.givenName}`,
  });
  expect(await erase(accountId, by)).toEqual({ erased: true });
  expect(await tablesThatHold(words)).toEqual([]);
});

test("whoever is on a staff, or is named by what is drafted, is not erased yet, and it is said why", async () => {
  expect(await lookAtErasing(by)).toEqual({ wrong: expect.stringContaining("is on the staff of a course") });
  expect(await erase(by, by)).toEqual({ wrong: expect.stringContaining("is on the staff of a course") });
  expect(await lookAtErasing(v7())).toBeNull();
  const { plan, courseId, first } = desk;
  const row = Object.values(plan.enrolments).find(({ role, until }) => role === "student" && until === null);
  const accountId = await accountOfPerson(plan, row?.personId ?? "");
  const proposal = "INSERT INTO proposals (id, course_id, account_id, at, commands) VALUES (?, ?, ?, 0, ?)";
  await run(proposal, [v7(), courseId, first, JSON.stringify([{ personIds: [row?.personId] }])]);
  expect(await lookAtErasing(accountId)).toEqual({ wrong: expect.stringContaining("in WSH 240 names them") });
  expect((await course(courseId))?.plan.people[row?.personId ?? ""]?.familyName).not.toContain("person");
});
