/** Students placing themselves, live: each in a transaction of its own under the course's lock. Source: semantics.md section 3. */

import { v7 } from "uuid";
import {
  type CodeTaken,
  chooseGroup,
  knowsCode,
  leaveGroup,
  takeCode,
  wrongCode,
} from "../../core/placement/self-placement.ts";
import type { Refusal } from "../../core/plan/command.ts";
import type { Plan } from "../../core/plan/types.ts";
import { codeSeparators, foldCode } from "../../core/text/codes.ts";
import { cut } from "../../core/text/shorten.ts";
import type { Account } from "../accounts/accounts.ts";
import { now } from "../clock.ts";
import { liveStep, type Step } from "../course/live-step.ts";
import { course } from "../store/courses.ts";
import { rows, run, transaction } from "../store/database.ts";

const labelOf = (plan: Plan, groupId: string) => plan.groups[groupId]?.label ?? "a group";
const stepTo = (next: Plan | Refusal, says: string): Step<object> => ("refused" in next ? next : { plan: next, says });

export const choose = (courseId: string, account: Account, personId: string, groupId: string): Promise<Step<object>> =>
  liveStep(courseId, account.id, "placement", (plan, at) =>
    stepTo(
      chooseGroup(plan, v7(), personId, groupId, at),
      `${account.displayName} placed themselves in ${labelOf(plan, groupId)}`,
    ),
  );

export const leave = (courseId: string, account: Account, personId: string, groupId: string): Promise<Step<object>> =>
  liveStep(courseId, account.id, "placement", (plan, at) =>
    stepTo(leaveGroup(plan, personId, groupId, at), `${account.displayName} left ${labelOf(plan, groupId)} again`),
  );

const mostWrong = 20;
const wrongLast = 10 * 60_000;

/**
 * Counts a code as wrong before it is looked at, under a lock of the account, so that codes typed at the same time count
 * each other; gives what takes it back where it was right. A refusal where there were too many.
 */
async function countCode({ id }: Account): Promise<{ wasRight(): Promise<unknown> } | Refusal> {
  const at = Date.now();
  return transaction(async (connection) => {
    await rows("SELECT id FROM accounts WHERE id = ? FOR UPDATE", [id], connection);
    await run("DELETE FROM wrong_codes WHERE account_id = ? AND at < ?", [id, at - wrongLast], connection);
    const [found] = await rows<{ count: number }>(
      "SELECT COUNT(*) AS count FROM wrong_codes WHERE account_id = ?",
      [id],
      connection,
    );
    if (Number(found?.count ?? 0) >= mostWrong)
      return {
        refused: true,
        code: "self.wait",
        sentence: "That was the twentieth wrong code. Wait ten minutes, and look at the code again meanwhile.",
      };
    await run("INSERT INTO wrong_codes (account_id, at) VALUES (?, ?)", [id, at], connection);
    return {
      wasRight: () => run("DELETE FROM wrong_codes WHERE account_id = ? AND at = ? LIMIT 1", [id, at]),
    };
  });
}

/** Courses in which a code leads somewhere; more than one where several coordinators chose the same. */
export async function coursesWithCode(code: string): Promise<{ id: string; title: string }[]> {
  const typed = cut(code.trim(), 40);
  const folded = foldCode(typed);
  const found = await rows<{ id: string }>(
    `SELECT course_id AS id FROM \`groups\` WHERE code IS NOT NULL AND REGEXP_REPLACE(code, ?, '') = ?
      UNION SELECT id FROM courses WHERE visitor_code IS NOT NULL AND REGEXP_REPLACE(visitor_code, ?, '') = ?`,
    [codeSeparators.source, folded, codeSeparators.source, folded],
  );
  const at = now();
  const stored = await Promise.all(found.map(async ({ id }) => ({ id, stored: await course(id) })));
  return stored.flatMap(({ id, stored: one }) =>
    one && knowsCode(one.plan, typed, at) ? [{ id, title: `${one.plan.course.code} ${one.plan.course.title}` }] : [],
  );
}

const nameOf = ({ displayName }: Account) => {
  const [familyName = "", givenName = ""] = displayName.split(", ");
  return { familyName, givenName };
};

export type Typed = { courseId: string; kind: CodeTaken["kind"]; label: string } | Refusal;

/** A code typed in a course, or anywhere. `among`: the courses that it may belong to. */
export async function typeCode(
  account: Account,
  typed: string,
  among?: string,
): Promise<Typed | { choose: { id: string; title: string }[] }> {
  const counted = await countCode(account);
  if ("refused" in counted) return counted;
  if (typed.trim() === "" || typed.trim().length > 40) return wrongCode();
  const courses = (await coursesWithCode(typed)).filter(({ id }) => among === undefined || id === among);
  const [only] = courses;
  if (!only) return wrongCode();
  if (courses.length > 1) {
    await counted.wasRight();
    return { choose: courses };
  }
  const who = { sourcedId: account.sourcedId, username: account.username, ...nameOf(account) };
  const taken = await liveStep<Pick<CodeTaken, "kind" | "label">>(only.id, account.id, "placement", (plan, at) => {
    const result = takeCode(plan, v7(), who, typed, at);
    if ("refused" in result) return result;
    const what = result.kind === "visitor" ? "as a visitor" : `to ${result.label}`;
    return { ...result, says: `${account.displayName} came by code, ${what}` };
  });
  // Where it is refused for another reason than itself, the code was right.
  if (!("refused" in taken) || taken.code !== "self.code") await counted.wasRight();
  return "refused" in taken ? taken : { courseId: only.id, kind: taken.kind, label: taken.label };
}
