/**
 * Home pages of students, kept as they were made until anything that they show may be otherwise: the plan, what was done
 * in the course, the reader's notices, or the clock. All but the clock is asked of the database at every use, so that
 * another process misses nothing.
 */

import { instantOf } from "../../core/clock/local-time.ts";
import { momentsOf } from "../../core/reach/changes.ts";
import { intlTag } from "../../core/text/locale.ts";
import type { Account } from "../accounts/accounts.ts";
import { now } from "../clock.ts";
import type { CourseAccess } from "../http/guard.ts";
import { rows } from "../store/database.ts";
import { type CoursePage, type ShownCourse, selfPlacementOf } from "./shown-course.ts";

/** What a page was made from. */
export interface Stamp {
  key: string;
  says: string;
  unread: number;
}
interface Kept {
  says: string;
  /** The first moment at which the clock alone may change it, epoch milliseconds. */
  until: number;
  html: string;
  headers: [string, string][];
}
const mostKept = 500;
const pages = new Map<string, Kept>();

/** What the home page of somebody would be made from now, in one indexed read. */
export async function homeStamp(
  { courseId, revision, membership }: CourseAccess,
  { id, displayName, locale }: Pick<Account, "id" | "displayName" | "locale">,
): Promise<Stamp> {
  const [found] = await rows<{ progress: number; unread: number }>(
    `SELECT progress_revision AS progress,
       (SELECT COUNT(*) FROM deliveries WHERE course_id = c.id AND person_id = ? AND read_at IS NULL) AS unread
     FROM courses c WHERE id = ?`,
    [membership.personId, courseId],
  );
  const unread = Number(found?.unread ?? 0);
  const { role, personId } = membership;
  const says = [revision, found?.progress ?? 0, unread, role, personId, displayName, intlTag(locale)].join("/");
  return { key: `${courseId}/${id}`, says, unread };
}

/** The page as it was kept, if it would be made the same now. */
export function keptPage({ key, says }: Stamp): Response | null {
  const kept = pages.get(key);
  if (!kept || kept.says !== says || now() >= kept.until) return null;
  return new Response(kept.html, { headers: kept.headers });
}

/** Until when a home page stays as it is, by the clock: anything that opens, falls due, closes, begins or ends. */
export function homeUntil({ page, plan }: ShownCourse, shown: CoursePage): number {
  const { t } = page.reach;
  const dates = [...shown.outline, ...shown.due].flatMap((entry) => entry.dates.flatMap(({ at }) => at ?? []));
  const windows = selfPlacementOf(plan, page.personId, t).flatMap(({ opens, closes }) =>
    [opens, closes].flatMap((wall) => (wall === null ? [] : [instantOf(wall, plan.course.timeZone)])),
  );
  // Whatever is due stands until a millisecond after: due is inclusive.
  const all = [...momentsOf(plan, page.personId), ...dates.flatMap((at) => [at, at + 1]), ...windows];
  return Math.min(...all.filter((at) => at > t));
}

/** Keeps an answer that was made from a stamp; gives it as it was. */
export async function keepPage({ key, says }: Stamp, until: number, response: Response): Promise<Response> {
  if (response.status !== 200) return response;
  const html = await response.text();
  const headers = [...response.headers];
  pages.delete(key);
  pages.set(key, { says, until, html, headers });
  for (const oldest of pages.keys()) {
    if (pages.size <= mostKept) break;
    pages.delete(oldest);
  }
  return new Response(html, { headers });
}
