/** Rosters drawn from the registrar: on a press or nightly, waiting for review or applied within limits. */

import type { PoolConnection } from "mysql2/promise";
import { v7 } from "uuid";
import type { FeedSettings, Pull } from "../../api/intake.ts";
import { dayAfter, instantOf, sayInstant, wallOf } from "../../core/clock/local-time.ts";
import type { TextTable } from "../../core/formats/text-table.ts";
import { matchColumns } from "../../core/intake/columns.ts";
import { reconcile } from "../../core/intake/reconcile.ts";
import { attributeNames, rosterRows } from "../../core/intake/rows.ts";
import { isUnusable, type Reconciled, wholeRoster } from "../../core/intake/verdict.ts";
import { studentsAt } from "../../core/plan/lookup.ts";
import { plural } from "../../core/text/plural.ts";
import { log } from "../log.ts";
import { compressJson, expandJson } from "../store/compressed-json.ts";
import { course } from "../store/courses.ts";
import { fromJson, rows, run } from "../store/database.ts";
import { applyIntake } from "./intakes.ts";
import { FeedTrouble, registrarRoster } from "./registrar.ts";

export async function feedOf(courseId: string): Promise<FeedSettings | null> {
  const [found] = await rows<{
    classes: string;
    nightly_at: string | null;
    applies_itself: number;
    leaving_percent: number;
    joining_percent: number;
  }>("SELECT classes, nightly_at, applies_itself, leaving_percent, joining_percent FROM feeds WHERE course_id = ?", [
    courseId,
  ]);
  return found
    ? {
        classes: fromJson<string[]>(found.classes),
        nightlyAt: found.nightly_at,
        appliesItself: Boolean(found.applies_itself),
        leavingPercent: found.leaving_percent,
        joiningPercent: found.joining_percent,
      }
    : null;
}

/** The next moment at which the clock in the course's time zone shows a time. */
export function nextNight(nightlyAt: string, timeZone: string, after: number): number {
  const today = wallOf(after, timeZone).slice(0, 10);
  const at = instantOf(`${today}T${nightlyAt}`, timeZone);
  return at > after ? at : instantOf(`${dayAfter(today, 1)}T${nightlyAt}`, timeZone);
}

export async function setFeed(
  courseId: string,
  accountId: string,
  feed: FeedSettings,
  timeZone: string,
  at: number,
  runner?: PoolConnection,
): Promise<void> {
  const nextAt = feed.nightlyAt ? nextNight(feed.nightlyAt, timeZone, at) : null;
  await run(
    `INSERT INTO feeds (course_id, classes, nightly_at, next_at, applies_itself, leaving_percent, joining_percent, allowed_by) VALUES (?, ?, ?, ?, ?, ?, ?, ?)
     ON DUPLICATE KEY UPDATE classes = VALUES(classes), nightly_at = VALUES(nightly_at), next_at = VALUES(next_at),
       applies_itself = VALUES(applies_itself), leaving_percent = VALUES(leaving_percent), joining_percent = VALUES(joining_percent),
       allowed_by = VALUES(allowed_by)`,
    [
      courseId,
      JSON.stringify(feed.classes),
      feed.nightlyAt,
      nextAt,
      feed.appliesItself,
      feed.leavingPercent,
      feed.joiningPercent,
      accountId,
    ],
    runner,
  );
}

/** The latest pulls, newest first. */
export const pullsOf = (courseId: string): Promise<Pull[]> =>
  rows<Pull>("SELECT id, at, state, says FROM pulls WHERE course_id = ? ORDER BY at DESC, id DESC LIMIT 20", [
    courseId,
  ]);

export async function openPull(courseId: string, pullId: string): Promise<TextTable | null> {
  const [found] = await rows<{ roster: Buffer | null }>("SELECT roster FROM pulls WHERE course_id = ? AND id = ?", [
    courseId,
    pullId,
  ]);
  return found?.roster ? expandJson<TextTable>(found.roster) : null;
}

/** Sets aside a roster that waits; gives whether there was one. */
export const settlePull = async (courseId: string, pullId: string, state: "applied" | "put away"): Promise<boolean> =>
  (await run("UPDATE pulls SET state = ? WHERE course_id = ? AND id = ? AND state = 'waiting'", [
    state,
    courseId,
    pullId,
  ])) > 0;

