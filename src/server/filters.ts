/** Saved gradebook filters: each belongs to one account in one course. */
import { rows, run } from "./database.ts";

export interface SavedFilter {
  id: string;
  name: string;
  text: string;
  pinned: boolean;
  position: number;
}

export async function savedFilters(courseId: string, accountId: string): Promise<SavedFilter[]> {
  const found = await rows<SavedFilter>(
    "SELECT id, name, text, pinned, position FROM filters WHERE course_id = ? AND account_id = ? ORDER BY position, id",
    [courseId, accountId],
  );
  return found.map((filter) => ({ ...filter, pinned: Boolean(filter.pinned) }));
}

export async function saveFilter(
  courseId: string,
  accountId: string,
  filter: Omit<SavedFilter, "position">,
): Promise<void> {
  await run(
    `INSERT INTO filters (id, course_id, account_id, name, text, pinned, position)
     SELECT ?, ?, ?, ?, ?, ?, COALESCE(MAX(position) + 1, 0) FROM filters AS others WHERE others.course_id = ? AND others.account_id = ?
     ON DUPLICATE KEY UPDATE
       name = IF(filters.account_id = VALUES(account_id), VALUES(name), filters.name),
       text = IF(filters.account_id = VALUES(account_id), VALUES(text), filters.text),
       pinned = IF(filters.account_id = VALUES(account_id), VALUES(pinned), filters.pinned)`,
    [filter.id, courseId, accountId, filter.name, filter.text, filter.pinned, courseId, accountId],
  );
}

export const removeFilter = (courseId: string, accountId: string, filterId: string): Promise<number> =>
  run("DELETE FROM filters WHERE course_id = ? AND account_id = ? AND id = ?", [courseId, accountId, filterId]);
