/** Marks, comments and the work of groups, on the real database. Source: semantics.md sections 7 and 9. */
import { v7 } from "uuid";
import { afterAll, beforeAll, describe, expect, test } from "vitest";
import { sheetOf } from "../../core/gradebook/sheet.ts";
import { commentHolders, studentMarks } from "../../core/gradebook/student-marks.ts";
import type { Item, Plan } from "../../core/plan/types.ts";
import { reachAt } from "../../core/reach/reach.ts";
import { studentItem, studentPage } from "../../core/reach/student-page.ts";
import { type Desk, live, openDesk } from "../../tests/desk.ts";
import { course } from "../store/courses.ts";
import { closeDatabase, rows } from "../store/database.ts";
import { courseProgress, studentProgress } from "../store/progress.ts";
import { itemPage } from "../student/item-page.ts";
import { recordHandIn } from "../student/posts-and-hand-ins.ts";
import { savedFilters, saveFilter } from "./filters.ts";
import { commentsFor, keepRemark, recordMarks, remarkOn, workOf } from "./marking.ts";

let desk: Desk;
let plan: Plan;
let work: Item;
/** Marking in the desk's course by an account, now. */
const by = (account: string) => ({ courseId: desk.courseId, by: account, at: Date.now(), copiesOf: copies });
/** The members of one team, the first of whom leads it, and somebody of another. */
let team: { id: string; members: string[] };
let stranger: string;

const plain = { points: 80, excused: false, seen: null };
const copies = () => [];
const page = async (personId: string) => {
  const now = (await course(desk.courseId))?.plan as Plan;
  const made = studentPage(now, await studentProgress(desk.courseId, personId, now), personId, Date.now());
  if (!made) throw new Error("no student");
  return made;
};

beforeAll(async () => {
  desk = await openDesk();
  const item = Object.values(desk.plan.items).find(({ title }) => title === "Report proposal");
  const layer = Object.values(desk.plan.layers).find(({ name }) => name === "River teams");
  const groups = Object.values(desk.plan.groups).filter(({ layerId }) => layerId === layer?.id);
  const membersOf = (groupId: string) =>
    Object.values(desk.plan.placements)
      .filter((row) => row.groupId === groupId && row.until === null)
      .map(({ personId }) => personId);
  const [first, other] = groups as [(typeof groups)[0], (typeof groups)[0]];
  team = { id: first.id, members: membersOf(first.id) };
  stranger = membersOf(other.id)[0] as string;
  await live(
    desk,
    {
      kind: "item.change",
      itemId: item?.id,
      fields: { split: { layerId: layer?.id, between: "sealed" }, leadHandsIn: true },
    },
    { kind: "group.change", groupId: first.id, fields: { leads: [team.members[0]] } },
  );
  plan = (await course(desk.courseId))?.plan as Plan;
  work = plan.items[item?.id ?? ""] as Item;
  await rows("DELETE FROM marks WHERE item_id = ?", [work.id]);
  await rows("DELETE FROM hand_ins WHERE item_id = ?", [work.id]);
}, 60_000);
afterAll(closeDatabase);

describe("work of a group", () => {
  test("only its lead hands in, and it is everybody's", async () => {
    const [lead, mate] = team.members as [string, string];
    const told = async (personId: string) => studentItem(await page(personId), work.id)?.handIn;
    expect(await told(lead)).toMatchObject({ taken: true });
    const { givenName, familyName } = plan.people[lead] as Plan["people"][string];
    expect(await told(mate)).toEqual({
      taken: false,
      why: `The lead of your group hands this in for all of you: ${givenName} ${familyName}.`,
      left: 1,
      together: [plan.groups[team.id]?.label],
    });
    await recordHandIn(
      desk.courseId,
      { itemId: work.id, personId: lead, text: "Our proposal.", link: null, fileId: null },
      { sendId: null, at: Date.now() - 5000 },
    );
    const found = await workOf(desk.courseId, await page(mate), work.id);
    expect(found).toMatchObject([{ body: "Our proposal.", by: lead }]);
    expect(await workOf(desk.courseId, await page(stranger), work.id)).toEqual([]);
    // Its one attempt is used for all of them.
    expect(await told(lead)).toMatchObject({ taken: false, why: expect.stringContaining("1 of 1") });
  });
  test("a shared mark and its comment are read by its members, the note by nobody", async () => {
    const [lead, mate] = team.members as [string, string];
    const { stored } = await recordMarks(by(desk.first), [{ itemId: work.id, groupId: team.id, ...plain, points: 15 }]);
    expect(stored).toMatchObject([{ groupId: team.id, mark: { points: 15 } }]);
    await keepRemark(
      desk.courseId,
      work.id,
      team.id,
      { comment: "Well drawn.", note: "Watch the budget." },
      null,
      desk.first,
      1,
    );
    for (const personId of [lead, mate]) {
      const own = await page(personId);
      expect(studentMarks(own).marks.find(({ itemId }) => itemId === work.id)).toMatchObject({
        points: 15,
        sharedBy: plan.groups[team.id]?.label,
      });
      const comments = await commentsFor(desk.courseId, commentHolders(own, work));
      expect(comments.map(({ comment }) => comment)).toEqual(["Well drawn."]);
      expect(JSON.stringify(comments)).not.toContain("budget");
    }
    expect(await commentsFor(desk.courseId, commentHolders(await page(stranger), work))).toEqual([]);
    const { progress } = await courseProgress(desk.courseId);
    const sheet = sheetOf(reachAt(plan, progress, Date.now()));
    expect(team.members.every((id) => sheet.cell(work, id)?.mark?.shared === team.id)).toBe(true);
    expect(sheet.cell(work, stranger)?.mark).toBeUndefined();
  });
});

