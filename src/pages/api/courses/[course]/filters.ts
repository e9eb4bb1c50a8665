import * as api from "../../../../api/gradebook.ts";
import { columnsOf } from "../../../../core/gradebook/cells.ts";
import { isMistake, parseFilter } from "../../../../core/gradebook/filter.ts";
import { filterNames } from "../../../../core/gradebook/names.ts";
import type { SavedFilter } from "../../../../core/gradebook/view.ts";
import { removeFilter, savedFilters, saveFilter } from "../../../../server/course/filters.ts";
import { answering } from "../../../../server/http/answer.ts";
import type { CourseAccess } from "../../../../server/http/guard.ts";
import { problem } from "../../../../server/http/problem.ts";

/** One's own, and shared ones that name nothing outside one's scope. */
async function list({ courseId, plan, scope }: CourseAccess, accountId: string): Promise<SavedFilter[]> {
  const saved = await savedFilters(courseId, accountId);
  if (!scope) return saved;
  const names = filterNames(plan, columnsOf(plan));
  return saved.filter(({ from, text }) => from === null || !isMistake(parseFilter(text, names)));
}

export const GET = answering(api.readFilters, ({ locals }) => list(locals.access, locals.account.id));

export const POST = answering(api.saveFilters, async ({ body, locals }) => {
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
});

export const DELETE = answering(api.removeFilter, async ({ body, locals }) => {
  await removeFilter(locals.access.courseId, locals.account.id, body.id);
  return list(locals.access, locals.account.id);
});
