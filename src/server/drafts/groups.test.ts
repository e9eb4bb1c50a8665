/** What is said of groups, layers and sets, through a draft and a publication, on the real database. */
import { join } from "node:path";
import { v4, v7 } from "uuid";
import { afterAll, beforeAll, expect, test } from "vitest";
import { storePlan } from "../../../demo/load.ts";
import { makeScenario } from "../../../demo/scenario.ts";
import { Command } from "../../core/commands.ts";
import { isRefusal } from "../../core/plan/command.ts";
import { lookup } from "../../core/plan/lookup.ts";
import type { Group, Layer, Plan } from "../../core/plan/types.ts";
import { createAccount } from "../accounts/accounts.ts";
import { course } from "../store/courses.ts";
import { closeDatabase, rows, transaction } from "../store/database.ts";
import { migrate } from "../store/migrate.ts";
import { readPlan } from "../store/plan-rows.ts";
import { addCommands, readDraft } from "./drafts.ts";
import { publish } from "./publishing.ts";

let plan: Plan;
let accountId = "";
const layerOf = (name: string) => lookup(plan).layers.find((layer) => layer.name === name) as Layer;
const groupsOf = (name: string) => lookup(plan).groupsOfLayer.get(layerOf(name).id) as Group[];

beforeAll(async () => {
  await migrate(join(import.meta.dirname, "../../../database"), () => undefined);
  ({ plan } = makeScenario(Date.now(), v4()));
  await transaction((connection) => storePlan(plan, connection));
  const sourcedId = `groups-${v4()}`;
  await createAccount({ username: sourcedId, sourcedId, displayName: "Groups", passwordHash: "none" });
  const [account] = await rows<{ id: string }>("SELECT id FROM accounts WHERE sourced_id = ?", [sourcedId]);
  accountId = account?.id ?? "";
});
afterAll(closeDatabase);

/** Drafts and publishes, and gives the plan as the database holds it: nothing of it comes from memory. */
async function live(commands: object[]): Promise<Plan> {
  const courseId = plan.course.id;
  const parsed = commands.map((fields) => Command.parse({ id: v7(), ...fields }));
  const draft = await addCommands(courseId, accountId, parsed);
  if (isRefusal(draft)) throw new Error(draft.sentence);
  const revision = (await course(courseId))?.revision ?? 0;
  const { version } = await readDraft(courseId, accountId);
  const answer = await publish(courseId, accountId, { publicationId: v7(), leave: [], revision, version });
  expect(answer).toMatchObject({ published: true });
  const stored = await transaction((connection) => readPlan(courseId, connection));
  expect(stored?.plan).toEqual((await course(courseId))?.plan);
  return stored?.plan as Plan;
}

test("codes, capacity, pattern, leads, self-placement and the visitors' code are stored and read back", async () => {
  const [kit] = groupsOf("Gauge kits") as [Group];
  const fields = {
    code: "KIT-9",
    max: 25,
    leads: [Object.keys(plan.people)[0]],
    pattern: [{ weekday: 3, start: "18:00", end: "19:30", place: "Weir hut" }],
  };
  const selfPlacement = { opens: "2026-11-01T08:00", closes: null, by: "code", help: "<p>Look</p>", showNames: true };
  const after = await live([
    { kind: "group.change", groupId: kit.id, fields },
    { kind: "layer.selfPlacement", layerId: kit.layerId, selfPlacement },
    { kind: "course.visitorCode", code: "OPEN" },
  ]);
  expect(after.groups[kit.id]).toMatchObject(fields);
  expect(after.layers[kit.layerId]?.selfPlacement).toEqual(selfPlacement);
  expect(after.course.visitorCode).toBe("OPEN");
});

test("a set, a merge and a layer put away are stored; who was in the groups before is still known", async () => {
  const [first, second] = groupsOf("River teams") as [Group, Group];
  const drones = groupsOf("Drone pilots")[0] as Group;
  const set = { id: v7(), name: "Outdoors", groupIds: [second.id, drones.id] };
  const after = await live([
    { kind: "set.save", set },
    { kind: "group.merge", groupIds: [first.id, second.id] },
    { kind: "layer.archive", layerId: drones.layerId },
  ]);
  expect(after.sets[set.id]?.groupIds).toEqual([first.id, drones.id]);
  expect(lookup(after).layers.map(({ name }) => name)).not.toContain("Drone pilots");
  const past = lookup(plan).placementsOfGroup.get(second.id) ?? [];
  expect(past.length).toBeGreaterThan(3);
  for (const placement of past.filter(({ until }) => until === null)) {
    expect(after.placements[placement.id]?.until).toBe(after.groups[second.id]?.archivedAt);
    const now = (lookup(after).placementsOfPerson.get(placement.personId) ?? []).filter(({ until }) => until === null);
    expect(now.map(({ groupId }) => groupId)).toContain(first.id);
  }
});
