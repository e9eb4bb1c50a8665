/** Applies the migrations of a folder: `tsx scripts/lib/migrate-folder.ts FOLDER`, as a version of the application with other ones does. */
import { closeDatabase } from "../../src/server/store/database.ts";
import { migrate } from "../../src/server/store/migrate.ts";

await migrate(process.argv[2] ?? "", console.log);
await closeDatabase();