/** Why a roster may not apply itself; null where it may. */
export function whyWaits(feed: FeedSettings, reconciled: Reconciled, students: number): string | null {
  const { counts, missing, questions, newSections, rows: judged } = reconciled;
  const unusable = judged.filter(isUnusable).length;
  // Of a course of nobody any number is more than was allowed.
  const isMore = (count: number, percent: number) => 100 * count > percent * students;
  const say = (count: number, what: string, percent: number) => {
    const share = students > 0 ? ` (${((100 * count) / students).toFixed(1)} %)` : "";
    return `${count} would ${what} a course of ${plural(students, "student")}${share}, more than the ${percent} % you allow`;
  };
  const joining = counts.new + counts.returning;
  if (counts.clash > 0) return `${counts.clash} of its rows clash over a login`;
  if (unusable > 0) return `${unusable} of its rows cannot be used`;
  if (questions.length > 0) return `${questions.length} of its people may be known under another id`;
  if (newSections.length > 0) return `it brings sections that the course lacks: ${newSections.join(", ")}`;
  if (isMore(missing.length, feed.leavingPercent)) return say(missing.length, "leave", feed.leavingPercent);
  if (isMore(joining, feed.joiningPercent)) return say(joining, "join", feed.joiningPercent);
  return null;
}

/** Pulls now: the roster waits, applies itself within the limits, or the trouble is told. Nothing is half applied. */
export async function pull(courseId: string, at: number): Promise<Pull> {
  const feed = await feedOf(courseId);
  const stored = await course(courseId);
  const id = v7();
  const keep = async (state: Pull["state"], says: string, roster: TextTable | null): Promise<Pull> => {
    // Only the newest roster waits; one that it overtook would undo it.
    if (roster)
      await run(
        "UPDATE pulls SET state = 'put away', says = 'a newer one was pulled' WHERE course_id = ? AND state = 'waiting'",
        [courseId],
      );
    await run("INSERT INTO pulls (id, course_id, at, state, says, roster) VALUES (?, ?, ?, ?, ?, ?)", [
      id,
      courseId,
      at,
      state,
      says,
      roster && (await compressJson(roster)),
    ]);
    return { id, at, state, says };
  };
  if (!stored || !feed || feed.classes.length === 0)
    return keep("failed", "No class of the registrar's is chosen yet. Choose the classes first.", null);
  let roster: TextTable;
  try {
    roster = await registrarRoster(feed.classes, `Registrar, ${sayInstant(at, stored.plan.course.timeZone)}`);
  } catch (error) {
    if (error instanceof FeedTrouble) return keep("failed", error.message, null);
    throw error;
  }
  if (roster.rows.length === 0)
    return keep(
      "failed",
      "The registrar's classes have no students at all. Nothing was taken in; ask the registrar's office.",
      null,
    );
  const table = roster;
  const judged = rosterRows(table, matchColumns(table), "", attributeNames(stored.plan.people));
  const reconciled = reconcile(stored.plan, judged, { ...wholeRoster, now: at });
  const { counts, missing } = reconciled;
  const brings = `${counts.new} new, ${counts.moved} moved, ${counts.returning} returning, ${counts.changed} changed, ${missing.length} missing`;
  if (counts.same === judged.length && missing.length === 0) return keep("applied", "nothing was different", null);
  const why = feed.appliesItself ? whyWaits(feed, reconciled, studentsAt(stored.plan, at).length) : "";
  const [owner] = await rows<{ allowed_by: string }>("SELECT allowed_by FROM feeds WHERE course_id = ?", [courseId]);
  if (why !== null || !owner) return keep("waiting", why ? `${brings}; it waits, because ${why}` : brings, roster);
  const answer = await applyIntake(courseId, owner.allowed_by, {
    intakeId: v7(),
    revision: stored.revision,
    rows: judged,
    options: wholeRoster,
    sectionLayer: null,
    files: [roster.name],
  });
  return answer.applied
    ? keep("applied", `${brings}; it applied itself`, roster)
    : keep("waiting", `${brings}; it waits, because the course changed while it was read`, roster);
}

/** Pulls every feed whose hour has come, here or where `pullOne` does. Each is claimed first, so that two processes pull once. */
export async function pullDue(
  at: number,
  pullOne: (courseId: string, at: number) => Promise<unknown> = pull,
): Promise<number> {
  const due = await rows<{ course_id: string; nightly_at: string; next_at: number; time_zone: string }>(
    "SELECT f.course_id, f.nightly_at, f.next_at, c.time_zone FROM feeds f JOIN courses c ON c.id = f.course_id WHERE f.next_at <= ?",
    [at],
  );
  let pulled = 0;
  for (const feed of due) {
    const next = nextNight(feed.nightly_at, feed.time_zone, at);
    const claimed = await run("UPDATE feeds SET next_at = ? WHERE course_id = ? AND next_at = ?", [
      next,
      feed.course_id,
      feed.next_at,
    ]);
    if (claimed === 0) continue;
    pulled++;
    await pullOne(feed.course_id, at).catch((error) => log.error({ error }, "a nightly pull failed"));
  }
  return pulled;
}
