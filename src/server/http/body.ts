import { z } from "zod";
import { problem } from "./problem.ts";

/** The fields of a form that was sent; none where what was sent is no form. */
export async function readForm(request: Request): Promise<FormData> {
  try {
    return await request.formData();
  } catch {
    return new FormData();
  }
}

/** The body of a request as its schema says, or the answer that tells what is wrong with it and where. */
export async function readBody<Schema extends z.ZodType>(
  request: Request,
  schema: Schema,
): Promise<z.infer<Schema> | Response> {
  let body: unknown;
  try {
    body = await request.json();
  } catch {
    return problem(400, "Not JSON", "The request holds no readable JSON. Nothing was changed.");
  }
  const parsed = schema.safeParse(body);
  if (parsed.success) return parsed.data;
  const [first] = parsed.error.issues;
  const where = first?.path.join(".") || "the request";
  return problem(400, "Not as expected", `${where}: ${first?.message}. Nothing was changed.`, {
    issues: z.flattenError(parsed.error),
  });
}
