/** A second factor: asked for after the password, each code taken once, recovery codes, and who must have one. */

import { join } from "node:path";
import { Secret, TOTP } from "otpauth";
import { v4 } from "uuid";
import { afterAll, afterEach, beforeAll, beforeEach, expect, test } from "vitest";
import { plainLocale } from "../../core/text/locale.ts";
import { closeDatabase, rows, run } from "../store/database.ts";
import { migrate } from "../store/migrate.ts";
import { accountOf, createAccount } from "./accounts.ts";
import { changeFactor } from "./changing-factor.ts";
import { enterByCode, halfEntered, signIn } from "./entering.ts";
import { hashPassword } from "./passwords.ts";
import { confirmFactor, hasSecondFactor, isSecondFactor, offerFactor, recoveryCodesLeft } from "./second-factor.ts";

beforeAll(() => migrate(join(import.meta.dirname, "../../../database"), () => {}));
afterAll(closeDatabase);
afterEach(() => {
  delete process.env.AMBER_SECOND_FACTOR;
});

const at = Date.parse("2026-11-25T10:00:00Z");
const password = "otters at the weir";
let username = "";
let id = "";
beforeEach(async () => {
  username = v4();
  await createAccount({
    username,
    sourcedId: v4(),
    displayName: "Weir, Otter",
    passwordHash: await hashPassword(password),
  });
  const [account] = await rows<{ id: string }>("SELECT id FROM accounts WHERE username = ?", [username]);
  id = account?.id ?? "";
});

/** What an authenticator shows at a moment. */
const codeAt = async (moment: number) => {
  const [found] = await rows<{ secret: string }>("SELECT secret FROM second_factors WHERE account_id = ?", [id]);
  return new TOTP({ secret: Secret.fromBase32(found?.secret ?? "") }).generate({ timestamp: moment });
};
const other = (code: string) => `${(Number(code[0]) + 1) % 10}${code.slice(1)}`;
async function turnOn(): Promise<string[]> {
  await offerFactor(id, username);
  const codes = await confirmFactor(id, await codeAt(at), at);
  if (!codes) throw new Error("not confirmed");
  return codes;
}
const from = { at, agent: "", address: v4() };
const half = async () => {
  const answer = await signIn(username, password, from);
  return "second" in answer ? answer.second : "";
};

test("it is on when a first code was typed, and not before; offered again it is the same", async () => {
  const offer = await offerFactor(id, username);
  expect(offer?.picture).toContain("<svg");
  expect(await offerFactor(id, username)).toEqual(offer);
  expect(await hasSecondFactor(id)).toBe(false);
  expect(await signIn(username, password, from)).toHaveProperty("token");
  expect(await confirmFactor(id, other(await codeAt(at)), at)).toBeNull();
  expect(await isSecondFactor(id, await codeAt(at), at)).toBe(false);
  const codes = await confirmFactor(id, await codeAt(at), at);
  expect(codes).toHaveLength(10);
  expect(new Set(codes).size).toBe(10);
  expect(await offerFactor(id, username)).toBeNull();
});

test("a password alone opens no session; a code does, once, and one of half a minute before or after", async () => {
  await turnOn();
  const second = await half();
  expect(await accountOf(second)).toBeNull();
  expect(await halfEntered(second, at)).toBe(id);
  // The code that turned it on is used up.
  expect(await enterByCode(second, await codeAt(at), from)).toEqual({ wrong: true });
  const later = { ...from, at: at + 60_000 };
  expect(await enterByCode(second, await codeAt(later.at + 90_000), later)).toEqual({ wrong: true });
  const next = await codeAt(later.at + 30_000);
  const answer = await enterByCode(second, `${next.slice(0, 3)} ${next.slice(3)}`, later);
  expect(answer).toHaveProperty("token");
  // What was shown is shown, and an older code is older than that.
  expect(await enterByCode(second, next, later)).toEqual({ gone: true });
  const again = await half();
  for (const code of [next, await codeAt(later.at)])
    expect(await enterByCode(again, code, later)).toEqual({ wrong: true });
});

test("recovery codes work once each, however they are typed; new ones end the old", async () => {
  const codes = await turnOn();
  const [first = "", second = ""] = codes;
  expect(await enterByCode(await half(), first.toUpperCase().replace("-", " "), from)).toHaveProperty("token");
  expect(await enterByCode(await half(), first, from)).toEqual({ wrong: true });
  expect(await recoveryCodesLeft(id)).toBe(9);
  const account = { id, username, sourcedId: "", displayName: "Weir, Otter", administers: false, locale: plainLocale };
  const change = (want: string, typed: string) => changeFactor(account, { want, code: "", password: typed }, from);
  expect(await change("codes", "not mine")).toEqual({ wrong: expect.stringContaining("not your password") });
  expect(await change("codes", password)).toHaveProperty("codes");
  expect(await enterByCode(await half(), second, from)).toEqual({ wrong: true });
  expect(await change("off", password)).toEqual({ off: true });
  expect(await signIn(username, password, from)).toHaveProperty("token");
  expect(await recoveryCodesLeft(id)).toBe(0);
});

test("on a machine that was left open nobody turns it on, or has new codes shown", async () => {
  await offerFactor(id, username);
  const account = { id, username, sourcedId: "", displayName: "Weir, Otter", administers: false, locale: plainLocale };
  const on = async (typed: string) =>
    changeFactor(account, { want: "on", code: await codeAt(at), password: typed }, { at, address: v4() });
  expect(await on("not mine")).toEqual({ wrong: expect.stringContaining("not your password") });
  expect(await hasSecondFactor(id)).toBe(false);
  expect(await on(password)).toHaveProperty("codes");
});

test("whoever guesses codes waits longer and longer, and a password shown too long ago is none", async () => {
  await turnOn();
  const second = await half();
  const tries = [];
  for (let tried = 0; tried < 7; tried++) tries.push(await enterByCode(second, "000000", from));
  expect(tries.filter((answer) => "wrong" in answer).length).toBeLessThan(7);
  expect(tries.at(-1)).toHaveProperty("wait");
  expect(await halfEntered(second, at + 601_000)).toBeNull();
});

test("who must have one is asked to set it up before they are in, and cannot turn it off", async () => {
  process.env.AMBER_SECOND_FACTOR = "administrators";
  expect(await signIn(username, password, from)).toHaveProperty("token");
  await run("UPDATE accounts SET administers = 1 WHERE id = ?", [id]);
  expect(await signIn(username, password, from)).toHaveProperty("second");
  await turnOn();
  const account = { id, username, sourcedId: "", displayName: "Weir, Otter", administers: true, locale: plainLocale };
  expect(await changeFactor(account, { want: "off", code: "", password }, from)).toEqual({
    wrong: expect.stringContaining("it stays on"),
  });
});
