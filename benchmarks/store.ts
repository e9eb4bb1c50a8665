/** What measures of the database begin with. */
import { join } from "node:path";
import { difference } from "../src/core/plan/difference.ts";
import { emptyPlan, type Plan } from "../src/core/plan/types.ts";
import { createAccount } from "../src/server/accounts/accounts.ts";
import { rows, transaction } from "../src/server/store/database.ts";
import { migrate } from "../src/server/store/migrate.ts";
import { insertCourse, writeDifference } from "../src/server/store/plan-rows.ts";

/** Makes the tables, and an account that does what is measured; gives its id. */
export async function readyAccount(): Promise<string> {
  await migrate(join(process.cwd(), "database"), () => undefined);
  await createAccount({ username: "bench", sourcedId: "bench", displayName: "Bench", passwordHash: "x" });
  return (await rows<{ id: string }>("SELECT id FROM accounts"))[0]?.id ?? "";
}

export const storeCourse = (plan: Plan): Promise<void> =>
  transaction(async (connection) => {
    await insertCourse(plan.course, connection);
    await writeDifference(plan.course.id, difference(emptyPlan(plan.course), plan), connection);
  });
