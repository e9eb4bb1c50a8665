import { z } from "zod";
import { uploadedFile } from "../store/uploads.ts";
import { problem } from "./problem.ts";

/** The fields of a form that was sent; none where what was sent is no form. */
export async function readForm(request: Request): Promise<FormData> {
  try {
    return await request.formData();
  } catch {
    return new FormData();
  }
}

/** The same for a form with a file, which may have been sent ahead of it, in pieces: then it stands in its place. */
export async function readFormWithFile(request: Request, accountId: string): Promise<FormData> {
  const form = await readForm(request);
  const sentAhead = form.get("upload");
  if (typeof sentAhead === "string" && sentAhead !== "")
    // One that is not whole is refused as an empty one is, by this name.
    form.set("file", (await uploadedFile(accountId, sentAhead)) ?? new File([], "What arrived of the file"));
  return form;
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
