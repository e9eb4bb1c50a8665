/** A backup holds every row of one moment, and comes back into an empty database; what is no whole backup changes nothing. */
import { spawn } from "node:child_process";
import { mkdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { gunzipSync, gzipSync } from "node:zlib";
import mysql, { type Connection, type RowDataPacket } from "mysql2/promise";
import { startDatabase } from "../../scripts/lib/database.mjs";
import { application, expect, test } from "./helpers.ts";

test.describe.configure({ mode: "serial" });
const root = join(import.meta.dirname, "../..");
const folder = join(root, ".data/backup-test");
const file = join(folder, "all.backup");
let database: Awaited<ReturnType<typeof startDatabase>>;

const command = (name: "backup" | "restore", args: string[], url: string) =>
  new Promise<{ code: number | null; said: string }>((done) => {
    const env = { ...process.env, AMBER_DATABASE_URL: url };
    const child = spawn(process.execPath, [join(root, `scripts/${name}.mjs`), ...args], { cwd: root, env });
    let said = "";
    for (const stream of [child.stdout, child.stderr]) stream.on("data", (piece) => (said += piece));
    child.on("exit", (code) => done({ code, said }));
  });

test.beforeAll(async () => {
  rmSync(folder, { recursive: true, force: true });
  mkdirSync(folder, { recursive: true });
  database = await startDatabase(folder, 33360);
});
test.afterAll(async () => {
  await database.stop();
  rmSync(folder, { recursive: true, force: true });
});

/** Of every table how many rows it has, and a checksum of all of them. */
async function everything(connection: Connection): Promise<Record<string, string>> {
  const [tables] = await connection.query<RowDataPacket[]>("SHOW TABLES");
  const names = tables.map((row) => String(Object.values(row)[0]));
  const found: Record<string, string> = {};
  for (const name of names) {
    const [[sum]] = await connection.query<RowDataPacket[]>(`CHECKSUM TABLE \`${name}\` EXTENDED`);
    const [[count]] = await connection.query<RowDataPacket[]>(`SELECT COUNT(*) AS n FROM \`${name}\``);
    found[name] = `${count?.n} rows, ${sum?.Checksum}`;
  }
  return found;
}

test("written while others write, it holds whole transactions; restored elsewhere it is every row", async () => {
  const from = await mysql.createConnection(application().databaseUrl);
  const writer = await mysql.createConnection(application().databaseUrl);
  // A file of a megabyte of every byte, among all that the demo holds.
  await from.query(
    "CREATE TABLE backup_pairs (pair INT NOT NULL, half INT NOT NULL, bytes MEDIUMBLOB, PRIMARY KEY (pair, half)) ENGINE = InnoDB",
  );
  const bytes = Buffer.from(Array.from({ length: 1_000_000 }, (_, at) => at % 256));
  let isWriting = true;
  const writing = (async () => {
    for (let pair = 0; isWriting; pair++) {
      await writer.beginTransaction();
      for (const half of [0, 1])
        await writer.query("INSERT INTO backup_pairs VALUES (?, ?, ?)", [pair, half, pair === 0 ? bytes : null]);
      await writer.commit();
    }
  })();
  await expect
    .poll(async () => (await from.query<RowDataPacket[]>("SELECT COUNT(*) AS n FROM backup_pairs"))[0][0]?.n)
    .toBeGreaterThan(10);
  expect((await command("backup", [file], application().databaseUrl)).said).toContain(
    "It was read again and is whole.",
  );
  isWriting = false;
  await writing;
  const other = join(folder, "rest.backup");
  expect((await command("backup", [other], application().databaseUrl)).code).toBe(0);
  const expected = await everything(from);

  const to = await mysql.createConnection(database.url);
  expect(await command("restore", [file], database.url)).toMatchObject({
    code: 0,
    said: expect.stringContaining("Everything is as it was on"),
  });
  const [[halves]] = await to.query<RowDataPacket[]>("SELECT COUNT(*) AS n, SUM(half) AS seconds FROM backup_pairs");
  expect(Number(halves?.n)).toBeGreaterThan(10);
  expect(Number(halves?.seconds) * 2).toBe(Number(halves?.n));
  // What is there already is not written over.
  expect(await command("restore", [other], database.url)).toMatchObject({
    code: 1,
    said: expect.stringContaining("This database is not empty, and nothing was changed."),
  });
  await to.query("DROP DATABASE amber");
  await to.query("CREATE DATABASE amber CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci");
  expect((await command("restore", [other], database.url)).code).toBe(0);
  await to.query("USE amber");
  // Sessions and claims may have moved on since; nothing else is written while nobody is there.
  const restored = await everything(to);
  expect(Object.keys(restored)).toEqual(Object.keys(expected));
  expect(restored).toEqual(expected);
  await from.query("DROP TABLE backup_pairs");
  for (const one of [from, writer, to]) await one.end();
});

test("what is cut short, changed, of another version, or none at all is refused before anything is written", async () => {
  const to = await mysql.createConnection(database.url);
  await to.query("DROP DATABASE amber");
  await to.query("CREATE DATABASE amber CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci");
  const whole = readFileSync(file);
  const text = gunzipSync(whole).toString("latin1");
  const put = (name: string, content: Buffer) => {
    writeFileSync(join(folder, name), content);
    return join(folder, name);
  };
  const pack = (changed: string) => gzipSync(Buffer.from(changed, "latin1"));
  const cases = {
    [put("cut", whole.subarray(0, whole.length - 50))]: "is not a whole backup",
    [put("lines", pack(text.slice(0, text.lastIndexOf("\n--"))))]: "is not a whole backup",
    [put("changed", pack(text.replace("Watershed", "Waterfall")))]: "is not a whole backup",
    [put("none", Buffer.from("hello"))]: "is not a whole backup",
    [put("version", pack(text.replace("0036_institution.sql", "0099_later.sql")))]: "is of another version",
    [join(folder, "nowhere")]: "There is no file",
  };
  for (const [name, says] of Object.entries(cases)) {
    const { code, said } = await command("restore", [name], database.url);
    expect([name, code, said.includes(says)]).toEqual([name, 1, true]);
  }
  const [tables] = await to.query<RowDataPacket[]>("SHOW TABLES FROM amber");
  expect(tables).toEqual([]);
  await to.end();
});

test("a backup that cannot be written leaves no file and says why", async () => {
  const { code, said } = await command("backup", [join(folder, "no/such/folder/x")], application().databaseUrl);
  expect(code).toBe(1);
  expect(said).toContain("could not be written");
  expect(
    (await command("backup", [join(folder, "y")], `${database.url.replace(/\/amber$/, "")}/amber`)).said,
  ).toContain("nothing to back up");
  expect((await command("backup", [], application().databaseUrl)).said).toContain("Say where to");
});
