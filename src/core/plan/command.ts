/**
 * Commands: the one way a plan changes. A command is a small JSON value with an id of its own; applying it is
 * pure, and failure is a value. A draft is a list of commands; the browser and the server apply the same ones.
 */
import { parse, v5 } from "uuid";
import { z } from "zod";
import { Id, isUuid } from "./basics.ts";
import { withChanges } from "./tables.ts";
import type { Plan, TableName } from "./types.ts";

export interface Refusal {
  refused: true;
  /** For programs: `placement.full`. */
  code: string;
  /** For people: what is wrong and what to do next. */
  sentence: string;
}
export interface Context {
  /** The moment the command takes effect: now while drafting, the moment of publication when publishing. */
  now: number;
}

export interface CommandDefinition<Kind extends string, Shape extends z.ZodRawShape> {
  kind: Kind;
  schema: z.ZodObject<{ id: typeof Id; kind: z.ZodLiteral<Kind> } & Shape>;
  apply(plan: Plan, command: CommandOf<Kind, Shape>, context: Context): Plan | Refusal;
  /** One line for tray, review and journal. */
  describe(plan: Plan, command: CommandOf<Kind, Shape>): string;
}
type CommandOf<Kind extends string, Shape extends z.ZodRawShape> = z.infer<
  z.ZodObject<{ id: typeof Id; kind: z.ZodLiteral<Kind> } & Shape>
>;

export function defineCommand<const Kind extends string, Shape extends z.ZodRawShape>(
  kind: Kind,
  shape: Shape,
  behaviour: Pick<CommandDefinition<Kind, Shape>, "apply" | "describe">,
): CommandDefinition<Kind, Shape> {
  const schema = z.object({ id: Id, kind: z.literal(kind), ...shape }) as CommandDefinition<Kind, Shape>["schema"];
  return { kind, schema, ...behaviour };
}

export const refuse = (code: string, sentence: string): Refusal => ({
  refused: true,
  code,
  sentence,
});
export const isRefusal = (value: object): value is Refusal => "refused" in value && value.refused === true;

/** The plan with rows added or replaced. */
export function put<Name extends TableName>(plan: Plan, table: Name, rows: Plan[Name][string][]): Plan {
  return rows.length === 0 ? plan : withChanges(plan, table, new Map(rows.map((row) => [row.id, row])));
}

/** The plan without some rows. */
export function drop(plan: Plan, table: TableName, ids: string[]): Plan {
  return ids.length === 0 ? plan : withChanges(plan, table, new Map(ids.map((id) => [id, null])));
}

const utf8 = new TextEncoder();
/** Commands of a file may have names for ids. */
const writtenByHand = "0b7c1f7e-3a44-4d0b-9d4e-6d1a5a0f2c11";
// The last command whose own id was read.
let named = { id: "", bytes: new Uint8Array(16) };

/**
 * The id of a row that a command makes beyond those it names. The same command makes the same ids wherever it
 * is applied; they cannot be guessed without the command's own random id.
 */
export function derivedId(commandId: string, ...parts: string[]): string {
  // One command makes thousands of ids: its own is read once.
  if (named.id !== commandId)
    named = { id: commandId, bytes: parse(isUuid(commandId) ? commandId : v5(commandId, writtenByHand)) };
  return v5(utf8.encode(parts.join("/")), named.bytes);
}
