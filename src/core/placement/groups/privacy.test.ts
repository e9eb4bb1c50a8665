import { describe, expect, test } from "vitest";
import { apply, type Command } from "../../commands.ts";
import { isRefusal } from "../../plan/command.ts";
import type { Group, Plan } from "../../plan/types.ts";
import { addItem, t0 } from "../../tests/fixture.ts";
import { course, type Given, id, refusal, run } from "../../tests/three-groups.ts";

describe("a layer becomes private or named", () => {
  const change = (isPrivate: boolean): Given => ({
    kind: "layer.change",
    layerId: "Banks",
    fields: { private: isPrivate },
  });
  test("named, its groups have labels; private, they keep them", () => {
    const plan = course();
    plan.groups.North = { ...(plan.groups.North as Group), label: "" };
    const hidden = run(plan, change(true));
    expect([hidden.layers.Banks?.private, hidden.groups.North?.label]).toEqual([true, ""]);
    const shown = run(hidden, change(false));
    expect([shown.layers.Banks?.private, shown.groups.North?.label]).toEqual([false, "North"]);
  });
  test.each<[string, (plan: Plan) => unknown, RegExp]>([
    [
      "an item is split along it",
      (plan) => addItem(plan, "talk", { kind: "discussion", split: { layerId: "Banks", between: "sealed" } }),
      /talk is split/,
    ],
    [
      "the class list goes by it",
      ({ course: own }) => Object.assign(own, { classList: { to: "layer", layerId: "Banks" } }),
      /class list/,
    ],
    [
      "items are split along it",
      ({ course: own }) => Object.assign(own, { splitting: { layerId: "Banks", between: "sealed", locked: false } }),
      /split along it/,
    ],
    [
      "a group has a page",
      ({ groups }) => Object.assign(groups.South as Group, { page: { has: ["members"], may: [] } }),
      /South has a page/,
    ],
    [
      "students place themselves",
      ({ layers }) =>
        Object.assign(layers.Banks as object, {
          selfPlacement: { by: "choice", help: "", opens: null, closes: null, showNames: false },
        }),
      /place themselves/,
    ],
  ])("it cannot be private while %s", (_, make, says) => {
    const plan = course();
    make(plan);
    const next = apply(plan, { ...change(true), id } as Command, { now: t0 });
    expect(isRefusal(next) && next.sentence).toMatch(says);
    expect(refusal(plan, change(false))).toBeNull();
  });
});
