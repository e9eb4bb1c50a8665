/** A text that should be JSON of a schema: the value, or what is wrong with it and where. */
import { z } from "zod";

export interface Misread {
  misread: { title: string; detail: string; more?: Record<string, unknown> };
}

/** Whether every text within a value is well-formed: a half of a pair cannot be stored, shown or sent on. */
function isWhole(value: unknown): boolean {
  if (typeof value === "string") return value.isWellFormed();
  if (typeof value !== "object" || value === null) return true;
  return Object.entries(value).every(([name, one]) => name.isWellFormed() && isWhole(one));
}

/** What a schema says of a value; null where the value is nested so deep that nothing can be said. */
function parse<Schema extends z.ZodType>(schema: Schema, value: unknown) {
  try {
    return schema.safeParse(value);
  } catch (error) {
    if (error instanceof RangeError) return null;
    throw error;
  }
}

const notAsExpected = (detail: string, more?: Record<string, unknown>): Misread => ({
  misread: { title: "Not as expected", detail: `${detail} Nothing was changed.`, ...(more && { more }) },
});

export function judgeJson<Schema extends z.ZodType>(
  text: string,
  schema: Schema,
): { value: z.infer<Schema> } | Misread {
  let body: unknown;
  try {
    body = JSON.parse(text);
  } catch {
    return { misread: { title: "Not JSON", detail: "The request holds no readable JSON. Nothing was changed." } };
  }
  // Halves of a pair come only by their escapes.
  if (/\\u[dD][89a-fA-F]/.test(text) && !isWhole(body))
    return notAsExpected("A text holds half of a letter. Type it again.");
  const parsed = parse(schema, body);
  if (parsed === null) return notAsExpected("The request is nested deeper than anything here is.");
  if (parsed.success) return { value: parsed.data };
  const [first] = parsed.error.issues;
  const where = first?.path.join(".") || "the request";
  return notAsExpected(`${where}: ${first?.message}.`, { issues: z.flattenError(parsed.error) });
}
