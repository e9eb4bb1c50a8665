import type { APIRoute } from "astro";
import { serveFile } from "../../../../../server/files.ts";
import { notFound } from "../../../../../server/guard.ts";
import { fileIdOf, lookView } from "../../../../../server/shown-course.ts";

export const GET: APIRoute = async ({ locals, params, url }) => {
  const { seat, account } = locals;
  const view = await lookView(seat, account.id, params.person ?? "", url.searchParams);
  const fileId = view && fileIdOf(view, params.item ?? "");
  return (fileId ? await serveFile(seat.courseId, fileId) : null) ?? notFound(false);
};
