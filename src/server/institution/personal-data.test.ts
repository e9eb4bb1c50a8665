/** What is held of somebody, as an archive: all that they did and nothing that students may not know. */
import { strFromU8, unzipSync } from "fflate";
import { v7 } from "uuid";
import { afterAll, beforeAll, expect, test } from "vitest";
import { accountOfPerson, coordinatorOf, type Desk, openDesk, sendFile } from "../../tests/desk.ts";
import { closeDatabase, rows, run } from "../store/database.ts";
import { archiveOf, personalData } from "./personal-data.ts";

let desk: Desk;
beforeAll(async () => {
  desk = await openDesk();
});
afterAll(closeDatabase);

async function archive(accountId: string): Promise<Record<string, Uint8Array>> {
  const data = await personalData(accountId);
  if (!data) throw new Error("no data");
  return unzipSync(new Uint8Array(await new Response(archiveOf(data)).arrayBuffer()));
}

test("it has their own work with their files and marks, and neither private groups, notes of staff nor other people", async () => {
  const { plan, courseId, moment } = desk;
  const hidden = Object.values(plan.layers).filter((layer) => layer.private);
  const theirs = Object.values(plan.placements).find(
    ({ groupId, until }) => until === null && hidden.some(({ id }) => id === plan.groups[groupId]?.layerId),
  );
  const personId = theirs?.personId ?? "";
  const person = plan.people[personId];
  const accountId = await accountOfPerson(plan, personId);
  const bytes = Buffer.alloc(2_500_000, "weir");
  const stored = await sendFile(courseId, accountId, { name: "levels.csv", bytes }, moment);
  const fileId = "id" in stored ? stored.id : "";
  const item = Object.values(plan.items).find(({ title }) => title === "Lab 4: Rating the weir");
  const columns = "(id, course_id, item_id, person_id, at, body, file_id)";
  const values = [v7(), courseId, item?.id ?? "", personId, moment, "A <b>deep</b> pool & a weir", fileId];
  await run(`INSERT INTO hand_ins ${columns} VALUES (?, ?, ?, ?, ?, ?, ?)`, values);
  const remark = "INSERT INTO remarks (course_id, item_id, holder_id, comment, note, at) VALUES (?, ?, ?, ?, ?, ?)";
  await run(remark, [courseId, item?.id ?? "", personId, "Well read.", "between us staff", moment]);

  const files = await archive(accountId);
  const path = `files/${fileId} levels.csv`;
  expect(Object.keys(files).sort()).toEqual(["data.json", path, "index.html"]);
  expect(Buffer.from(files[path] ?? []).equals(bytes)).toBe(true);
  const [data, page] = [strFromU8(files["data.json"] as Uint8Array), strFromU8(files["index.html"] as Uint8Array)];
  // The database of these tests holds the course many times, with the same people.
  const courses: { code: string; facts: Record<string, { text?: string }[]> }[] = JSON.parse(data).courses;
  const { facts = {} } =
    courses.find((one) => one.facts["hand-ins"]?.some(({ text }) => text?.includes("deep</b> pool"))) ?? {};
  expect(facts["hand-ins"]).toContainEqual({
    ...{ in: "Lab 4: Rating the weir", at: moment, text: "A <b>deep</b> pool & a weir", link: null, file: path },
  });
  expect(facts.comments).toEqual([{ in: "Lab 4: Rating the weir", comment: "Well read.", at: moment }]);
  const [marks] = await rows<{ count: number }>(
    "SELECT COUNT(*) AS count FROM marks WHERE course_id = ? AND person_id = ?",
    [...[courseId, personId]],
  );
  expect(facts.marks?.length).toBeGreaterThan(0);
  expect(facts.marks?.length).toBeLessThanOrEqual(Number(marks?.count));
  expect(page).toContain("A &#60;b&#62;deep&#60;/b&#62; pool &#38; a weir");
  expect(page).toContain(person?.familyName);
  const told = data + page;
  for (const { id, name } of hidden) {
    expect(told).not.toContain(name);
    for (const group of Object.values(plan.groups).filter(({ layerId }) => layerId === id))
      for (const secret of [group.name, group.label]) expect(told).not.toContain(secret);
  }
  expect(told).not.toContain("between us staff");
  const others = Object.values(plan.people).filter(({ sourcedId }) => sourcedId !== person?.sourcedId);
  for (const other of others) expect(data).not.toContain(`"${other.sourcedId}"`);
});

test("whoever was in no course has an archive of their account, and nobody has one that is not there", async () => {
  const files = await archive(desk.first);
  expect(JSON.parse(strFromU8(files["data.json"] as Uint8Array))).toMatchObject({
    account: { account: [{ username: "first" }] },
    courses: [],
  });
  expect(await personalData(v7())).toBeNull();
  expect((await personalData(await coordinatorOf(desk)))?.courses.length).toBeGreaterThan(0);
});
