/** Every column that can hold an id of another row is declared, and what is declared is found and replaced. */
import { describe, expect, test } from "vitest";
import type { z } from "zod";
import { addItem, addLayer, addSection, addStudent, coursePlan, group, person } from "../tests/fixture.ts";
import { Id } from "./basics.ts";
import type { Row } from "./difference.ts";
import { mapReferences, references, referencesOf } from "./references.ts";
import { rowSchemas } from "./rows.ts";
import { type Item, type TableName, tableNames } from "./types.ts";

/** Ids that lead to no row of the plan: the row's own, and what is said of them in references.ts. */
const leadNowhere = [
  ".id",
  "items.categoryId",
  "items.file.id",
  "items.combines.itemId",
  // Questions and their choices lead to each other alone, within one item.
  "items.quiz.parts.id",
  "items.quiz.parts.questions.id",
  "items.quiz.parts.questions.choices.id",
  "items.quiz.parts.questions.right",
  "course.grading.categories.id",
];

type Walked = { def: { type: string } & Record<string, never> } & z.ZodType;
/** The paths of a schema at which an id stands. */
function idsIn(schema: z.ZodType, path: string, seen: ReadonlySet<unknown> = new Set()): string[] {
  if (schema === Id) return [path];
  const { def } = schema as Walked;
  // A schema with a check of its own is the same one, as far as it goes on in itself.
  const own = def.type === "lazy" ? (def as unknown as { getter: unknown }).getter : schema;
  if (seen.has(own)) return [];
  const next = new Set([...seen, own]);
  const inner = (one: z.ZodType) => idsIn(one, path, next);
  switch (def.type) {
    case "object":
      return Object.entries((schema as z.ZodObject).shape).flatMap(([field, one]) =>
        idsIn(one as z.ZodType, `${path}.${field}`, next),
      );
    case "array":
      return inner((def as unknown as { element: z.ZodType }).element);
    case "union":
      return (def as unknown as { options: z.ZodType[] }).options.flatMap(inner);
    case "record":
      return inner((def as unknown as { valueType: z.ZodType }).valueType);
    case "lazy":
      return inner((def as unknown as { getter(): z.ZodType }).getter());
    case "nullable":
    case "optional":
    case "default":
    case "catch":
    case "readonly":
      return inner((def as unknown as { innerType: z.ZodType }).innerType);
    default:
      return [];
  }
}

/** The paths that are declared, a target's and a condition's own written out. */
function declared(shape: unknown, path: string): string[] {
  if (shape === "target") return [`${path}.id`];
  if (shape === "condition") return [`${path}.itemId`, `${path}.targets.id`];
  if (typeof shape === "string") return [path];
  if ("each" in (shape as object)) return declared((shape as { each: unknown }).each, path);
  return Object.entries((shape as { fields: object }).fields).flatMap(([field, one]) =>
    declared(one, `${path}.${field}`),
  );
}

describe("references", () => {
  test.each([...tableNames, "course"] as (TableName | "course")[])("%s: every id that its schema can hold", (table) => {
    const can = new Set(idsIn(rowSchemas[table], table).filter((path) => path !== `${table}.id`));
    const known = new Set(declared({ fields: references[table] }, table));
    // Acceptances say what a finding is about in one text: they name no row.
    const missing = [...can].filter((path) => !known.has(path) && !leadNowhere.includes(path));
    expect(missing).toEqual([]);
    // `layerOrder` holds a word beside ids, which its schema says as one text.
    const invented = [...known].filter((path) => !can.has(path) && path !== "course.layerOrder");
    expect(invented).toEqual([]);
  });

  const item = (): Item => {
    const plan = coursePlan();
    addSection(plan, "D1");
    addLayer(plan, "Banks", ["North", "South"]);
    addStudent(plan, "ada", ["D1"]);
    return addItem(plan, "lab", {
      parentId: "folder",
      audience: { to: [group("North"), group("South")], minus: [person("ada")] },
      condition: {
        kind: "allOf",
        of: [
          { kind: "in", targets: [group("North")] },
          { kind: "opened", itemId: "page" },
        ],
      },
      variants: [{ targets: [group("South")], condition: { kind: "noneOf", of: [{ kind: "read", itemId: "page" }] } }],
      split: { layerId: "Banks", between: "sealed" },
    });
  };
  test("of a row are all found", () => {
    expect(referencesOf("items", item() as unknown as Row).map(({ table, id }) => `${table} ${id}`)).toEqual([
      "items folder",
      "groups North",
      "groups South",
      "people ada",
      "groups North",
      "items page",
      "groups South",
      "items page",
      "layers Banks",
    ]);
  });
  test("become others, several or none; one that would stand twice stands once, and what stays is the same row", () => {
    const row = item();
    const split = mapReferences("items", row, ({ id }) => (id === "North" ? ["South", "West"] : [id]));
    expect(split.audience).toEqual({ to: [group("South"), group("West")], minus: [person("ada")] });
    expect(split.condition).toMatchObject({ of: [{ targets: [group("South"), group("West")] }, { itemId: "page" }] });
    expect(split.variants).toBe(row.variants);
    expect(mapReferences("items", row, ({ id }) => [id])).toBe(row);
    const without = mapReferences("items", row, ({ table, id }) => (table === "people" || id === "folder" ? [] : [id]));
    expect([without.parentId, without.audience.minus]).toEqual([null, []]);
    expect(
      mapReferences("items", { ...row, audience: { to: "everyone" as const, minus: [] } }, () => []),
    ).toMatchObject({
      audience: { to: "everyone" },
    });
  });
  test("of the course, the word for sections in the order of layers is no id", () => {
    const { course } = coursePlan();
    const row = { ...course, layerOrder: ["Banks", "sections"], classList: { to: "layer" as const, layerId: "Banks" } };
    expect(referencesOf("course", row as unknown as Row)).toEqual([
      { table: "layers", id: "Banks" },
      { table: "layers", id: "Banks" },
    ]);
  });
});
