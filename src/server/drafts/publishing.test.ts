import { v4, v7 } from "uuid";
import { afterAll, beforeAll, beforeEach, describe, expect, test } from "vitest";
import { Command } from "../../core/commands.ts";
import { isRefusal } from "../../core/plan/command.ts";
import { applyDifference } from "../../core/plan/difference.ts";
import type { Plan } from "../../core/plan/types.ts";
import { coordinatorOf, type Desk, giveMark, openDesk } from "../../tests/desk.ts";
import { now } from "../clock.ts";
import { makeCourse } from "../course/rolling.ts";
import { course } from "../store/courses.ts";
import { closeDatabase, rows, run } from "../store/database.ts";
import { changesBetween, openLine, planAsOf, readJournal, revertCommand } from "../store/journal.ts";
import { addCommands, readDraft, stepDraft } from "./drafts.ts";
import { movePlanned, planPublication, publishDue, takeBack } from "./planned.ts";
import { publish } from "./publishing.ts";

let desk: Desk;
let courseId = "";
beforeAll(async () => {
  desk = await openDesk();
  ({ courseId } = desk);
  desk.first = await coordinatorOf(desk);
});
afterAll(closeDatabase);
beforeEach(async () => {
  await run("DELETE FROM draft_commands", []);
});

const stored = async () => {
  const found = await course(courseId);
  if (!found) throw new Error("course");
  return found;
};
const items = () => Object.values(desk.plan.items).filter(({ kind }) => kind !== "folder");
const retitle = (at: number, title: string) =>
  Command.parse({ id: v7(), kind: "item.change", itemId: items()[at]?.id, fields: { title } });
async function draft(...commands: Command[]) {
  const answer = await addCommands(courseId, desk.first, commands);
  if (isRefusal(answer)) throw new Error(answer.sentence);
  return answer;
}
const draftAsReviewed = async (leave: string[] = []) => ({
  publicationId: v7(),
  revision: (await stored()).revision,
  version: (await readDraft(courseId, desk.first)).version,
  leave,
});
const titleOf = ({ items: all }: Plan, at: number) => all[items()[at]?.id ?? ""]?.title;
const nothing = { touched: 0, losing: 0, leaks: 0, earlier: 0 };
const lines = async (words: string, kind: "publication" | "marks" | null = null) =>
  (await readJournal(courseId, (await stored()).plan, { words, kind, before: null })).lines;

test("what is left out stays drafted, and its rows are told as they are written", async () => {
  const [one, other] = [retitle(0, "Published now"), retitle(1, "Stays for later")];
  await draft(one, other);
  const told: [number, number][] = [];
  expect(
    await publish(courseId, desk.first, await draftAsReviewed([other.id]), (...step) => told.push(step)),
  ).toMatchObject({
    published: true,
  });
  const { plan } = await stored();
  expect([titleOf(plan, 0), titleOf(plan, 1)]).not.toContain("Stays for later");
  expect(titleOf(plan, 0)).toBe("Published now");
  expect((await readDraft(courseId, desk.first)).commands.map(({ id }) => id)).toEqual([other.id]);
  expect(told).toEqual([[1, 1]]);
  expect(await publish(courseId, desk.first, await draftAsReviewed([other.id]))).toEqual({
    published: false,
    reason: "empty",
  });
});

