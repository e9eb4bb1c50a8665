/** Sections moved and courses joined: each taken back leaves both courses as they were, with what was done meanwhile. */
import { v4, v7 } from "uuid";
import { afterAll, beforeAll, describe, expect, test } from "vitest";
import { derivedId } from "../../core/plan/command.ts";
import { same } from "../../core/plan/difference.ts";
import { holdsAt } from "../../core/plan/lookup.ts";
import type { Plan } from "../../core/plan/types.ts";
import { coordinatorOf, openDesk } from "../../tests/desk.ts";
import { now } from "../clock.ts";
import { feedOf, setFeed } from "../intake/feeds.ts";
import { course, lockCourse, moveCourse } from "../store/courses.ts";
import { closeDatabase, rows, run, transaction } from "../store/database.ts";
import { workRows } from "../store/work-copy.ts";
import type { MoveRequest } from "./moves.ts";
import { lookAtMove, type Mover, makeMove } from "./moving.ts";
import { pastMoves, takeMoveBack } from "./moving-back.ts";

let here = "";
let there = "";
let mover: Mover;
const planOf = async (id: string) => (await course(id))?.plan as Plan;
const work = (id: string) => transaction((connection) => workRows(id, connection));
const inOrder = (list: object[]) => list.map((row) => JSON.stringify(row)).sort();
const archivedAt = async (id: string) =>
  (await rows<{ at: number | null }>("SELECT archived_at AS at FROM courses WHERE id = ?", [id]))[0]?.at;

beforeAll(async () => {
  const desk = await openDesk();
  here = desk.courseId;
  there = desk.emptyCourseId;
  const [account] = await rows<Mover>("SELECT id AS accountId, sourced_id AS sourcedId FROM accounts WHERE id = ?", [
    await coordinatorOf(desk),
  ]);
  mover = account as Mover;
});
afterAll(closeDatabase);

const move = (fields: Partial<MoveRequest>): MoveRequest => ({
  ...{ id: v7(), kind: "out", courseId: here, otherId: null, sectionIds: [], code: "WSH 240 D1", title: "Day one" },
  ...fields,
});
const sections = async (...codes: string[]) =>
  Object.values((await planOf(here)).sections).flatMap(({ id, code }) => (codes.includes(code) ? [id] : []));
const students = (plan: Plan, sectionId?: string) =>
  Object.values(plan.enrolments).filter(
    (row) => row.role === "student" && holdsAt(row, now()) && (!sectionId || row.sectionId === sectionId),
  );

/** Makes a move and takes it back; both courses are then as they were, whatever stood in them. */
async function thereAndBack(request: MoveRequest, meanwhile: () => Promise<void> = async () => {}) {
  const ids = [here, ...(request.otherId ? [request.otherId] : [])];
  const before = await Promise.all(ids.map(async (id) => [await planOf(id), inOrder(await work(id))] as const));
  expect(await makeMove(request, mover)).toEqual({ moved: true, id: request.id });
  // Sent again it is not made again.
  expect(await makeMove(request, mover)).toEqual({ moved: true, id: request.id });
  await meanwhile();
  expect(await takeMoveBack(request.id, mover)).toEqual({ undone: true });
  for (const [at, id] of ids.entries()) {
    expect(same(await planOf(id), before[at]?.[0])).toBe(true);
    expect(await archivedAt(id)).toBeNull();
  }
  expect(await takeMoveBack(request.id, mover)).toMatchObject({ undone: false });
  return async () => {
    for (const [at, id] of ids.entries()) expect(inOrder(await work(id))).toEqual(before[at]?.[1]);
  };
}

