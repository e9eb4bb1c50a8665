/** A small course of three groups with something aimed at each, for tests of commands that rework groups. */
import { apply, type Command } from "../commands.ts";
import { countLayer } from "../placement/membership.ts";
import { isRefusal } from "../plan/command.ts";
import type { Plan } from "../plan/types.ts";
import { addItem, addLayer, addSection, addStudent, coursePlan, forOnly, group, t0 } from "./fixture.ts";

export const id = "11111111-1111-4111-8111-111111111111";
/** A command without its id. */
export type Given = Command extends infer C ? (C extends Command ? Omit<C, "id"> : never) : never;
/** The plan after a command; a refusal fails the test. */
export const run = (plan: Plan, command: Given, now = t0): Plan => {
  const next = apply(plan, { ...command, id } as Command, { now });
  if (isRefusal(next)) throw new Error(next.sentence);
  return next;
};
/** The code of a refusal; null where the command applies. */
export const refusal = (plan: Plan, command: Given) => {
  const next = apply(plan, { ...command, id } as Command, { now: t0 });
  return isRefusal(next) ? next.code : null;
};
/** Who is in which group of a layer, by its name. */
export const members = (plan: Plan, layerId: string, t = t0) =>
  Object.fromEntries(countLayer(plan, layerId, t).groups.map(({ group: { name }, personIds }) => [name, personIds]));

/** Five students in three groups, to which items, dates and an allowance are given. */
export function course(): Plan {
  const plan = coursePlan();
  addSection(plan, "D1");
  addLayer(plan, "Banks", ["North", "South", "East"]);
  for (const [person, bank] of [
    ["ada", "North"],
    ["ben", "North"],
    ["cy", "South"],
    ["di", "South"],
    ["eve", "East"],
  ] as const)
    addStudent(plan, person, ["D1"], [bank]);
  addItem(plan, "map", { audience: forOnly(group("South")) });
  addItem(plan, "log", { audience: { to: "everyone", minus: [group("South")] } });
  addItem(plan, "later", { condition: { kind: "allOf", of: [{ kind: "in", targets: [group("South")] }] } });
  const dates = (target: string, fields: object) => ({
    id: `${target} log`,
    itemId: "log",
    target: group(target),
    dates: fields,
  });
  plan.overrides.s = { ...dates("South", { due: "2026-10-05T09:00", minutes: 30 }), id: "s" };
  plan.overrides.n = { ...dates("North", { due: "2026-10-09T09:00" }), id: "n" };
  plan.allowances.a = { id: "a", target: group("South"), minutesFactor: "1.5", extraDays: null, extraAttempts: null };
  return plan;
}