describe("at a moment", () => {
  test("it waits, cannot be undone, goes out once when its moment comes, and leaves the rest", async () => {
    const [planned, later] = [retitle(0, "At a moment"), retitle(1, "Drafted later")];
    await draft(planned);
    const publication = await draftAsReviewed();
    const at = now() + 60_000;
    // Pressed twice it is planned once.
    for (const _ of [1, 2])
      expect(await planPublication(courseId, desk.first, publication, at, nothing)).toEqual({ planned: true });
    await draft(later);
    await stepDraft(courseId, desk.first, "undo all");
    const waiting = await readDraft(courseId, desk.first);
    expect(waiting.commands.map(({ id }) => id)).toEqual([planned.id]);
    expect(waiting.planned).toMatchObject([{ state: "waiting", at, commandIds: [planned.id] }]);
    await stepDraft(courseId, desk.first, "redo");
    await publishDue(at - 1);
    expect(titleOf((await stored()).plan, 0)).not.toBe("At a moment");
    const { revision } = await stored();
    await Promise.all([publishDue(at), publishDue(at)]);
    expect(titleOf((await stored()).plan, 0)).toBe("At a moment");
    expect((await stored()).revision).toBe(revision + 1);
    const after = await readDraft(courseId, desk.first);
    expect(after.commands.map(({ id }) => id)).toEqual([later.id]);
    expect(after.planned).toEqual([]);
  });
  test("it is moved by its author alone; each turn it takes stands in the journal", async () => {
    await draft(retitle(0, "Moved"));
    const publication = await draftAsReviewed();
    const at = now() + 60_000;
    await planPublication(courseId, desk.first, publication, at, nothing);
    const id = publication.publicationId;
    expect(await movePlanned(courseId, desk.second, id, at + 1)).toBe(false);
    expect(await movePlanned(courseId, desk.first, id, at + 600_000)).toBe(true);
    await publishDue(at + 1);
    expect(titleOf((await stored()).plan, 0)).not.toBe("Moved");
    await publishDue(at + 600_000);
    expect(titleOf((await stored()).plan, 0)).toBe("Moved");
    expect(await movePlanned(courseId, desk.first, id, at + 1_200_000)).toBe(false);
    await draft(retitle(0, "Back"));
    const other = await draftAsReviewed();
    await planPublication(courseId, desk.first, other, at, nothing);
    await takeBack(courseId, desk.first, other.publicationId);
    const question = { words: "", kind: "planned" as const, before: null };
    const { lines } = await readJournal(courseId, (await stored()).plan, question);
    expect(lines.slice(0, 5).map(({ says }) => says.replace(/\w{3} \d+ \w{3}, \d\d:\d\d/g, "THEN"))).toEqual([
      "What was planned for THEN was taken back into the draft",
      expect.stringMatching(/^Planned for THEN: .*Back/),
      expect.stringMatching(/^Published as planned for THEN: .*Moved/),
      "What was planned for THEN is planned for THEN",
      expect.stringMatching(/^Planned for THEN: .*Moved/),
    ]);
  });
  test("it is taken back into the draft by its author alone", async () => {
    await draft(retitle(0, "Never"));
    const publication = await draftAsReviewed();
    await planPublication(courseId, desk.first, publication, now() + 1000, nothing);
    expect(await takeBack(courseId, desk.second, publication.publicationId)).toBe(false);
    expect(await takeBack(courseId, desk.first, publication.publicationId)).toBe(true);
    expect(await takeBack(courseId, desk.first, publication.publicationId)).toBe(false);
    await publishDue(now() + 2000);
    expect(titleOf((await stored()).plan, 0)).not.toBe("Never");
    expect((await readDraft(courseId, desk.first)).commands).toHaveLength(1);
  });
  test("it is held back, with the reason, where it warns of more than was looked at", async () => {
    const hide = Command.parse({
      id: v7(),
      kind: "item.change",
      itemId: items()[0]?.id,
      fields: { published: false },
    });
    await draft(hide);
    const publication = await draftAsReviewed();
    await planPublication(courseId, desk.first, publication, now() + 1000, nothing);
    await publishDue(now() + 2000);
    const { planned, commands } = await readDraft(courseId, desk.first);
    expect(planned).toMatchObject([{ state: "held back", says: expect.stringMatching(/\d+ students who lose/) }]);
    const { plan } = await stored();
    const { lines } = await readJournal(courseId, plan, { words: "held back", kind: "planned", before: null });
    expect(lines[0]?.says).toMatch(/was held back\. .*\d+ students who lose/);
    expect(commands.map(({ id }) => id)).toEqual([hide.id]);
    expect(await takeBack(courseId, desk.first, publication.publicationId)).toBe(true);
  });
});

test("what somebody planned who is no longer a coordinator is held back", async () => {
  await draft(retitle(0, "Out by then"));
  await planPublication(courseId, desk.first, await draftAsReviewed(), now() + 1000, nothing);
  const [account] = await rows<{ sourced_id: string }>("SELECT sourced_id FROM accounts WHERE id = ?", [desk.first]);
  await run("UPDATE accounts SET sourced_id = 'nobody here' WHERE id = ?", [desk.first]);
  await publishDue(now() + 2000);
  await run("UPDATE accounts SET sourced_id = ? WHERE id = ?", [account?.sourced_id ?? "", desk.first]);
  expect(titleOf((await stored()).plan, 0)).not.toBe("Out by then");
  const { planned } = await readDraft(courseId, desk.first);
  expect(planned).toMatchObject([{ state: "held back", says: expect.stringMatching(/no longer coordinates/) }]);
  expect(await takeBack(courseId, desk.first, planned[0]?.id ?? "")).toBe(true);
});