describe("sections", () => {
  test("that are taken out leave as if dropped, and come back", async () => {
    const sectionIds = await sections("D1", "D2");
    const workIsSame = await thereAndBack(move({ sectionIds }), async () => {
      const plan = await planOf(here);
      expect(sectionIds.flatMap((id) => students(plan, id))).toEqual([]);
      expect(students(plan).length).toBeGreaterThan(20);
    });
    await workIsSame();
  });

  test("go into a course of their own with what they did; what they do there comes back with them", async () => {
    const sectionIds = await sections("EV");
    const request = move({ kind: "own", sectionIds });
    const own = request.id;
    const idThere = (id: string) => derivedId(own, id);
    const evening = students(await planOf(here), sectionIds[0]).map(({ personId }) => personId);
    const old = (await work(here)).filter(({ person_id: id }) => evening.includes(String(id)));
    // The staff goes along, and what it wrote of those who stay does not.
    const plan = await planOf(here);
    const staff = Object.values(plan.enrolments).find(({ role }) => role === "coordinator")?.personId ?? "";
    const stays = students(plan).find(({ sectionId }) => sectionId !== sectionIds[0])?.personId ?? "";
    const foreign = Object.keys(plan.groups).find((id) =>
      Object.values(plan.placements).every((row) => row.groupId !== id || !evening.includes(row.personId)),
    );
    const note =
      "INSERT INTO staff_notes (id, course_id, about_kind, about_id, person_id, at, body) VALUES (?, ?, 'person', ?, ?, ?, ?)";
    for (const about of [stays, evening[0] ?? ""])
      await run(note, [v7(), here, about, staff, now(), about === stays ? "of one who stays" : "of one who goes"]);
    const answer =
      "INSERT INTO posts (id, course_id, place_id, group_id, person_id, at, body) VALUES (?, ?, ?, ?, ?, ?, 'to those who stay')";
    await run(answer, [v7(), here, Object.keys(plan.items)[0] ?? "", foreign ?? "", staff, now()]);
    let post = "";
    await thereAndBack(request, async () => {
      const plan = await planOf(own);
      expect(students(plan)).toHaveLength(evening.length);
      expect(Object.keys(plan.items)).toHaveLength(Object.keys((await planOf(here)).items).length);
      const theirs = (await work(own)).filter(({ person_id: id }) => id);
      const ofStaff = theirs.filter(({ person_id: id }) => !evening.map(idThere).includes(String(id)));
      expect(ofStaff.map(({ body }) => body)).toEqual(["of one who goes"]);
      expect(theirs.length - ofStaff.length).toBe(old.length);
      const [one] = theirs.filter((row) => "place_id" in row && row.group_id === null);
      post = v7();
      await run(
        "INSERT INTO posts (id, course_id, place_id, group_id, person_id, at, body) VALUES (?, ?, ?, NULL, ?, ?, 'written meanwhile')",
        [post, own, String(one?.place_id), String(one?.person_id), now()],
      );
    });
    const written = (await work(here)).filter(({ body }) => body === "written meanwhile");
    expect(written).toHaveLength(1);
    expect(evening).toContain(written[0]?.person_id);
    expect(await archivedAt(own)).not.toBeNull();
    expect(students(await planOf(own))).toEqual([]);
    await run("DELETE FROM posts WHERE id = ?", [String(written[0]?.id)]);
  });

  test("go into another course, into groups there; not where a code would be twice", async () => {
    const sectionIds = await sections("DL");
    const request = move({ kind: "over", sectionIds, otherId: there });
    const workIsSame = await thereAndBack(request, async () => {
      expect(students(await planOf(here), sectionIds[0])).toEqual([]);
      const into = await planOf(there);
      const distance = Object.values(into.sections).find(({ code }) => code === "DL");
      expect(students(into, distance?.id).length).toBeGreaterThan(10);
      const again = await makeMove(move({ kind: "over", sectionIds, otherId: there }), mover);
      expect(again).toEqual({ wrong: expect.stringContaining("has a section DL already") });
    });
    await workIsSame();
  });

  test("take their classes at the registrar along, where those are known; else nothing is drawn by night", async () => {
    const feed = { classes: ["c1"], nightlyAt: "02:00", appliesItself: true, leavingPercent: 5, joiningPercent: 5 };
    await setFeed(here, mover.accountId, feed, "Europe/Dublin", now());
    const request = move({ sectionIds: await sections("D1") });
    const look = await lookAtMove(request, mover);
    expect("notes" in look && look.notes.at(-1)).toContain("no longer drawn by night");
    const workIsSame = await thereAndBack(request, async () => {
      expect(await feedOf(here)).toMatchObject({ classes: ["c1"], nightlyAt: null, appliesItself: false });
    });
    expect(await feedOf(here)).toEqual(feed);
    await run("DELETE FROM feeds WHERE course_id = ?", [here]);
    await workIsSame();
  });
});

