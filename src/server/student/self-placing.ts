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
import type { Account } from "../accounts/accounts.ts";
import { now } from "../clock.ts";
import { liveStep, type Step } from "../course/live-step.ts";
import { course } from "../store/courses.ts";
import { rows, run } from "../store/database.ts";

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

/** Why no further code is taken from an account for a while; null where one is. */
async function tooMany(account: Account): Promise<Refusal | null> {
  const since = Date.now() - wrongLast;
  const [found] = await rows<{ count: number }>(
    "SELECT COUNT(*) AS count FROM wrong_codes WHERE account_id = ? AND at > ?",
    [account.id, since],
  );
  if (Number(found?.count ?? 0) < mostWrong) return null;
  return {
    refused: true,
    code: "self.wait",
    sentence: "That was the twentieth wrong code. Wait ten minutes, and look at the code again meanwhile.",
  };
}
async function wrong(account: Account): Promise<Refusal> {
  await run("DELETE FROM wrong_codes WHERE account_id = ? AND at < ?", [account.id, Date.now() - wrongLast]);
  await run("INSERT INTO wrong_codes (account_id, at) VALUES (?, ?)", [account.id, Date.now()]);
  return wrongCode();
}

/** Courses in which a code leads somewhere; more than one where several coordinators chose the same. */
export async function coursesWithCode(code: string): Promise<{ id: string; title: string }[]> {
  const typed = code.trim().slice(0, 40);
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
  const wait = await tooMany(account);
  if (wait) return wait;
  if (typed.trim() === "" || typed.trim().length > 40) return wrong(account);
  const courses = (await coursesWithCode(typed)).filter(({ id }) => among === undefined || id === among);
  const [only] = courses;
  if (!only) return wrong(account);
  if (courses.length > 1) return { choose: courses };
  const who = { sourcedId: account.sourcedId, username: account.username, ...nameOf(account) };
  const taken = await liveStep<Pick<CodeTaken, "kind" | "label">>(only.id, account.id, "placement", (plan, at) => {
    const result = takeCode(plan, v7(), who, typed, at);
    if ("refused" in result) return result;
    const what = result.kind === "visitor" ? "as a visitor" : `to ${result.label}`;
    return { ...result, says: `${account.displayName} came by code, ${what}` };
  });
  if (!("refused" in taken)) return { courseId: only.id, kind: taken.kind, label: taken.label };
  return taken.code === "self.code" ? wrong(account) : taken;
}
