/** Values of a Zod schema for fast-check: mostly as it says, with texts of every kind, now and then something else. */
import fc from "fast-check";
import type { z } from "zod";
import { naughty } from "./naughty.ts";

type Def = Record<string, unknown> & { type: string };
const defOf = (schema: z.ZodType): Def => (schema as unknown as { def: Def }).def;
const schemaAt = (def: Def, name: string) => def[name] as z.ZodType;

/** Texts that schemas ask for: ids that there are, days, times, names. `ids`: of real rows. */
const texts = (ids: readonly string[]): fc.Arbitrary<string> =>
  fc.oneof(
    { weight: 6, arbitrary: fc.constantFrom(...ids) },
    {
      weight: 2,
      arbitrary: fc.constantFrom(
        "2026-11-30",
        "2026-11-30T09:00",
        "09:30",
        "D1",
        "Ada",
        "9999-12-31",
        "2026-02-30T10:00",
      ),
    },
    { weight: 3, arbitrary: fc.constantFrom(...naughty) },
    { weight: 1, arbitrary: fc.uuid() },
    { weight: 1, arbitrary: fc.string({ unit: "binary", maxLength: 40 }) },
  );
const numbers = fc.oneof(
  fc.integer({ min: 0, max: 10 }),
  fc.constantFrom(-1, 0.5, 1e9, 1e308, Number.MAX_SAFE_INTEGER, 1_795_600_800_000),
);

/** By the type of a schema: what its values are. */
type Make = (def: Def, inner: (schema: z.ZodType) => fc.Arbitrary<unknown>) => fc.Arbitrary<unknown>;
const wrapped: Make = (def, inner) => inner(schemaAt(def, "innerType"));
const maker = (ids: readonly string[]): Record<string, Make> => ({
  string: () => texts(ids),
  number: () => numbers,
  boolean: () => fc.boolean(),
  null: () => fc.constant(null),
  literal: (def) => fc.constantFrom(...(def.values as unknown[])),
  enum: (def) => fc.constantFrom(...Object.values(def.entries as object)),
  object: (def, inner) =>
    fc.record(Object.fromEntries(Object.entries(def.shape as object).map(([name, one]) => [name, inner(one)]))),
  array: (def, inner) => fc.array(inner(schemaAt(def, "element")), { maxLength: 3 }),
  tuple: (def, inner) => fc.tuple(...(def.items as z.ZodType[]).map(inner)),
  record: (def, inner) => fc.dictionary(texts(ids), inner(schemaAt(def, "valueType")), { maxKeys: 2 }),
  union: (def, inner) => fc.oneof(...(def.options as z.ZodType[]).map(inner)),
  lazy: (def, inner) => inner((def.getter as () => z.ZodType)()),
  pipe: (def, inner) => inner(schemaAt(def, "in")),
  nullable: (def, inner) => fc.oneof(fc.constant(null), wrapped(def, inner)),
  optional: (def, inner) => fc.oneof(fc.constant(undefined), wrapped(def, inner)),
  ...Object.fromEntries(["default", "prefault", "catch", "readonly", "nonoptional"].map((type) => [type, wrapped])),
});

/** Values as a schema asks for; `ids` are of rows that there are. Deeper than ten schemas within each other there is only text. */
export function fromSchema(schema: z.ZodType, ids: readonly string[]): fc.Arbitrary<unknown> {
  const makers = maker(ids);
  const make = (one: z.ZodType, depth: number): fc.Arbitrary<unknown> => {
    const def = defOf(one);
    const by = makers[def.type];
    return depth > 10 || !by ? texts(ids) : by(def, (next) => make(next, depth + 1));
  };
  return fc.oneof(
    { weight: 8, arbitrary: make(schema, 0) },
    { weight: 1, arbitrary: fc.jsonValue() as fc.Arbitrary<unknown> },
  );
}
