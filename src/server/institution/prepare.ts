/**
 * Makes the database ready for an institution: its tables, and where it is not set up yet, the address to do that at, or what
 * a file says: `tsx src/server/institution/prepare.ts [SET-UP.json]`.
 */
import { readFileSync } from "node:fs";
import { join, resolve } from "node:path";
import { z } from "zod";
import { SetUp } from "../../api/institution.ts";
import { sendPasswordLink } from "../accounts/choosing-password.ts";
import { closeDatabase, rows } from "../store/database.ts";
import { migrate } from "../store/migrate.ts";
import { institution, setUp, setUpAddress } from "./institution.ts";

/** Sets up by a file; throws a sentence that names every fault. */
async function setUpByFile(file: string, say: (line: string) => void): Promise<void> {
  if (await institution()) {
    say(`The institution is set up already; ${file} was not read.`);
    return;
  }
  const text = readFileSync(file, "utf8");
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch (error) {
    throw new Error(`${file} is not JSON: ${(error as Error).message}`);
  }
  const read = SetUp.safeParse(json);
  if (!read.success) throw new Error(`${file} cannot be used:\n${z.prettifyError(read.error)}`);
  const at = Date.now();
  const answer = await setUp(read.data, null, at);
  if ("wrong" in answer) throw new Error(`${file} cannot be used: ${answer.wrong}`);
  for (const [place, id] of answer.administrators.entries()) {
    const person = read.data.administrators[place];
    if (!person || person.password !== undefined) continue;
    const [account] = await rows<{ displayName: string }>(
      "SELECT display_name AS displayName FROM accounts WHERE id = ?",
      [id],
    );
    const to = { id, username: person.username, displayName: account?.displayName ?? "", address: person.email };
    await sendPasswordLink(to, { at, reason: "invited" });
  }
  say(`${read.data.institution.name} was set up by ${file}.`);
}

async function prepare(file: string | undefined, say: (line: string) => void): Promise<void> {
  await migrate(join(import.meta.dirname, "../../../database"), say);
  if (file) await setUpByFile(resolve(file), say);
  const address = await setUpAddress(Date.now());
  if (address) say(`Not set up yet. Whoever administers the application opens this address, once:\n  ${address}`);
}

prepare(process.argv[2], (line) => console.log(line))
  .then(closeDatabase)
  .catch((error: Error) => {
    console.error(error.message);
    process.exit(1);
  });
