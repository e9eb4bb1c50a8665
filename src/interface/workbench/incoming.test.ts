/** What comes to the workbench goes by the server's clock. */
import { afterEach, expect, test, vi } from "vitest";
import { studentsOf } from "../../core/placement/membership.ts";
import { noProgress } from "../../core/plan/progress.ts";
import { addLayer, addSection, addStudent, coursePlan, t0 } from "../../core/tests/fixture.ts";
import { createBase } from "./base.ts";
import { createIncoming } from "./incoming.ts";

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
  const base = createBase("course", "placement", "");
  base.set({
    status: "ready",
    revision: 1,
    scope: null,
    published: before,
    draft,
    drafted: { plan: before, applied: [], refused: [] },
    progress: noProgress,
  });
  base.setClock({ now: t0 - 60_000, clockFixed: false });
  base.set({ now: base.present() });
  const incoming = createIncoming(base, { isPublishing: () => false });
  const where = () => {
    const { drafted, now } = base.course();
    return ["Day 1", "Day 2"].filter((groupId) => studentsOf(drafted.plan, groupId, now).includes("ada"));
  };
  return { base, incoming, where };
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

test("a course that is here stays when it cannot be fetched anew; one that never came has failed", async () => {
  const { base, incoming } = world();
  vi.stubGlobal("fetch", async () => Response.json({ detail: "The database is away." }, { status: 503 }));
  await incoming.load();
  expect(base.get()).toMatchObject({ status: "ready", notice: { tone: "wrong", says: "The database is away." } });
  const other = createBase("course", "placement", "");
  await createIncoming(other, { isPublishing: () => false }).load();
  expect(other.get()).toMatchObject({ status: "failed", failure: "The database is away." });
  expect(() => other.course()).toThrow();
});
