/** Private addresses of calendars: whoever has one reads that calendar without signing in. Source: semantics.md sections 6 and 9. */

import { randomBytes } from "node:crypto";
import { v7 } from "uuid";
import { type CalendarAddress, mostAddresses, type Whose } from "../../api/calendars.ts";
import { membershipOf } from "../../core/access/roles.ts";
import { fullName, targetName } from "../../core/plan/lookup.ts";
import type { Plan } from "../../core/plan/types.ts";
import { type LocaleFound, localeColumns, localeIn, localeTables } from "../accounts/accounts.ts";
import { digest } from "../accounts/digest.ts";
import { now } from "../clock.ts";
import { answerIn } from "../http/this-request.ts";
import { course, coursesOf } from "../store/courses.ts";
import { rows, run, transaction } from "../store/database.ts";
import { calendarFile, type FileOptions, wholeCalendarFile } from "./calendars.ts";

/**
 * Makes an address; what is returned is shown once and kept nowhere. Null where the account has as many of this calendar as
 * anybody needs: each is one more secret that may get lost.
 */
export async function makeAddress(
  courseId: string | null,
  accountId: string,
  whose: Whose | { kind: "all" },
): Promise<string | null> {
  const token = randomBytes(24).toString("base64url");
  const target = "id" in whose ? whose.id : null;
  return transaction(async (connection) => {
    // Whoever presses twice at once is counted twice.
    await rows("SELECT id FROM accounts WHERE id = ? FOR UPDATE", [accountId], connection);
    const [found] = await rows<{ count: number }>(
      `SELECT COUNT(*) AS count FROM calendar_addresses
       WHERE course_id <=> ? AND account_id = ? AND kind = ? AND target_id <=> ?`,
      [courseId, accountId, whose.kind, target],
      connection,
    );
    if ((found?.count ?? 0) >= mostAddresses) return null;
    await run(
      "INSERT INTO calendar_addresses (id, course_id, token_hash, kind, target_id, account_id, made_at) VALUES (?, ?, ?, ?, ?, ?, ?)",
      [v7(), courseId, digest(token), whose.kind, target, accountId, now()],
      connection,
    );
    return `/calendar/${token}.ics`;
  });
}

interface AddressRow {
  id: string;
  /** Null: of all that the account has to do, in any course. */
  course_id: string | null;
  kind: Whose["kind"] | "all";
  target_id: string | null;
  account_id: string;
  made_at: number;
  read_at: number | null;
}

/** Addresses of all that an account has to do, in any course, the latest first. */
export const wholeAddresses = (accountId: string): Promise<{ id: string; madeAt: number; readAt: number | null }[]> =>
  rows(
    `SELECT id, made_at AS madeAt, read_at AS readAt FROM calendar_addresses
     WHERE account_id = ? AND kind = 'all' ORDER BY made_at DESC`,
    [accountId],
  );

/** Withdraws such an address; false where there is none. */
export const withdrawWhole = async (accountId: string, addressId: string): Promise<boolean> =>
  (await run("DELETE FROM calendar_addresses WHERE id = ? AND account_id = ? AND kind = 'all'", [
    addressId,
    accountId,
  ])) > 0;

/** Addresses of a course: all of them for staff, of one account alone for a student. */
export async function addressesOf(
  courseId: string,
  plan: Plan,
  accountId: string,
  onlyOwn: boolean,
): Promise<CalendarAddress[]> {
  const found = await rows<AddressRow & { kind: Whose["kind"] }>(
    `SELECT * FROM calendar_addresses WHERE course_id = ? ${onlyOwn ? "AND account_id = ? AND kind = 'student'" : ""} ORDER BY made_at DESC`,
    onlyOwn ? [courseId, accountId] : [courseId],
  );
  return found.map(({ id, kind, target_id, account_id, made_at, read_at }) => {
    const person = kind === "student" ? plan.people[target_id ?? ""] : undefined;
    const says =
      kind === "staff"
        ? "All of the course, for staff"
        : kind === "group"
          ? targetName(plan, { kind: "group", id: target_id ?? "" })
          : person
            ? fullName(person)
            : "somebody who left";
    return { id, kind, says, madeAt: made_at, readAt: read_at, own: account_id === accountId };
  });
}

/** Withdraws an address; from then on it is as if it had never been. Gives whether there was one. */
export async function withdrawAddress(courseId: string, addressId: string, onlyOf: string | null): Promise<boolean> {
  const gone = await run(
    `DELETE FROM calendar_addresses WHERE course_id = ? AND id = ? ${onlyOf ? "AND account_id = ? AND kind = 'student'" : ""}`,
    onlyOf ? [courseId, addressId, onlyOf] : [courseId, addressId],
  );
  return gone > 0;
}

/** What stands at an address now; null where there is no such address, or whoever made it may no longer see it. */
export async function calendarAt(token: string, options: FileOptions): Promise<string | null> {
  const [address] = await rows<AddressRow & LocaleFound & { sourced_id: string }>(
    `SELECT calendar_addresses.*, a.sourced_id, ${localeColumns} FROM calendar_addresses
     JOIN accounts a ON a.id = account_id AND a.disabled_at IS NULL ${localeTables} WHERE token_hash = ?`,
    [digest(token)],
  );
  if (!address) return null;
  answerIn(localeIn(address));
  const file =
    address.kind === "all" || !address.course_id
      ? await wholeCalendarFile(await coursesOf(address.sourced_id, now()), options)
      : await courseCalendarAt({ ...address, kind: address.kind, course_id: address.course_id }, options);
  if (file !== null) await run("UPDATE calendar_addresses SET read_at = ? WHERE id = ?", [now(), address.id]);
  return file;
}

async function courseCalendarAt(
  address: { course_id: string; kind: Whose["kind"]; target_id: string | null; sourced_id: string },
  options: FileOptions,
): Promise<string | null> {
  const stored = await course(address.course_id);
  if (!stored) return null;
  const membership = membershipOf(stored.plan, address.sourced_id, now());
  const isStaff = membership?.role === "coordinator";
  // A student's own address ends with their enrolment; one that staff made, with theirs.
  const isOwn = address.kind === "student" && membership?.personId === address.target_id;
  if (!isStaff && !isOwn) return null;
  const whose: Whose =
    address.kind === "staff" ? { kind: "staff" } : { kind: address.kind, id: address.target_id ?? "" };
  return calendarFile(address.course_id, whose, options);
}
