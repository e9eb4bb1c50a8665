/** Saved gradebook filters: each belongs to one account in one course, and may be shared with the course's staff. */
import type { SavedFilter, SavedView } from "../../core/gradebook/view.ts";
import { rows, run } from "../store/database.ts";

/** One's own, then those that others share. */
export async function savedFilters(courseId: string, accountId: string): Promise<SavedFilter[]> {
  const found = await rows<Omit<SavedFilter, "view"> & { view: SavedView | string | null }>(
    `SELECT filters.id, name, text, pinned, shared, view, IF(account_id = ?, NULL, accounts.display_name) AS \`from\`
     FROM filters JOIN accounts ON accounts.id = filters.account_id
     WHERE course_id = ? AND (account_id = ? OR shared) ORDER BY account_id <> ?, position, filters.id`,
    [accountId, courseId, accountId, accountId],
  );
  return found.map((filter) => ({
    ...filter,
    // What others share is pinned by whoever takes it over.
    pinned: Boolean(filter.pinned) && filter.from === null,
    shared: Boolean(filter.shared),
    view: typeof filter.view === "string" ? JSON.parse(filter.view) : filter.view,
  }));
}

export async function saveFilter(
  courseId: string,
  accountId: string,
  filter: Omit<SavedFilter, "from">,
): Promise<void> {
  const { id, name, text, pinned, shared } = filter;
  const view = filter.view && JSON.stringify(filter.view);
  await run(
    `INSERT INTO filters (id, course_id, account_id, name, text, pinned, shared, view, position)
     SELECT ?, ?, ?, ?, ?, ?, ?, ?, COALESCE(MAX(position) + 1, 0) FROM filters AS others WHERE others.course_id = ? AND others.account_id = ?
     ON DUPLICATE KEY UPDATE
       name = IF(filters.account_id = VALUES(account_id), VALUES(name), filters.name),
       text = IF(filters.account_id = VALUES(account_id), VALUES(text), filters.text),
       shared = IF(filters.account_id = VALUES(account_id), VALUES(shared), filters.shared),
       view = IF(filters.account_id = VALUES(account_id), VALUES(view), filters.view),
       pinned = IF(filters.account_id = VALUES(account_id), VALUES(pinned), filters.pinned)`,
    [id, courseId, accountId, name, text, pinned, shared, view, courseId, accountId],
  );
}

export const removeFilter = (courseId: string, accountId: string, filterId: string): Promise<number> =>
  run("DELETE FROM filters WHERE course_id = ? AND account_id = ? AND id = ?", [courseId, accountId, filterId]);
