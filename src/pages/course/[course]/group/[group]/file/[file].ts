import type { APIRoute } from "astro";
import { serveFile } from "../../../../../../server/files.ts";
import { filesOn, groupPage } from "../../../../../../server/groups/page.ts";
import { notFound } from "../../../../../../server/guard.ts";
import { ownView } from "../../../../../../server/shown-course.ts";

/** A file that stands on a group's page, for its members. */
export const GET: APIRoute = async ({ locals, params }) => {
  const view = await ownView(locals.seat);
  const shown = view && (await groupPage(view, params.group ?? ""));
  const isShown = shown && filesOn(shown).includes(params.file ?? "");
  return (isShown ? await serveFile(locals.seat.courseId, params.file ?? "") : null) ?? notFound(false);
};
