/** Copies into one split item with what people did in them, files, settings and findings, on the real database. */
import { v7 } from "uuid";
import { afterAll, beforeAll, describe, expect, test } from "vitest";
import { lookup } from "../../core/plan/lookup.ts";
import { noProgress } from "../../core/plan/progress.ts";
import type { Item, Plan } from "../../core/plan/types.ts";
import { audit } from "../../core/reach/audit/audit.ts";
import { type Desk, giveMark, openDesk, live as publishLive, sendFile } from "../../tests/desk.ts";
import type { CourseAccess } from "../http/guard.ts";
import { course } from "../store/courses.ts";
import { closeDatabase, rows, transaction } from "../store/database.ts";
import { fileOf, serveFile } from "../store/files.ts";
import { readPlan } from "../store/plan-rows.ts";
import { courseProgress, recordRead } from "../store/progress.ts";
import { itemPage } from "../student/item-page.ts";
import { lookView } from "../student/looking-through.ts";
import { recordHandIn, recordPost } from "../student/posts-and-hand-ins.ts";

let desk: Desk;
beforeAll(async () => {
  desk = await openDesk();
});
afterAll(closeDatabase);

const current = async () => (await course(desk.courseId))?.plan as Plan;
const itemOf = (plan: Plan, title: string) => Object.values(plan.items).find((one) => one.title === title) as Item;
const groupOf = (plan: Plan, name: string) => Object.values(plan.groups).find((one) => one.name === name)?.id ?? "";

/** Drafts and publishes; what the database then holds is what the server answers with. */
async function live(...commands: object[]): Promise<Plan> {
  await publishLive(desk, ...commands);
  const stored = await transaction((connection) => readPlan(desk.courseId, connection));
  expect(stored?.plan).toEqual(await current());
  return stored?.plan as Plan;
}
const memberOf = (plan: Plan, groupId: string, place = 0): string =>
  (lookup(plan).placementsOfGroup.get(groupId) ?? [])
    .filter(({ until }) => until === null)
    .map(({ personId }) => personId)[place] as string;
const through = async (personId: string) => {
  const access = { ...(await course(desk.courseId)), courseId: desk.courseId, scope: null } as CourseAccess;
  return lookView(access, desk.first, personId, new URLSearchParams());
};

const sent = (at: number) => ({ sendId: null, at });

test("copies made into one split item keep posts, hand-ins and marks; a later mark is one of the one item", async () => {
  const { courseId } = desk;
  const base = await current();
  const layerId = Object.values(base.layers).find(({ name }) => name === "Sections")?.id;
  const [day, evening] = [groupOf(base, "Day 1"), groupOf(base, "Evening")];
  const copy = (title: string, groupId: string): Item => ({
    ...itemOf(base, "The café by the weir"),
    id: v7(),
    title,
    parentId: null,
    points: 10,
    audience: { to: [{ kind: "group", id: groupId }], minus: [] },
  });
  const [one, two] = [copy("Weir log", day), copy("Weir log, evening", evening)];
  await live({ kind: "item.add", item: one }, { kind: "item.add", item: two });
  const [ada, eve] = [memberOf(base, day), memberOf(base, evening)];
  await recordPost(courseId, { placeId: one.id, groupId: null, personId: ada, body: "From the day" }, sent(1));
  await recordPost(courseId, { placeId: two.id, groupId: null, personId: eve, body: "From the evening" }, sent(2));
  await recordHandIn(courseId, { itemId: two.id, personId: eve, text: "work", link: null, fileId: null }, sent(2));
  await giveMark(courseId, { itemId: two.id, personId: eve, points: 7, excused: false, seen: null }, desk.first, 3);
  await recordRead(courseId, two.id, eve, 4);

  const plan = await live({ kind: "items.combine", itemIds: [one.id, two.id], layerId, between: "sealed" });
  const { progress } = await courseProgress(courseId);
  expect(progress.marks.filter(({ itemId }) => itemId === two.id)).toHaveLength(1);
  for (const [personId, said] of [
    [ada, "From the day"],
    [eve, "From the evening"],
  ] as const) {
    const view = await through(personId);
    const page = view && (await itemPage(view, one.id));
    expect(page?.threads?.map(({ posts }) => posts.map(({ body }) => body))).toEqual([[said]]);
  }
  const view = await through(eve);
  expect((view && (await itemPage(view, one.id)))?.item.mark).toEqual({ points: 7, excused: false });
  // The mark of the copy is the one that is seen, and that is changed.
  const copies = plan.items[one.id]?.combines.map(({ itemId }) => itemId);
  const seen = { points: 7, excused: false };
  const mark = { itemId: one.id, personId: eve, points: 9, excused: false };
  expect(await giveMark(courseId, { ...mark, seen: null }, desk.second, 5, copies)).toMatchObject({ newer: seen });
  expect(await giveMark(courseId, { ...mark, seen }, desk.second, 5, copies)).toMatchObject({
    stored: { points: 9 },
  });
  const after = await through(eve);
  expect((after && (await itemPage(after, one.id)))?.item.mark?.points).toBe(9);
  await giveMark(courseId, { ...mark, points: null, seen: { points: 9, excused: false } }, desk.second, 6, copies);
  const removed = await through(eve);
  expect((removed && (await itemPage(removed, one.id)))?.item.mark).toBeNull();
});

