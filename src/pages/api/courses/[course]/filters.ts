import type { APIRoute } from "astro";
import { z } from "zod";
import { columnsOf } from "../../../../core/gradebook/cells.ts";
import { isMistake, parseFilter } from "../../../../core/gradebook/filter.ts";
import { filterNames } from "../../../../core/gradebook/names.ts";
import { SavedView } from "../../../../core/gradebook/view.ts";
import { Id } from "../../../../core/plan/types.ts";
import { removeFilter, savedFilters, saveFilter } from "../../../../server/course/filters.ts";
import { readBody } from "../../../../server/http/body.ts";
import type { CourseAccess } from "../../../../server/http/guard.ts";
import { json, problem } from "../../../../server/http/problem.ts";

const Filter = z.object({
  id: Id,
  name: z.string().trim().min(1).max(100),
  text: z.string().max(2000),
  pinned: z.boolean(),
  shared: z.boolean(),
  view: SavedView.nullable(),
});
const Body = z.object({ filters: z.array(Filter).min(1).max(500) });

/** One's own, and shared ones that name nothing outside one's scope. */
async function list({ courseId, plan, scope }: CourseAccess, accountId: string): Promise<Response> {
  const saved = await savedFilters(courseId, accountId);
  if (!scope) return json(saved);
  const names = filterNames(plan, columnsOf(plan));
  return json(saved.filter(({ from, text }) => from === null || !isMistake(parseFilter(text, names))));
}

export const GET: APIRoute = ({ locals }) => list(locals.access, locals.account.id);

export const POST: APIRoute = async ({ request, locals }) => {
  const body = await readBody(request, Body);
  if (body instanceof Response) return body;
  for (const { name, text } of body.filters) {
    const parsed = parseFilter(text);
    if (isMistake(parsed))
      return problem(
        400,
        "Not a filter",
        `${name}: at character ${parsed.position + 1}, ${parsed.says}. Nothing was saved.`,
      );
  }
  for (const filter of body.filters) await saveFilter(locals.access.courseId, locals.account.id, filter);
  return list(locals.access, locals.account.id);
};

export const DELETE: APIRoute = async ({ request, locals }) => {
  const body = await readBody(request, z.object({ id: Id }));
  if (body instanceof Response) return body;
  await removeFilter(locals.access.courseId, locals.account.id, body.id);
  return list(locals.access, locals.account.id);
};
