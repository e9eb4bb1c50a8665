/** Random drafts over the random courses: a few commands of the kinds that coordinators draft. */
import fc from "fast-check";
import { v5 } from "uuid";
import { wallOf } from "../clock/local-time.ts";
import { type Command, type NewCommand, replay } from "../commands.ts";
import { blankItem, type Plan, type Target } from "../plan/types.ts";
import { t0, zone } from "./fixture.ts";

const hour = 3600_000;
const wall = fc.constantFrom(-500, -0.02, 0, 0.02, 20, 500).map((hours) => wallOf(t0 + hours * hour, zone));
const itemId = fc.nat(8).map((at) => `item ${at}`);
const groupId = fc.constantFrom("North", "South", "Upper", "Quick", "Slow");
const personId = fc.constantFrom("ada", "ben", "cas", "dee");
const target: fc.Arbitrary<Target> = fc.oneof(
  groupId.map((id): Target => ({ kind: "group", id })),
  fc.constantFrom("D1", "D2").map((id): Target => ({ kind: "section", id })),
  personId.map((id): Target => ({ kind: "person", id })),
  fc.constant<Target>({ kind: "set", id: "North or Upper" }),
);
const audience = fc.oneof(
  fc.constant({ to: "everyone" as const, minus: [] as Target[] }),
  fc.array(target, { maxLength: 2 }).map((to) => ({ to, minus: [] as Target[] })),
);
const fields = fc.oneof(
  fc.constantFrom("Renamed", "Other").map((title) => ({ title })),
  fc.boolean().map((published) => ({ published })),
  fc.boolean().map((seals) => ({ seals })),
  fc.boolean().map((announced) => ({ announced })),
  fc.boolean().map((readableAfterClose) => ({ readableAfterClose })),
  fc.constantFrom(null, 10, 20).map((points) => ({ points })),
  fc.constant({ body: "<p>More</p>" }),
  audience.map((one) => ({ audience: one })),
  itemId.map((id) => ({ condition: { kind: "opened" as const, itemId: id } })),
  fc.constantFrom("sealed" as const, "readable" as const, "shared" as const).map((between) => ({
    split: { layerId: "Banks", between },
  })),
);
const date = fc.record(
  { opens: fc.option(wall), due: fc.option(wall), closes: fc.option(wall), attempts: fc.constantFrom(1, 2, null) },
  { requiredKeys: [] },
);

const commandOf: fc.Arbitrary<NewCommand> = fc.oneof(
  fc.record({ itemId, fields }).map((one) => ({ kind: "item.change" as const, ...one })),
  fc.record({ itemId, fields }).map((one) => ({ kind: "item.change" as const, ...one })),
  fc.record({ itemIds: itemId.map((id) => [id]), dates: date }).map((one) => ({ kind: "dates.set" as const, ...one })),
  fc
    .record({ itemIds: itemId.map((id) => [id]), target, dates: date })
    .map((one) => ({ kind: "override.set" as const, ...one })),
  fc
    .record({ groupId, personIds: fc.uniqueArray(personId, { minLength: 1, maxLength: 2 }) })
    .map((one) => ({ kind: "placement.place" as const, ...one })),
  fc
    .record({ groupId, personIds: fc.uniqueArray(personId, { minLength: 1, maxLength: 2 }) })
    .map((one) => ({ kind: "placement.remove" as const, ...one })),
  fc
    .record({ itemId, parentId: fc.option(itemId), position: fc.nat(9) })
    .map((one) => ({ kind: "item.move" as const, ...one })),
  itemId.map((id) => ({ kind: "item.remove" as const, itemId: id })),
  fc.record({ groupId, label: fc.constantFrom("Blue", "Red") }).map(({ groupId: id, label }) => ({
    kind: "group.change" as const,
    groupId: id,
    fields: { label },
  })),
  fc
    .constantFrom("North", "South", "Quick")
    .chain((id) =>
      fc
        .constantFrom(
          null,
          { has: ["members" as const], may: [] },
          { has: ["members" as const, "items" as const], may: ["threads" as const] },
        )
        .map((page) => ({ kind: "group.page" as const, groupIds: [id], page })),
    ),
  fc
    .constantFrom({ to: "everyone" as const }, { to: "nobody" as const }, { to: "layer" as const, layerId: "Banks" })
    .map((classList) => ({ kind: "course.classList" as const, classList })),
  fc.subarray(["discussions", "files", "calendar", "work"] as const).map((on) => ({
    kind: "course.indexes" as const,
    indexes: {
      discussions: on.includes("discussions"),
      files: on.includes("files"),
      calendar: on.includes("calendar"),
      work: on.includes("work"),
    },
  })),
  fc.record({ opens: fc.option(wall), closes: fc.option(wall), showNames: fc.boolean() }).map((window) => ({
    kind: "layer.selfPlacement" as const,
    layerId: "Pace",
    selfPlacement: { by: "choice" as const, help: "", ...window },
  })),
  fc
    .record({ layerId: fc.constantFrom("Reaches", "Pace", "Banks"), isPrivate: fc.boolean() })
    .map(({ layerId, isPrivate }) => ({ kind: "layer.change" as const, layerId, fields: { private: isPrivate } })),
  fc.record({ target, extraDays: fc.constantFrom(1, 30) }).map(({ target: whose, extraDays }) => ({
    kind: "allowance.set" as const,
    allowance: { id: "drafted", target: whose, minutesFactor: null, extraDays, extraAttempts: null },
  })),
  fc.record({ parentId: fc.option(itemId), dates: date.map(({ opens }) => (opens ? { opens } : {})) }).map((one) => ({
    kind: "item.add" as const,
    item: { ...blankItem, id: "drafted item", position: 50, kind: "page" as const, title: "Drafted", ...one },
  })),
  fc.constantFrom("most generous" as const, "layer order" as const).map((datePolicy) => ({
    kind: "course.dateRules" as const,
    rules: { datePolicy },
  })),
) as fc.Arbitrary<NewCommand>;

const space = "6ba7b810-9dad-11d1-80b4-00c04fd430c8";
/** The commands of a draft that apply to a plan, each with an id of its own. */
export const randomDraft: fc.Arbitrary<(plan: Plan) => Command[]> = fc
  .array(commandOf, { minLength: 1, maxLength: 4 })
  .map((drawn) => {
    const commands = drawn.map((command, at) => ({ ...command, id: v5(String(at), space) }) as Command);
    return (plan) => replay(plan, commands, { now: t0 }).applied.map(({ command }) => command);
  });
