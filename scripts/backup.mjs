/** npm run backup -- FILE [--empty]: everything in the database as one file, while the application is used. */
import { statSync } from "node:fs";
import { backUp, databaseOf } from "./lib/backups.mjs";
import { ensureModules, Stop, say } from "./lib/machine.mjs";

async function main() {
  const [file] = process.argv.slice(2).filter((one) => !one.startsWith("--"));
  if (!file)
    throw new Stop(
      "Say where to: npm run backup -- FILE. With --empty it is the institution's own database, not the demo's.",
    );
  await ensureModules();
  const database = await databaseOf({ isEmpty: process.argv.includes("--empty") });
  try {
    await backUp(database.url, file);
  } finally {
    await database.stop();
  }
  say(
    `${file} holds everything, ${(statSync(file).size / 1e6).toFixed(1)} MB. It was read again and is whole. Keep it where others cannot read it.`,
  );
}

main().catch((error) => {
  console.error(error instanceof Stop ? error.message : error);
  process.exit(1);
});
