import type { APIRoute } from "astro";
import { now } from "../../../../server/clock.ts";
import { notFound } from "../../../../server/http/guard.ts";
import { serveFile } from "../../../../server/store/files.ts";
import { recordOpening } from "../../../../server/store/progress.ts";
import { fileIdOf, ownView } from "../../../../server/student/shown-course.ts";

/** The file of an item, for whoever sees the item; fetching it is opening it. */
export const GET: APIRoute = async ({ locals, params }) => {
  const { access } = locals;
  const view = await ownView(access);
  const fileId = view && fileIdOf(view, params.item ?? "");
  const served = fileId ? await serveFile(access.courseId, fileId) : null;
  if (!served) return notFound(false);
  if (access.membership.role === "student")
    await recordOpening(access.courseId, params.item ?? "", access.membership.personId, now());
  return served;
};
