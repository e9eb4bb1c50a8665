/** Who gets a letter for a password, and where it goes: nobody becomes somebody by writing an address beside their id. */
import { join } from "node:path";
import { v4 } from "uuid";
import { afterAll, beforeAll, describe, expect, it, vi } from "vitest";
import { difference } from "../../core/plan/difference.ts";
import { emptyPlan } from "../../core/plan/types.ts";
import { coursePlan } from "../../core/tests/fixture.ts";
import { closeDatabase, rows, transaction } from "../store/database.ts";
import { migrate } from "../store/migrate.ts";
import { insertCourse, writeDifference } from "../store/plan-rows.ts";
import { createAccount } from "./accounts.ts";
import { askForPassword } from "./choosing-password.ts";

beforeAll(() => migrate(join(import.meta.dirname, "../../../database"), () => {}));
afterAll(closeDatabase);

/** A course whose coordinator names somebody by an id and an address. */
async function roster(sourcedId: string, email: string, origin: "roster" | "hand" = "roster"): Promise<void> {
  const plan = coursePlan();
  const course = { ...plan.course, id: v4() };
  const [personId, id] = [v4(), v4()];
  const names = { givenName: "Ada", familyName: "Lovelace", username: null, attributes: {} };
  const person = { id: personId, sourcedId, email, ...names };
  const open = { sectionId: null, role: "student" as const, since: 0, until: null, origin, home: false };
  const full = {
    ...emptyPlan(course),
    people: { [personId]: person },
    enrolments: { [id]: { id, personId, ...open } },
  };
  await transaction(async (connection) => {
    await insertCourse(course, connection);
    await writeDifference(course.id, difference(emptyPlan(course), full), connection);
  });
}
const lettersTo = async (address: string) =>
  (await rows<{ n: number }>("SELECT COUNT(*) AS n FROM account_letters WHERE address = ?", [address]))[0]?.n ?? 0;
/** Asks, and asks of somebody whose letter is sure to come: when that is written, the other would be. */
async function ask(typed: string): Promise<void> {
  await askForPassword(typed, { at: Date.now(), address: v4() });
  const [username, email] = [v4(), `${v4()}@x.example`];
  await createAccount({ username, sourcedId: v4(), displayName: "Sure, So", email, passwordHash: null });
  await askForPassword(username, { at: Date.now(), address: v4() });
  await vi.waitFor(async () => expect(await lettersTo(email)).toBe(1), { timeout: 20_000 });
}
const someone = () => ({ sourcedId: v4(), own: `${v4()}@x.example`, other: `${v4()}@elsewhere.example` });

describe("a letter for a password", () => {
  it("goes to whoever is on a roster, whose account keeps that address whatever another roster says later", async () => {
    const { sourcedId, own, other } = someone();
    await roster(sourcedId, own);
    await ask(own);
    expect(await lettersTo(own)).toBe(1);
    await roster(sourcedId, other);
    await ask(other);
    expect([await lettersTo(own), await lettersTo(other)]).toEqual([2, 0]);
  });
  it("goes to nobody where two rosters differ over the address of somebody without an account", async () => {
    const { sourcedId, own, other } = someone();
    await roster(sourcedId, own);
    await roster(sourcedId, other);
    for (const typed of [own, other]) await ask(typed);
    expect([await lettersTo(own), await lettersTo(other)]).toEqual([0, 0]);
    expect(await rows("SELECT 1 FROM accounts WHERE sourced_id = ?", [sourcedId])).toEqual([]);
  });
  it("goes to no address that a coordinator wrote beside the id of an account that has none of its own", async () => {
    const { sourcedId, own, other } = someone();
    const username = v4();
    await createAccount({ username, sourcedId, displayName: "Lovelace, Ada", passwordHash: "x" });
    await roster(sourcedId, own);
    await ask(username);
    expect(await lettersTo(own)).toBe(1);
    await roster(sourcedId, other);
    for (const typed of [username, own, other]) await ask(typed);
    expect([await lettersTo(own), await lettersTo(other)]).toEqual([1, 0]);
  });
  it("makes no account for whoever was only added by hand", async () => {
    const { sourcedId, own } = someone();
    await roster(sourcedId, own, "hand");
    await ask(own);
    expect(await lettersTo(own)).toBe(0);
  });
});
