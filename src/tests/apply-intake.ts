/** Applies the intake in a file, as the server would; a test ends this process while it does. */
import { readFileSync } from "node:fs";
import { closeDatabase } from "../server/database.ts";
import { applyIntake } from "../server/intakes.ts";

const { courseId, accountId, request } = JSON.parse(readFileSync(process.argv[2] ?? "", "utf8"));
process.stdout.write("applying\n");
await applyIntake(courseId, accountId, request);
process.stdout.write("applied\n");
await closeDatabase();
