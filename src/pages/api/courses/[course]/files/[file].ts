import type { APIRoute } from "astro";
import { serveFile } from "../../../../../server/files.ts";
import { notFound } from "../../../../../server/guard.ts";

/** A stored file of the course, for those who design it. */
export const GET: APIRoute = async ({ locals, params }) =>
  (await serveFile(locals.seat.courseId, params.file ?? "")) ?? notFound(true);
