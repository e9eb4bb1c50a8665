/** What happens that touches security: kept for a year, and read by the coordinator of the course as far as it is about it. */
import { v7 } from "uuid";
import type { AccessKind } from "../../core/access/access-line.ts";
import { cut } from "../../core/text/shorten.ts";
import { now } from "../clock.ts";
import { log } from "../log.ts";
import { run } from "../store/database.ts";
import { digest } from "./digest.ts";

export type SecurityKind =
  | AccessKind
  | "signed in"
  | "sign-in failed"
  | "sign-in slowed"
  | "signed out"
  | "sessions ended"
  | "password changed"
  | "account changed"
  | "set up"
  | "entered a course"
  | "course deleted"
  | "refused"
  | "failed";

export interface SecurityEvent {
  kind: SecurityKind;
  accountId?: string | null | undefined;
  courseId?: string | null | undefined;
  personId?: string | null | undefined;
  /** The pattern of the route, never its address; or the name of a file that was saved. */
  what?: string | undefined;
  /** The network address of whoever signs in. */
  address?: string | undefined;
}

const hour = 3_600_000;
const keptFor = 365 * 24 * hour;

/**
 * Notes that something happened. What the same person does again within the hour is counted: whoever is refused a thousand
 * times fills no table. That it could not be noted is logged, and stops nobody.
 */
export async function noteEvent(event: SecurityEvent, at = now()): Promise<void> {
  const { kind, accountId = null, courseId = null, personId = null, what = "", address = "" } = event;
  log.info({ security: kind, account: accountId, course: courseId, what, address }, "security");
  const said = [cut(what, 200), cut(address, 64)] as const;
  const same = digest(JSON.stringify([Math.floor(at / hour), kind, accountId, courseId, personId, ...said]));
  try {
    await run(
      `INSERT INTO security_events (id, same_hash, kind, account_id, course_id, person_id, what, address, at, last_at, times)
       VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, 1) ON DUPLICATE KEY UPDATE times = times + 1, last_at = VALUES(last_at)`,
      [v7({ msecs: at }), same, kind, accountId, courseId, personId, ...said, at, at],
    );
  } catch (error) {
    log.error({ error: String(error), security: kind }, "a security event was not noted");
  }
}

/** Forgets what is older than a year. */
export const forgetEvents = (at: number): Promise<number> =>
  run("DELETE FROM security_events WHERE at < ?", [at - keptFor]);
