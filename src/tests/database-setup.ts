/** A real database for the server's tests, in a folder of its own, made new and stopped with them. */
import { rmSync } from "node:fs";
import { join } from "node:path";
import { startDatabase } from "../../scripts/lib/database.mjs";
import { dataFolder } from "../../scripts/lib/machine.mjs";

export default async function setup(): Promise<() => Promise<void>> {
  const folder = join(dataFolder, "unit");
  rmSync(folder, { recursive: true, force: true });
  const database = await startDatabase(folder, 33260);
  process.env.AMBER_DATABASE_URL = database.url;
  return () => database.stop();
}
