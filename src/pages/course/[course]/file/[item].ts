import type { APIRoute } from "astro";
import { now } from "../../../../server/clock.ts";
import { serveFile } from "../../../../server/files.ts";
import { notFound } from "../../../../server/guard.ts";
import { recordOpening } from "../../../../server/progress.ts";
import { fileIdOf, ownView } from "../../../../server/shown-course.ts";

/** The file of an item, for whoever sees the item; fetching it is opening it. */
export const GET: APIRoute = async ({ locals, params }) => {
  const { seat } = locals;
  const view = await ownView(seat);
  const fileId = view && fileIdOf(view, params.item ?? "");
  const served = fileId ? await serveFile(seat.courseId, fileId) : null;
  if (!served) return notFound(false);
  if (seat.membership.role === "student")
    await recordOpening(seat.courseId, params.item ?? "", seat.membership.personId, now());
  return served;
};