test("who changes groups keeps sight of their own posts, and loses that of the others' in the old thread", async () => {
  const { courseId } = desk;
  const base = await current();
  const layer = Object.values(base.layers).find(({ name }) => name === "River teams");
  const [from, to] = (lookup(base).groupsOfLayer.get(layer?.id ?? "") ?? []).map(({ id }) => id) as [string, string];
  const talk = itemOf(base, "Choosing a site");
  const [moving, staying] = [memberOf(base, from), memberOf(base, from, 1)];
  await recordPost(
    courseId,
    { placeId: talk.id, groupId: from, personId: moving, body: "Mine, before" },
    sent(desk.moment - 2),
  );
  await recordPost(
    courseId,
    { placeId: talk.id, groupId: from, personId: staying, body: "Theirs, before" },
    sent(desk.moment - 1),
  );
  await live({ kind: "placement.place", groupId: to, personIds: [moving] });
  const view = await through(moving);
  const page = view && (await itemPage(view, talk.id));
  const said = page?.threads?.flatMap(({ posts }) => posts.map(({ body }) => body)) ?? [];
  expect(said).toContain("Mine, before");
  expect(said).not.toContain("Theirs, before");
  expect(page?.threads?.at(-1)).toMatchObject({ groupId: null, label: "What you wrote before", own: false });
});

describe("files", () => {
  test("of several megabytes come back byte for byte, and only in their own course", async () => {
    const bytes = Uint8Array.from({ length: 2_500_000 }, (_, at) => (at * 31) % 256);
    const stored = await sendFile(desk.courseId, desk.first, { name: "C:\\maps\\weir.pdf", bytes }, 1);
    if ("trouble" in stored) throw new Error(stored.trouble);
    expect(stored).toMatchObject({ name: "weir.pdf", type: "application/pdf", size: 2_500_000 });
    const served = await serveFile(desk.courseId, stored.id);
    expect(Buffer.compare(Buffer.from((await served?.arrayBuffer()) ?? new ArrayBuffer(0)), bytes)).toBe(0);
    expect(served?.headers.get("content-disposition")).toBe("attachment; filename=weir.pdf");
    expect(await fileOf(desk.emptyCourseId, stored.id)).toBeNull();
  });
  test("that are not taken leave nothing behind", async () => {
    const count = async () => (await rows<{ count: number }>("SELECT COUNT(*) AS count FROM files"))[0]?.count;
    const before = await count();
    expect(await sendFile(desk.courseId, desk.first, { name: "x.html", bytes: new Uint8Array(3) }, 1)).toMatchObject({
      trouble: expect.stringContaining("html"),
    });
    expect(await count()).toBe(before);
  });
});

test("class list, telling words, splitting, a group's page and an accepted finding are stored and read back", async () => {
  const base = await current();
  const layerId = Object.values(base.layers).find(({ name }) => name === "Sections")?.id ?? "";
  const [finding] = audit(base, noProgress, desk.moment).findings;
  const after = await live(
    { kind: "course.classList", classList: { to: "layer", layerId } },
    { kind: "course.tellingWords", words: ["slow"] },
    { kind: "course.splitting", splitting: { layerId, between: "readable", locked: true } },
    { kind: "items.onPages", itemIds: [], layerId, how: "shared" },
    { kind: "finding.accept", finding: finding?.key, state: finding?.state, reason: "Seen" },
  );
  expect(after.course).toMatchObject({
    classList: { to: "layer", layerId },
    tellingWords: ["slow"],
    splitting: { layerId, between: "readable", locked: true },
  });
  expect(Object.values(after.items).filter(({ pageOf }) => pageOf !== null)).toHaveLength(4);
  expect(Object.values(after.acceptances)).toMatchObject([{ finding: finding?.key, reason: "Seen" }]);
});
