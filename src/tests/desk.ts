/** A desk for tests of the server: the demo course with its activity on the real database, and two accounts. */
import { join } from "node:path";
import { v4, v7 } from "uuid";
import { expect } from "vitest";
import { storeActivity, storeAttempts, storePlan } from "../../demo/load.ts";
import { makeScenario } from "../../demo/scenario.ts";
import { Command } from "../core/commands.ts";
import { isRefusal } from "../core/plan/command.ts";
import type { Plan } from "../core/plan/types.ts";
import { createAccount } from "../server/accounts/accounts.ts";
import { hashPassword } from "../server/accounts/passwords.ts";
import { type NewMark, recordMarks } from "../server/course/marking.ts";
import { addCommands, readDraft } from "../server/drafts/drafts.ts";
import { publish } from "../server/drafts/publishing.ts";
import { course } from "../server/store/courses.ts";
import { rows, transaction } from "../server/store/database.ts";
import { storeArrived } from "../server/store/files.ts";
import { migrate } from "../server/store/migrate.ts";
import { takeIn } from "../server/store/uploads.ts";

/** A file as it comes with a form, stored. */
export async function sendFile(
  courseId: string,
  accountId: string,
  { name, bytes }: { name: string; bytes: Uint8Array },
  at: number,
) {
  async function* pieces() {
    for (let from = 0; from < bytes.length; from += 60_000) yield bytes.subarray(from, from + 60_000);
  }
  return storeArrived(courseId, accountId, await takeIn(accountId, name, pieces()), at);
}

export interface Desk {
  plan: Plan;
  courseId: string;
  /** The course shell with nobody in it but its coordinator. */
  emptyCourseId: string;
  /** The moment at which the course is as the demo has it. */
  moment: number;
  /** Ids of two accounts. */
  first: string;
  second: string;
}

export async function openDesk(): Promise<Desk> {
  const moment = Date.now();
  const folder = join(import.meta.dirname, "../../database");
  await migrate(folder, () => undefined);
  // A second time changes nothing, and two at once wait for each other.
  const said: string[] = [];
  await Promise.all([migrate(folder, (line) => said.push(line)), migrate(folder, (line) => said.push(line))]);
  expect(said).toEqual([]);
  const { plan, emptyCourse, activity, attempts } = makeScenario(moment, v4());
  const courseId = plan.course.id;
  await transaction(async (connection) => {
    await storePlan(plan, connection);
    await storePlan(emptyCourse, connection);
    await storeActivity(courseId, activity, connection);
    await storeAttempts(courseId, attempts, connection);
  });
  const ids: string[] = [];
  for (const name of ["first", "second"]) {
    await createAccount({
      username: name,
      sourcedId: `test-${name}`,
      displayName: name,
      passwordHash: await hashPassword("right"),
    });
    const [account] = await rows<{ id: string }>("SELECT id FROM accounts WHERE username = ?", [name]);
    ids.push(account?.id ?? "");
  }
  return {
    plan,
    courseId,
    emptyCourseId: emptyCourse.course.id,
    moment,
    first: ids[0] as string,
    second: ids[1] as string,
  };
}

/** The account of the course's coordinator: the desk's own two are in no course. */
export async function coordinatorOf({ plan }: Desk): Promise<string> {
  const role = Object.values(plan.enrolments).find((row) => row.role === "coordinator");
  return accountOfPerson(plan, role?.personId ?? "", "coordinator");
}

/** The account of somebody in the course, who has none yet. */
export async function accountOfPerson({ people }: Plan, personId: string, username = personId): Promise<string> {
  const { sourcedId } = people[personId] ?? { sourcedId: "" };
  await createAccount({ username, sourcedId, displayName: username, passwordHash: "no password" });
  const [account] = await rows<{ id: string }>("SELECT id FROM accounts WHERE sourced_id = ?", [sourcedId]);
  return account?.id ?? "";
}

/** Drafts and publishes as the first account. */
export async function live({ courseId, first }: Desk, ...commands: object[]): Promise<void> {
  const draft = await addCommands(
    courseId,
    first,
    commands.map((fields) => Command.parse({ id: v7(), ...fields })),
  );
  if (isRefusal(draft)) throw new Error(draft.sentence);
  const revision = (await course(courseId))?.revision ?? 0;
  const { version } = await readDraft(courseId, first);
  expect(await publish(courseId, first, { publicationId: v7(), leave: [], revision, version })).toMatchObject({
    published: true,
  });
}

/** Gives one mark to a person, or the newer one that stands in its way. */
export async function giveMark(
  courseId: string,
  mark: Omit<Extract<NewMark, { personId: string }>, "groupId">,
  by: string,
  at: number,
  copyIds: string[] = [],
) {
  const { stored, newer } = await recordMarks({ courseId, by, at, copiesOf: () => copyIds }, [mark]);
  return newer[0] ? { newer: newer[0].mark } : { stored: stored[0]?.mark ?? null };
}