test("between groups sealed work is nobody else's, readable work is read by the other groups", async () => {
  const others = async () => {
    const now = (await course(desk.courseId))?.plan as Plan;
    const view = {
      page: await page(stranger),
      plan: now,
      courseId: desk.courseId,
      base: "",
      query: "",
      indexes: [],
      unread: 0,
      pronouns: new Map(),
      look: null,
      scope: null,
    };
    return (await itemPage(view, work.id))?.others;
  };
  expect(await others()).toEqual([]);
  const split = { layerId: work.split?.layerId, between: "readable" };
  await live(desk, { kind: "item.change", itemId: work.id, fields: { split } });
  expect(await others()).toMatchObject([{ label: plan.groups[team.id]?.label, body: "Our proposal." }]);
});

describe("many marks at once", () => {
  test("those that stand as they were seen are stored, of the others the newer ones come back", async () => {
    const itemId = Object.values(plan.items).find(({ title }) => title === "Final report")?.id ?? "";
    const { students } = reachAt(plan, undefined, Date.now());
    const give = (points: number, seen: number | null, account: string) =>
      recordMarks(
        by(account),
        students.map((personId) => ({
          itemId,
          personId,
          points,
          excused: false,
          seen: seen === null ? null : { points: seen, excused: false },
        })),
      );
    expect((await give(10, null, desk.first)).stored).toHaveLength(students.length);
    const late = await give(20, null, desk.second);
    expect([late.stored, late.newer.length, late.newer[0]?.mark?.points]).toEqual([[], students.length, 10]);
    expect((await give(20, 10, desk.second)).newer).toEqual([]);
    // Two at once: every mark is one of the two, and each was told which.
    const both = await Promise.all([give(30, 20, desk.first), give(40, 20, desk.second)]);
    const stored = both.map((one) => one.stored.length).sort();
    expect(stored).toEqual([0, students.length]);
    const gone = await recordMarks(
      by(desk.first),
      students.map((personId) => ({
        itemId,
        personId,
        points: null,
        excused: false,
        seen: { points: both[0]?.stored.length ? 30 : 40, excused: false },
      })),
    );
    expect(gone.stored).toHaveLength(students.length);
    expect(await rows("SELECT person_id FROM marks WHERE item_id = ?", [itemId])).toEqual([]);
  });
});

test("a comment that somebody else changed meanwhile is not overwritten", async () => {
  const [, , third] = team.members as [string, string, string];
  const keep = (comment: string, seen: string | null, by: string) =>
    keepRemark(
      desk.courseId,
      work.id,
      third,
      { comment, note: "" },
      seen === null ? null : { comment: seen, note: "" },
      by,
      2,
    );
  expect(await keep("One", null, desk.first)).toEqual({ stored: true });
  expect(await keep("Two", null, desk.second)).toEqual({ newer: { comment: "One", note: "" } });
  expect(await keep("Two", "One", desk.second)).toEqual({ stored: true });
  expect(await remarkOn(desk.courseId, work.id, third)).toMatchObject({ comment: "Two", by: "second" });
  expect(await remarkOn(desk.courseId, work.id, v7())).toBeNull();
});

test("a shared filter is found by other staff, who neither change it nor have it pinned", async () => {
  const id = v7();
  const filter = { id, name: "Late", text: "late", pinned: true, shared: true, view: null };
  await saveFilter(desk.courseId, desk.first, filter);
  expect(await savedFilters(desk.courseId, desk.second)).toEqual([{ ...filter, pinned: false, from: "first" }]);
  await saveFilter(desk.courseId, desk.second, { ...filter, name: "Mine", shared: false });
  expect(await savedFilters(desk.courseId, desk.first)).toEqual([{ ...filter, from: null }]);
});
