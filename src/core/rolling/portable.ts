/** A plan as a JSON file, with a published schema: every row of it, and nothing that people did. */
import { z } from "zod";
import { rowSchemas } from "../plan/rows.ts";
import { type Plan, tableNames } from "../plan/types.ts";

export const planFormat = "amber-weave plan";
/** The whole of a file: a list of rows for each table. */
export const PlanFile = z.object({
  $schema: z.string().optional(),
  format: z.literal(planFormat),
  version: z.literal(1),
  course: rowSchemas.course,
  sections: z.array(rowSchemas.sections),
  people: z.array(rowSchemas.people),
  enrolments: z.array(rowSchemas.enrolments),
  layers: z.array(rowSchemas.layers),
  groups: z.array(rowSchemas.groups),
  sets: z.array(rowSchemas.sets),
  placements: z.array(rowSchemas.placements),
  items: z.array(rowSchemas.items),
  entrances: z.array(rowSchemas.entrances),
  overrides: z.array(rowSchemas.overrides),
  allowances: z.array(rowSchemas.allowances),
  acceptances: z.array(rowSchemas.acceptances),
});
export type PlanFile = z.infer<typeof PlanFile>;

/** JSON Schema (draft 2020-12) of such a file. */
export const planSchema = (): object => ({
  title: "Amber Weave plan",
  ...z.toJSONSchema(PlanFile, { io: "input" }),
});

export function writePlan(plan: Plan, schemaAddress: string): string {
  const tables = Object.fromEntries(tableNames.map((name) => [name, Object.values(plan[name])]));
  return `${JSON.stringify({ $schema: schemaAddress, format: planFormat, version: 1, course: plan.course, ...tables }, null, 1)}\n`;
}

/** The plan of a file, or a sentence that says what is wrong, where, and what to do. */
export function readPlanFile(text: string): { plan: Plan } | { wrong: string } {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch (error) {
    return { wrong: `The file is no JSON: ${(error as Error).message}. Choose a plan that was saved here.` };
  }
  const parsed = PlanFile.safeParse(value);
  if (!parsed.success) {
    const [first] = parsed.error.issues;
    const where = first?.path.join(".") || "the file";
    return { wrong: `${where}: ${first?.message}. Choose a plan that was saved here, or mend that place.` };
  }
  const { course } = parsed.data;
  const plan = { course } as Plan;
  for (const name of tableNames) {
    const rows = parsed.data[name] as { id: string }[];
    const table = Object.fromEntries(rows.map((row) => [row.id, row]));
    if (Object.keys(table).length < rows.length)
      return { wrong: `${name}: two rows have the same id. Each row needs one of its own.` };
    Object.assign(plan, { [name]: table });
  }
  const dangling = danglingIn(plan);
  return dangling ? { wrong: `${dangling} Mend that place, or choose another file.` } : { plan };
}

/** A row that names another which is not there, in a sentence; null where each is. */
function danglingIn(plan: Plan): string | null {
  const asks: [string, { id: string }[], (row: never) => (string | null)[], object][] = [
    ["enrolments", Object.values(plan.enrolments), (row: { personId: string }) => [row.personId], plan.people],
    [
      "enrolments",
      Object.values(plan.enrolments),
      (row: { sectionId: string | null }) => [row.sectionId],
      plan.sections,
    ],
    ["groups", Object.values(plan.groups), (row: { layerId: string }) => [row.layerId], plan.layers],
    ["placements", Object.values(plan.placements), (row: { groupId: string }) => [row.groupId], plan.groups],
    ["placements", Object.values(plan.placements), (row: { personId: string }) => [row.personId], plan.people],
    ["items", Object.values(plan.items), (row: { parentId: string | null }) => [row.parentId], plan.items],
    [
      "entrances",
      Object.values(plan.entrances),
      (row: { itemId: string; folderId: string | null }) => [row.itemId, row.folderId],
      plan.items,
    ],
    ["overrides", Object.values(plan.overrides), (row: { itemId: string }) => [row.itemId], plan.items],
  ];
  for (const [table, rows, names, known] of asks)
    for (const row of rows)
      for (const id of names(row as never))
        if (id !== null && !(id in known)) return `${table}, row ${row.id}: it names ${id}, which is not in the file.`;
  return null;
}