describe("two courses", () => {
  test("become one with all that was done, and two again with what was done meanwhile", async () => {
    // The term after this one is another course of other people: a part of this one goes into it first.
    const sectionIds = await sections("EV", "DL");
    const own = move({ kind: "own", sectionIds, code: "WSH 250" });
    await makeMove(own, mover);
    const [mine, theirs] = [await work(here), await work(own.id)];
    const [plan, other] = [await planOf(here), await planOf(own.id)];
    const request = move({ kind: "join", otherId: own.id });
    const look = await lookAtMove(request, mover);
    if ("wrong" in look) throw new Error(look.wrong);
    expect(look.notes[0]).toMatch(/^\d+ students of WSH 250 come over/);
    expect(look.notes.join("\n")).toContain("The class list is shown to nobody now");
    expect(await planOf(here)).toBe(plan);
    await makeMove(request, mover);
    const joined = await planOf(here);
    expect(Object.keys(joined.items)).toHaveLength(
      Object.keys(plan.items).length + Object.keys(other.items).length + 1,
    );
    expect(await work(here)).toHaveLength(mine.length + theirs.length);
    expect(students(await planOf(own.id))).toEqual([]);
    expect(await archivedAt(own.id)).not.toBeNull();
    // Somebody writes in what came over, and it is known to the course that it came from.
    const [post] = (await work(here)).filter((row) => !mine.some(({ id }) => id === row.id) && "place_id" in row);
    await run(
      "INSERT INTO posts (id, course_id, place_id, group_id, person_id, at, body) VALUES (?, ?, ?, ?, ?, ?, 'meanwhile')",
      [v7(), here, String(post?.place_id), post?.group_id as string | null, String(post?.person_id), now()],
    );
    expect(await takeMoveBack(request.id, mover)).toEqual({ undone: true });
    expect(same(await planOf(here), plan)).toBe(true);
    expect(same(await planOf(own.id), other)).toBe(true);
    expect(inOrder(await work(here))).toEqual(inOrder(mine));
    const back = await work(own.id);
    expect(back).toHaveLength(theirs.length + 1);
    expect(inOrder(back.filter(({ body }) => body !== "meanwhile"))).toEqual(inOrder(theirs));
    expect(await takeMoveBack(own.id, mover)).toEqual({ undone: true });
    await run("DELETE FROM posts WHERE body = 'meanwhile'", []);
  });

  test("stay one where something later names what came over, and it is said what", async () => {
    const own = move({ kind: "own", sectionIds: await sections("DL"), code: "WSH 260" });
    await makeMove(own, mover);
    const request = move({ kind: "join", otherId: own.id });
    await makeMove(request, mover);
    await transaction(async (connection) => {
      const stored = await lockCourse(here, connection);
      if (!stored) throw new Error("no course");
      const folder = Object.values(stored.plan.items).find(({ title }) => title.startsWith("WSH 260"));
      const items = { ...stored.plan.items, [folder?.id ?? ""]: { ...folder, title: "Distance" } } as Plan["items"];
      const entry = { accountId: mover.accountId, at: now(), kind: "publication" as const, lines: [{ says: "named" }] };
      await moveCourse(here, stored, { ...stored.plan, items }, entry, connection);
    });
    const answer = await takeMoveBack(request.id, mover);
    expect(answer).toMatchObject({
      undone: false,
      says: expect.stringContaining('"WSH 260 Day one" has changed since'),
    });
    expect((await pastMoves(here)).find(({ id }) => id === request.id)?.undoneAt).toBeNull();
  });
});

test("an archived course has nobody in it but its coordinators, and is as it was when that is taken back", async () => {
  const workIsSame = await thereAndBack(move({ kind: "archive" }), async () => {
    const open = Object.values((await planOf(here)).enrolments).filter((row) => holdsAt(row, now()));
    expect(new Set(open.map(({ role }) => role))).toEqual(new Set(["coordinator"]));
    expect(await archivedAt(here)).not.toBeNull();
  });
  await workIsSame();
});

test("whoever does not coordinate both moves nothing, and takes nothing back", async () => {
  const plan = await planOf(here);
  const nobody = { accountId: mover.accountId, sourcedId: v4() };
  const sectionIds = await sections("D1");
  expect(await makeMove(move({ sectionIds }), nobody)).toEqual({ wrong: expect.stringContaining("do not coordinate") });
  expect(await lookAtMove(move({ kind: "join", otherId: v4() }), mover)).toEqual({
    wrong: expect.stringContaining("do not coordinate the other course"),
  });
  expect(await makeMove(move({ sectionIds: [v4()] }), mover)).toEqual({
    wrong: expect.stringContaining("not there any more"),
  });
  expect(await makeMove(move({}), mover)).toEqual({ wrong: "Tick at least one section." });
  const request = move({ sectionIds });
  await makeMove(request, mover);
  expect(await takeMoveBack(request.id, nobody)).toBeNull();
  expect(await takeMoveBack(v7(), mover)).toBeNull();
  expect(await takeMoveBack(request.id, mover)).toEqual({ undone: true });
  expect(same(await planOf(here), plan)).toBe(true);
});
