import type { APIRoute } from "astro";
import { filesOn, groupPage } from "../../../../../../server/groups/page.ts";
import { notFound } from "../../../../../../server/http/guard.ts";
import { serveFile } from "../../../../../../server/store/files.ts";
import { ownView } from "../../../../../../server/student/shown-course.ts";

/** A file that stands on a group's page, for its members. */
export const GET: APIRoute = async ({ locals, params }) => {
  const view = await ownView(locals.access);
  const shown = view && (await groupPage(view, params.group ?? ""));
  const isShown = shown && filesOn(shown).includes(params.file ?? "");
  return (isShown ? await serveFile(locals.access.courseId, params.file ?? "") : null) ?? notFound(false);
};
