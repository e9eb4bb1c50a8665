/** Puts a large course beside the demo, with the demo's coordinator in it. */
import { parseArgs } from "node:util";
import { v4 } from "uuid";
import { now } from "../src/server/clock.ts";
import { closeDatabase, rows, transaction } from "../src/server/store/database.ts";
import { makeLargeCourse, usualSizes } from "./large.ts";
import { load, storeActivity, storePlan } from "./load.ts";

async function main(): Promise<void> {
  const { values } = parseArgs({
    options: {
      students: { type: "string" },
      items: { type: "string" },
      layers: { type: "string" },
      sections: { type: "string" },
    },
  });
  const sizes = { ...usualSizes };
  for (const [name, text] of Object.entries(values)) {
    const size = Number(text);
    if (!Number.isInteger(size) || size < 1 || size > 100_000)
      throw new Error(`--${name} is "${text}"; give a whole number from 1 to 100000.`);
    sizes[name as keyof typeof sizes] = size;
  }
  await load(console.log);
  const { plan, progress } = makeLargeCourse(sizes, now(), v4());
  const [coordinator] = await rows<{ sourcedId: string; displayName: string }>(
    "SELECT sourced_id AS sourcedId, display_name AS displayName FROM accounts WHERE username = 'coordinator'",
  );
  if (!coordinator) throw new Error("The demo's coordinator is not in this database.");
  const [familyName = "", givenName = ""] = coordinator.displayName.split(", ");
  const personId = v4();
  plan.people[personId] = {
    id: personId,
    sourcedId: coordinator.sourcedId,
    username: "coordinator",
    email: null,
    givenName,
    familyName,
    attributes: {},
  };
  const enrolmentId = v4();
  plan.enrolments[enrolmentId] = {
    id: enrolmentId,
    personId,
    sectionId: null,
    role: "coordinator",
    since: 0,
    until: null,
    origin: "hand",
    home: false,
  };
  await transaction(async (connection) => {
    await storePlan(plan, connection);
    await storeActivity(plan.course.id, { ...progress, handIns: [], openings: [], posts: [], entries: [] }, connection);
  });
  console.log(
    `${plan.course.code}: ${sizes.students} students, ${sizes.items} items, ${sizes.layers} layers, ${sizes.sections} sections`,
  );
}

main()
  .then(closeDatabase)
  .catch((error: Error) => {
    console.error(error.message);
    process.exit(1);
  });