describe("a new course", () => {
  const term = () => ({
    id: v4(),
    code: "NEW 1",
    title: "New",
    term: "Next",
    termStart: "2027-09-27",
    termEnd: "2027-12-17",
    noClassDays: [],
  });
  const copiesIn = async (id: string) => (await rows("SELECT id FROM files WHERE course_id = ?", [id])).length;
  test("is made once, with the files of the old one and its coordinator alone", async () => {
    const { plan } = await stored();
    const chief = Object.values(plan.enrolments).find(({ role }) => role === "coordinator");
    const person = plan.people[chief?.personId ?? ""] as Plan["people"][string];
    const next = term();
    for (const _ of [1, 2])
      expect(await makeCourse(courseId, plan, next, person, desk.first)).toMatchObject({ id: next.id });
    const made = (await course(next.id))?.plan;
    expect([Object.keys(made?.people ?? {}).length, Object.keys(made?.placements ?? {}).length]).toEqual([1, 0]);
    expect(await copiesIn(next.id)).toBe(await copiesIn(courseId));
  });
  test("a plan that says it is of another course brings none of that course's files", async () => {
    const { plan } = await stored();
    const chief = Object.values(plan.enrolments).find(({ role }) => role === "coordinator");
    const person = plan.people[chief?.personId ?? ""] as Plan["people"][string];
    const next = term();
    const { left } = await makeCourse(desk.emptyCourseId, plan, next, person, desk.first);
    expect(left.some((says) => /^The file of .* was not found/.test(says))).toBe(true);
    expect(await copiesIn(next.id)).toBe(0);
    expect(Object.values((await course(next.id))?.plan.items ?? {}).every(({ file }) => file === null)).toBe(true);
  });
});

describe("the journal", () => {
  test("says who did what and from what to what, and is searched by words, names and kinds", async () => {
    const before = titleOf((await stored()).plan, 0);
    await draft(retitle(0, "A hundred % weir_1"));
    await publish(courseId, desk.first, await draftAsReviewed());
    const [line] = await lines("hundred % weir_");
    expect(line).toMatchObject({ kind: "publication", by: expect.any(String) });
    const { plan } = await stored();
    const opened = await openLine(courseId, plan, line?.id ?? "");
    expect(opened?.rows).toEqual([expect.objectContaining({ field: "title", from: before, to: "A hundred % weir_1" })]);
    expect(await lines("hundredX%")).toEqual([]);
    expect(await lines("", "marks")).toEqual([]);
    const item = items().find(({ points }) => points !== null);
    const enrolled = Object.values(plan.enrolments).find(({ role, until }) => role === "student" && until === null);
    const person = plan.people[enrolled?.personId ?? ""];
    const mark3 = { itemId: item?.id ?? "", personId: person?.id ?? "", points: 3, excused: false, seen: null };
    const given = await giveMark(courseId, mark3, desk.first, now());
    if ("newer" in given) await giveMark(courseId, { ...mark3, seen: given.newer ?? null }, desk.first, now());
    const [mark] = await lines(person?.familyName ?? "", "marks");
    expect((await openLine(courseId, plan, mark?.id ?? ""))?.marks).toMatchObject([
      { personId: person?.id, to: { points: 3, excused: false } },
    ]);
    expect(await openLine(courseId, plan, "gone")).toBeNull();
  });
  test("what changed since a revision leads from the plan then to the plan now; too far back it is not told", async () => {
    const before = await stored();
    for (const title of ["Once", "Twice"]) {
      await draft(retitle(2, title), retitle(1, `${title} too`));
      await publish(courseId, desk.first, await draftAsReviewed());
    }
    const after = await stored();
    const changes = await changesBetween(courseId, before.revision, after.revision);
    expect(changes).toHaveLength(4);
    expect(applyDifference(before.plan, changes ?? [])).toEqual(after.plan);
    expect(await changesBetween(courseId, after.revision, after.revision)).toEqual([]);
    // A revision that never was, one of another course, and more than there is.
    expect(await changesBetween(courseId, after.revision + 1, after.revision)).toBeNull();
    expect(await changesBetween(v4(), before.revision, after.revision)).toBeNull();
    expect(await changesBetween(courseId, before.revision, after.revision + 1)).toBeNull();
    expect(await changesBetween(courseId, after.revision - 51, after.revision)).toBeNull();
  });
  test("a publication is reverted as a new draft, and the plan as it was can be looked at", async () => {
    const before = titleOf((await stored()).plan, 2);
    const then = now();
    await new Promise((resolve) => setTimeout(resolve, 5));
    await draft(retitle(2, "A mistake"));
    await publish(courseId, desk.first, await draftAsReviewed());
    const { revision, plan } = await stored();
    expect(titleOf((await planAsOf(courseId, { revision, plan }, then)).plan, 2)).toBe(before);
    expect((await planAsOf(courseId, { revision, plan }, now())).plan).toEqual(plan);
    const made = await revertCommand(courseId, plan, revision);
    if (!made) throw new Error("nothing to revert");
    await draft(made.command);
    await publish(courseId, desk.first, await draftAsReviewed());
    expect(titleOf((await stored()).plan, 2)).toBe(before);
    expect((await lines("Revert: "))[0]?.says).toMatch(/^Revert: Rename .* to A mistake$/);
    // Nothing is left of it to lead back.
    expect(await revertCommand(courseId, (await stored()).plan, revision)).toBeNull();
  });
});
