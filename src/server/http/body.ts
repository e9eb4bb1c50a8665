/** What a request sends, read: forms, forms with a file, JSON by its schema. */
import { Readable } from "node:stream";
import { pipeline } from "node:stream/promises";
import busboy from "busboy";
import type { z } from "zod";
import { type ArrivedFile, arrivedAhead, takeIn } from "../store/uploads.ts";
import { BodyRefused, bodyLimits } from "./counted-body.ts";
import { judgeJson, type Misread } from "./judge-json.ts";
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

/** The body of a request as its schema says, or the answer that tells what is wrong with it and where. */
export async function readBody<Schema extends z.ZodType>(
  request: Request,
  schema: Schema,
): Promise<z.infer<Schema> | Response> {
  const read = judgeJson(await request.text(), schema);
  return "misread" in read ? misreadAnswer(read) : read.value;
}
export const misreadAnswer = ({ misread: { title, detail, more } }: Misread): Response =>
  problem(400, title, detail, more);
