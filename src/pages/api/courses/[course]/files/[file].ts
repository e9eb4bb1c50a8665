import type { APIRoute } from "astro";
import { notFound } from "../../../../../server/http/guard.ts";
import { serveFile } from "../../../../../server/store/files.ts";

/** A stored file of the course, for those who design it. */
export const GET: APIRoute = async ({ locals, params }) =>
  (await serveFile(locals.access.courseId, params.file ?? "")) ?? notFound(true);
