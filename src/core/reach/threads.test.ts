import { expect, test } from "vitest";
import { noProgress } from "../plan/progress.ts";
import type { Item } from "../plan/types.ts";
import { addItem, addLayer, addStudent, coursePlan, t0 } from "../tests/fixture.ts";
import { type StudentItem, studentItem, studentPage } from "./student-page.ts";
import { threadsFor } from "./threads.ts";

const post = (id: string, personId: string, groupId: string | null, at = t0 - 10) => ({
  id,
  personId,
  groupId,
  placeId: "talk",
  at,
});

function read(personId: string, split: Item["split"], posts: ReturnType<typeof post>[]) {
  const plan = coursePlan();
  addLayer(plan, "Banks", ["North", "South"]);
  addStudent(plan, "ada", [], ["North"]);
  addStudent(plan, "cas", [], ["South"]);
  addItem(plan, "talk", { kind: "discussion", split });
  const page = studentPage(plan, noProgress, personId, t0);
  const shown = (page && studentItem(page, "talk")) as StudentItem;
  return threadsFor(plan, plan.items.talk as Item, posts, { personId, shown, t: t0 }).map((one) => [
    one.groupId,
    one.own,
    one.posts.map(({ id }) => id),
  ]);
}
const sealed = { layerId: "Banks", between: "sealed" } as Item["split"];
const posts = [post("a", "ada", "North"), post("c", "cas", "South"), post("later", "ada", "North", t0 + 1)];

test("one thread of all holds what was written until now", () => {
  expect(read("ada", null, [post("x", "cas", null), post("y", "ada", null, t0 + 1)])).toEqual([[null, true, ["x"]]]);
});

test("a sealed split shows the own thread alone, a readable one the others too", () => {
  expect(read("ada", sealed, posts)).toEqual([["North", true, ["a"]]]);
  expect(read("ada", { ...sealed, between: "readable" } as Item["split"], posts)).toEqual([
    ["North", true, ["a"]],
    ["South", false, ["c"]],
  ]);
});

test("whoever changed groups keeps what they wrote, and nothing else of the old thread", () => {
  expect(read("cas", sealed, [...posts, post("mine", "cas", "North")])).toEqual([
    ["South", true, ["c"]],
    [null, false, ["mine"]],
  ]);
});
