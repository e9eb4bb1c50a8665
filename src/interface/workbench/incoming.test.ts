/** What comes to the workbench goes by the server's clock. */
import { afterEach, expect, test, vi } from "vitest";
import { studentsOf } from "../../core/placement/membership.ts";
import { noProgress } from "../../core/plan/progress.ts";
import { addLayer, addSection, addStudent, coursePlan, t0 } from "../../core/tests/fixture.ts";
import { createIncoming } from "./incoming.ts";
import type { WorkbenchState } from "./state.ts";

afterEach(() => vi.unstubAllGlobals());

/** Somebody is moved at t0 by the server's clock, and the page's own lags behind it. */
function world() {
  const before = coursePlan();
  addSection(before, "D1");
  addLayer(before, "Days", ["Day 1", "Day 2"]);
  addStudent(before, "ada", ["D1"], ["Day 1"]);
  const placement = before.placements["ada in Day 1"] as (typeof before.placements)[string];
  const changes = [
    { table: "placements", id: placement.id, after: { ...placement, until: t0 } },
    { table: "placements", id: "new", after: { ...placement, id: "new", groupId: "Day 2", since: t0 } },
  ];
  const draft = { version: 2, commands: [], undone: [], planned: [], messages: [] };
  // Only the network stands in for itself: what it answers is what the server would.
  vi.stubGlobal("fetch", async (address: string) =>
    Response.json(address.includes("/plan") ? { revision: 2, changes } : { ...draft, now: t0 + 5, clockFixed: false }),
  );
  let state = {
    status: "ready",
    revision: 1,
    scope: null,
    published: before,
    draft,
    drafted: { plan: before, applied: [], refused: [] },
    progress: noProgress,
    now: t0 - 60_000,
    sending: 0,
  } as unknown as WorkbenchState;
  const incoming = createIncoming({
    address: "/api/courses/course",
    get: () => state,
    set: (changed) => {
      state = { ...state, ...changed };
    },
    tell: () => {},
    present: () => t0 - 1000,
    clock: () => {},
    isPublishing: () => false,
  });
  const where = () =>
    ["Day 1", "Day 2"].filter((groupId) => studentsOf(state.drafted.plan, groupId, state.now).includes("ada"));
  return { incoming, where };
}

test("whoever was just moved is in the new group, and no longer in the old one, also where the page's clock lags", async () => {
  const own = world();
  expect(own.where()).toEqual(["Day 1"]);
  await own.incoming.reload();
  expect(own.where()).toEqual(["Day 2"]);
  const others = world();
  await others.incoming.takeRevision(2, "Somebody", "moved Ada");
  expect(others.where()).toEqual(["Day 2"]);
});
