import type { APIRoute } from "astro";
import { serveFile } from "../../../../../../server/files.ts";
import { notFound } from "../../../../../../server/guard.ts";
import { itemPage } from "../../../../../../server/item-page.ts";
import { ownView } from "../../../../../../server/shown-course.ts";

/** A file that goes with a hand-in or a post, for whoever sees that on the item's page. */
export const GET: APIRoute = async ({ locals, params }) => {
  const view = await ownView(locals.seat);
  const page = view && (await itemPage(view, params.item ?? ""));
  const shown = page && [...page.handIns, ...page.others, ...(page.threads ?? []).flatMap(({ posts }) => posts)];
  const isShown = shown?.some(({ file }) => file?.id === params.file);
  return (isShown ? await serveFile(locals.seat.courseId, params.file ?? "") : null) ?? notFound(false);
};
