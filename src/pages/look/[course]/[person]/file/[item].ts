import type { APIRoute } from "astro";
import { notFound } from "../../../../../server/http/guard.ts";
import { serveFile } from "../../../../../server/store/files.ts";
import { lookView } from "../../../../../server/student/looking-through.ts";
import { fileIdOf } from "../../../../../server/student/shown-course.ts";

export const GET: APIRoute = async ({ locals, params, url }) => {
  const { access, account } = locals;
  const view = await lookView(access, account.id, params.person ?? "", url.searchParams);
  const fileId = view && fileIdOf(view, params.item ?? "");
  return (fileId ? await serveFile(access.courseId, fileId) : null) ?? notFound(false);
};
