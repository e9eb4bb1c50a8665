/** What a request sends, read: forms, forms with a file, JSON by its schema. */
import { Readable } from "node:stream";
import { pipeline } from "node:stream/promises";
import busboy from "busboy";
import { z } from "zod";
import { type ArrivedFile, arrivedAhead, takeIn } from "../store/uploads.ts";
import { BodyRefused, bodyLimits } from "./counted-body.ts";
import { problem } from "./problem.ts";

/** The fields of a form that was sent; none where what was sent is no form. */
export async function readForm(request: Request): Promise<FormData> {
  try {
    return await request.formData();
  } catch (error) {
    if (error instanceof BodyRefused) throw error;
    return new FormData();
  }
}

/** A form, and the file that was sent with it or ahead of it. */
export interface SentForm {
  form: FormData;
  file: ArrivedFile | null;
}

/** Reads a form part by part, so that its file is stored as it comes and never held. */
async function readParts(request: Request, accountId: string): Promise<SentForm> {
  const sent: SentForm = { form: new FormData(), file: null };
  const contentType = request.headers.get("content-type") ?? "";
  const limits = { files: 1, fields: 50, fieldSize: bodyLimits.text, parts: 60 };
  const parts = busboy({ headers: { "content-type": contentType }, limits, defParamCharset: "utf8" });
  let taking: Promise<void> | null = null;
  let failure: unknown = null;
  parts.on("field", (name, value) => sent.form.append(name, value));
  parts.on("file", (_name, stream, { filename }) => {
    // A form without a chosen file sends one that has no name.
    if (!filename) return stream.resume();
    taking = takeIn(accountId, filename, stream).then(
      (file) => {
        sent.file = file;
      },
      (error) => {
        // Where the form itself broke off, that is what is wrong.
        if (stream.errored) return;
        failure = error;
        // What cannot be stored is not read on.
        parts.destroy(error);
      },
    );
    return stream;
  });
  const { body } = request;
  let isForm = true;
  try {
    if (body) await pipeline(Readable.fromWeb(body as Parameters<typeof Readable.fromWeb>[0]), parts);
  } catch (error) {
    if (error instanceof BodyRefused) throw error;
    isForm = false;
  }
  await taking;
  if (failure) throw failure;
  return isForm ? sent : noForm();
}
const noForm = (): SentForm => ({ form: new FormData(), file: null });

/** The same for a form with a file, which may have been sent ahead of it, in pieces: then it stands in its place. */
export async function readFormWithFile(request: Request, accountId: string): Promise<SentForm> {
  const isInParts = /^multipart\/form-data\b/i.test(request.headers.get("content-type") ?? "");
  const sent = isInParts ? await readParts(request, accountId) : { form: await readForm(request), file: null };
  const ahead = sent.form.get("upload");
  if (typeof ahead === "string" && ahead !== "") sent.file = await arrivedAhead(accountId, ahead);
  return sent;
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

/** The body of a request as its schema says, or the answer that tells what is wrong with it and where. */
export async function readBody<Schema extends z.ZodType>(
  request: Request,
  schema: Schema,
): Promise<z.infer<Schema> | Response> {
  let body: unknown;
  try {
    const text = await request.text();
    body = JSON.parse(text);
    // Halves of a pair come only by their escapes.
    if (/\\u[dD][89a-fA-F]/.test(text) && !isWhole(body))
      return problem(400, "Not as expected", "A text holds half of a letter. Type it again. Nothing was changed.");
  } catch (error) {
    if (error instanceof BodyRefused) throw error;
    return problem(400, "Not JSON", "The request holds no readable JSON. Nothing was changed.");
  }
  const parsed = parse(schema, body);
  if (parsed === null)
    return problem(400, "Not as expected", "The request is nested deeper than anything here is. Nothing was changed.");
  if (parsed.success) return parsed.data;
  const [first] = parsed.error.issues;
  const where = first?.path.join(".") || "the request";
  return problem(400, "Not as expected", `${where}: ${first?.message}. Nothing was changed.`, {
    issues: z.flattenError(parsed.error),
  });
}
