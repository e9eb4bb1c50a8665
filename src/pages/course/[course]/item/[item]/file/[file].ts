import type { APIRoute } from "astro";
import { isOwnAnswer } from "../../../../../../server/attempts/showing.ts";
import { notFound } from "../../../../../../server/http/guard.ts";
import { serveFile } from "../../../../../../server/store/files.ts";
import { itemPage } from "../../../../../../server/student/item-page.ts";
import { ownView } from "../../../../../../server/student/shown-course.ts";

/** A file that goes with a hand-in or a post, for whoever sees that on the item's page. */
export const GET: APIRoute = async ({ locals, params }) => {
  const view = await ownView(locals.access);
  const page = view && (await itemPage(view, params.item ?? ""));
  const shown = page && [...page.handIns, ...page.others, ...(page.threads ?? []).flatMap(({ posts }) => posts)];
  const isShown = shown?.some(({ file }) => file?.id === params.file);
  const isOwn = isShown || (view && (await isOwnAnswer(view, params.item ?? "", params.file ?? "")));
  return (isOwn ? await serveFile(locals.access.courseId, params.file ?? "") : null) ?? notFound(false);
};
