/** Applies the intake in a file, as the server would; a test ends this process while it does. */
import { readFileSync } from "node:fs";
import { applyIntake } from "../server/intake/intakes.ts";
import { closeDatabase } from "../server/store/database.ts";

const { courseId, accountId, request } = JSON.parse(readFileSync(process.argv[2] ?? "", "utf8"));
process.stdout.write("applying\n");
await applyIntake(courseId, accountId, request);
process.stdout.write("applied\n");
await closeDatabase();
