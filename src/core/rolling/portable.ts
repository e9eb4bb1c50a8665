/** A plan as a JSON file, with a published schema: every row of it, and nothing that people did. */
import { z } from "zod";
import { rowSchemas } from "../plan/rows.ts";
import { type Plan, tableNames } from "../plan/types.ts";
import { faultsIn } from "../plan/valid.ts";

export const planFormat = "amber-weave plan";
const version = 1;
/** The whole of a file: a list of rows for each table. */
export const PlanFile = z.object({
  $schema: z.string().optional(),
  format: z.literal(planFormat),
  version: z.literal(version),
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

/** Rows by id, and the fields of each in the order of its schema: the same plan is the same file. */
export function writePlan(plan: Plan, schemaAddress: string): string {
  const tables = Object.fromEntries(tableNames.map((name) => [name, Object.values(plan[name]).sort(byId)]));
  const file = { $schema: schemaAddress, format: planFormat, version, course: plan.course, ...tables };
  // What the schema would not take is written as it is, so that nothing of a plan is ever kept back.
  const parsed = PlanFile.safeParse(file);
  return `${JSON.stringify(parsed.success ? parsed.data : file, null, 1)}\n`;
}
const byId = (a: { id: string }, b: { id: string }): number => (a.id < b.id ? -1 : a.id > b.id ? 1 : 0);

const header = z.looseObject({ format: z.unknown(), version: z.unknown() });
/** Why a value is no plan of this version; null where its head says that it is one. */
function strange(value: unknown): string | null {
  const head = header.safeParse(value);
  if (!head.success || head.data.format !== planFormat)
    return `The file is no plan: it does not say "format": "${planFormat}". Choose a plan that was saved here.`;
  const said = head.data.version;
  return typeof said === "number" && said > version
    ? `The file is of version ${said} of plans, and this program reads version ${version}: it was saved by a newer one. Bring this one up to date, or save the plan from an older one.`
    : null;
}

/** Where a fault stands: "items, row 12 (Lab 1), dates.due". */
function placeOf(value: unknown, path: readonly PropertyKey[]): string {
  const [table, index, ...rest] = path;
  if (typeof index !== "number") return path.map(String).join(".") || "the file";
  const row = (value as Record<string, Record<string, unknown>[]>)[String(table)]?.[index];
  const name = [row?.title, row?.name, row?.code, row?.id].find((one) => typeof one === "string");
  const field = rest.length > 0 ? `, ${rest.map(String).join(".")}` : "";
  return `${String(table)}, row ${index + 1}${name === undefined ? "" : ` (${name})`}${field}`;
}

const mostSaid = 5;
const andMore = (all: string[]): string =>
  all.slice(0, mostSaid).join(" ") + (all.length > mostSaid ? ` And ${all.length - mostSaid} more.` : "");
const mend = "Mend that in the file, or choose another.";

/** The plan of a file, or sentences that say what is wrong, in which row, and what to do. Never throws. */
export function readPlanFile(text: string): { plan: Plan } | { wrong: string } {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch (error) {
    return { wrong: `The file is no JSON: ${(error as Error).message}. Choose a plan that was saved here.` };
  }
  const wrong = strange(value);
  if (wrong) return { wrong };
  const parsed = PlanFile.safeParse(value);
  if (!parsed.success) {
    const said = parsed.error.issues.map(({ path, message }) => `${placeOf(value, path)}: ${message}.`);
    return { wrong: `${andMore(said)} ${mend}` };
  }
  const plan = { course: parsed.data.course } as Plan;
  const places = new Map<string, number>();
  for (const name of tableNames) {
    const rows = parsed.data[name] as { id: string }[];
    for (const [at, { id }] of rows.entries()) {
      const before = places.get(`${name}/${id}`);
      if (before !== undefined)
        return { wrong: `${placeOf(value, [name, at])} has the same id as row ${before + 1}. ${mend}` };
      places.set(`${name}/${id}`, at);
    }
    Object.assign(plan, { [name]: Object.fromEntries(rows.map((row) => [row.id, row])) });
  }
  const faults = faultsIn(plan).map(
    ({ table, id, says }) =>
      `${placeOf(value, table === "course" ? ["course"] : [table, places.get(`${table}/${id}`) ?? 0])}: ${says}.`,
  );
  return faults.length > 0 ? { wrong: `${andMore(faults)} ${mend}` } : { plan };
}
