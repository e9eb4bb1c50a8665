import type { APIRoute } from "astro";
import { z } from "zod";
import { isMistake, parseFilter } from "../../../../core/gradebook/filter.ts";
import { Id } from "../../../../core/plan/types.ts";
import { readBody } from "../../../../server/body.ts";
import { removeFilter, savedFilters, saveFilter } from "../../../../server/filters.ts";
import { json, problem } from "../../../../server/problem.ts";

const Body = z.object({
  id: Id,
  name: z.string().trim().min(1).max(100),
  text: z.string().max(2000),
  pinned: z.boolean(),
});

const list = async ({ courseId }: { courseId: string }, accountId: string) =>
  json(await savedFilters(courseId, accountId));

export const GET: APIRoute = ({ locals }) => list(locals.seat, locals.account.id);

export const POST: APIRoute = async ({ request, locals }) => {
  const body = await readBody(request, Body);
  if (body instanceof Response) return body;
  const parsed = parseFilter(body.text);
  if (isMistake(parsed)) return problem(400, "Not a filter", `At character ${parsed.position + 1}: ${parsed.says}.`);
  await saveFilter(locals.seat.courseId, locals.account.id, body);
  return list(locals.seat, locals.account.id);
};

export const DELETE: APIRoute = async ({ request, locals }) => {
  const body = await readBody(request, z.object({ id: Id }));
  if (body instanceof Response) return body;
  await removeFilter(locals.seat.courseId, locals.account.id, body.id);
  return list(locals.seat, locals.account.id);
};
