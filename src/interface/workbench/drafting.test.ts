/** What is drafted stands on the screen at once, and is sent. */
import { afterEach, expect, test, vi } from "vitest";
import { noProgress } from "../../core/plan/progress.ts";
import { addLayer, coursePlan, t0 } from "../../core/tests/fixture.ts";
import { createBase } from "./base.ts";
import { createDrafting } from "./drafting.ts";

afterEach(() => vi.unstubAllGlobals());

function world() {
  const base = createBase("course", "placement", "");
  const published = coursePlan();
  addLayer(published, "Days", ["Monday", "Tuesday"]);
  base.set({
    status: "ready",
    revision: 1,
    scope: null,
    published,
    draft: { version: 0, commands: [], undone: [], planned: [], messages: [] },
    drafted: { plan: published, applied: [], refused: [] },
    progress: noProgress,
    now: t0,
  });
  base.setClock({ now: t0, clockFixed: true });
  const sent: object[] = [];
  let kept: object[] = [];
  // Only the network stands in for itself.
  vi.stubGlobal("fetch", async (_address: string, { body }: { body: string }) => {
    const asked = JSON.parse(body);
    sent.push(asked);
    if (asked.commands) kept = [...kept, ...asked.commands];
    return Response.json({ version: sent.length, commands: kept, undone: [], planned: [], messages: [] });
  });
  return { base, drafting: createDrafting(base), sent };
}
const rename = (name: string) => ({ kind: "group.change", groupId: "Monday", fields: { name } }) as const;

test("a command is applied at once and sent; one that cannot be is said, and nothing of its batch is kept", async () => {
  const { base, drafting, sent } = world();
  const nameNow = () => base.course().drafted.plan.groups.Monday?.name;
  expect(drafting.draft([rename("First")])).toBe(true);
  expect(base.course()).toMatchObject({ sending: 1, notice: null });
  expect(nameNow()).toBe("First");
  await drafting.sent();
  expect(base.course()).toMatchObject({ sending: 0, draft: { version: 1 } });
  expect(nameNow()).toBe("First");
  const wrong = { kind: "group.remove", groupId: "nowhere" } as const;
  expect(drafting.draft([rename("Third"), wrong])).toBe(false);
  expect(nameNow()).toBe("First");
  expect(base.course().notice).toMatchObject({ tone: "wrong", says: "The group is no longer there." });
  expect(sent).toHaveLength(1);
});

test("steps go back and forth over what was drafted", async () => {
  const { base, drafting, sent } = world();
  const nameNow = () => base.course().drafted.plan.groups.Monday?.name;
  drafting.step("undo");
  expect(sent).toEqual([]);
  drafting.draft([rename("First")]);
  drafting.draft([rename("Third")]);
  drafting.step("undo");
  expect(nameNow()).toBe("First");
  drafting.step("undo all");
  expect(nameNow()).toBe("Monday");
  drafting.step("redo all");
  expect(nameNow()).toBe("Third");
  await drafting.sent();
  expect(sent.map((one) => ("step" in one ? one.step : "commands"))).toEqual([
    "commands",
    "commands",
    "undo",
    "undo all",
    "redo all",
  ]);
});
