/** npm run restore -- FILE [--empty]: puts a backup into an empty database. */
import { databaseOf, restore } from "./lib/backups.mjs";
import { ensureModules, Stop, say } from "./lib/machine.mjs";

async function main() {
  const [file] = process.argv.slice(2).filter((one) => !one.startsWith("--"));
  if (!file)
    throw new Stop(
      "Say from where: npm run restore -- FILE. With --empty it is the institution's own database, not the demo's.",
    );
  await ensureModules();
  const database = await databaseOf({ isEmpty: process.argv.includes("--empty") });
  try {
    const { at } = await restore(database.url, file);
    say(`Everything is as it was on ${at}.`);
  } finally {
    await database.stop();
  }
}

main().catch((error) => {
  console.error(error instanceof Stop ? error.message : error);
  process.exit(1);
});
