/** Numbered SQL files, applied in order and recorded. A claim keeps two starting processes from doing it twice. */
import { randomUUID } from "node:crypto";
import { readdir, readFile } from "node:fs/promises";
import { join } from "node:path";
import { setTimeout } from "node:timers/promises";
import { database, rows, run } from "./database.ts";

/** How long a claim holds that nobody renews, and how often it is renewed, in seconds. */
const [claimSeconds, renewSeconds] = [30, 5];

/**
 * Claims the migrations for this process; gives how to let them go. The claim is a row, since a lock of one node is not known
 * to the others; where its process dies it runs out.
 */
async function claim(): Promise<() => Promise<void>> {
  const holder = randomUUID();
  await run(
    "CREATE TABLE IF NOT EXISTS migrating (id TINYINT NOT NULL PRIMARY KEY, holder CHAR(36) NOT NULL, until DATETIME(3) NOT NULL) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4",
    [],
  );
  await run("INSERT IGNORE INTO migrating (id, holder, until) VALUES (1, '', '2000-01-01')", []);
  const hold = async () =>
    (await run(
      `UPDATE migrating SET holder = ?, until = UTC_TIMESTAMP(3) + INTERVAL ${claimSeconds} SECOND WHERE id = 1 AND (holder = ? OR until < UTC_TIMESTAMP(3))`,
      [holder, holder],
    )) === 1;
  for (const end = Date.now() + 120_000; !(await hold()); await setTimeout(200))
    if (Date.now() > end)
      throw new Error("Another process is migrating the database and did not finish within two minutes.");
  const renewing = setInterval(() => void hold().catch(() => {}), renewSeconds * 1000);
  return async () => {
    clearInterval(renewing);
    await run("UPDATE migrating SET until = '2000-01-01' WHERE id = 1 AND holder = ?", [holder]).catch(() => {});
  };
}

export async function migrate(folder: string, say: (line: string) => void): Promise<void> {
  const letGo = await claim();
  try {
    await applyFiles(folder, say);
  } finally {
    await letGo();
  }
}

async function applyFiles(folder: string, say: (line: string) => void): Promise<void> {
  const connection = await database().getConnection();
  try {
    await connection.query(
      "CREATE TABLE IF NOT EXISTS migrations (name VARCHAR(100) NOT NULL PRIMARY KEY) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4",
    );
    const done = new Set(
      (await rows<{ name: string }>("SELECT name FROM migrations", [], connection)).map(({ name }) => name),
    );
    const files = (await readdir(folder)).filter((name) => /^\d{4}_.*\.sql$/.test(name)).sort();
    const unknown = [...done].filter((name) => !files.includes(name)).sort();
    // Tables of a newer version may hold what this one would lose: it does not touch them.
    if (unknown.length > 0)
      throw new Error(
        `The database is of a newer version (it has had ${unknown.join(", ")}). Start that version, or restore a backup of this one.`,
      );
    for (const name of files) {
      if (done.has(name)) continue;
      const sql = (await readFile(join(folder, name), "utf8")).replace(/^--.*$/gm, "");
      for (const statement of sql.split(/;\s*$/m)) if (statement.trim()) await connection.query(statement);
      await run("INSERT INTO migrations (name) VALUES (?)", [name], connection);
      say(`Migrated ${name}`);
    }
  } finally {
    connection.release();
  }
}
