/**
 * A second factor beside a password: codes of an authenticator that change every half minute (TOTP, RFC 6238), and recovery codes
 * that work once each. Who shows a second factor at an identity provider needs none here.
 */
import { randomInt } from "node:crypto";
import { Secret, TOTP } from "otpauth";
import { toString as drawCode } from "qrcode";
import { config } from "../config.ts";
import { institution } from "../institution/institution.ts";
import { isStaff } from "../store/courses.ts";
import { insertMany, rows, run, transaction } from "../store/database.ts";
import { digest } from "./digest.ts";
import { noteEvent } from "./security-events.ts";

const period = 30;
/** Clocks may be so many half minutes apart. */
const window = 1;
const recoveryCodes = 10;
// Without letters and digits that look alike.
const signs = "23456789abcdefghjkmnpqrstuvwxyz";

interface Stored {
  secret: string;
  confirmedAt: number | null;
}
const stored = async (accountId: string): Promise<Stored | null> =>
  (
    await rows<Stored>("SELECT secret, confirmed_at AS confirmedAt FROM second_factors WHERE account_id = ?", [
      accountId,
    ])
  )[0] ?? null;

export const hasSecondFactor = async (accountId: string): Promise<boolean> =>
  (await stored(accountId))?.confirmedAt != null;

/** Whether somebody must have one to sign in with a password: as the configuration says of administrators, or of all staff. */
export async function needsSecondFactor(accountId: string, at: number): Promise<boolean> {
  const who = config().AMBER_SECOND_FACTOR;
  if (who === "optional") return false;
  const [found] = await rows<{ administers: number; sourcedId: string }>(
    "SELECT administers, sourced_id AS sourcedId FROM accounts WHERE id = ?",
    [accountId],
  );
  if (!found || found.administers === 1) return Boolean(found);
  return who === "staff" && isStaff(found.sourcedId, at);
}

const totp = (secret: string, label = "", issuer = "") =>
  new TOTP({ issuer, label, period, secret: Secret.fromBase32(secret) });

export interface Offer {
  /** For whoever types it: in groups of four. */
  secret: string;
  /** For whoever points a camera at it, as SVG. */
  picture: string;
}

/** The second factor as its owner sees it. */
export interface FactorView {
  isOn: boolean;
  /** What is offered to turn it on. */
  offer: Offer | null;
  /** Recovery codes that were just made. */
  codes: string[] | null;
  /** Why what was asked for was not done. */
  wrong: string | null;
  /** Recovery codes that are left. */
  left: number;
}

/** A secret that is not confirmed yet; asked for again it is the same. Null where a second factor is on already. */
export async function offerFactor(accountId: string, username: string): Promise<Offer | null> {
  const fresh = new Secret({ size: 20 }).base32;
  await run("INSERT IGNORE INTO second_factors (account_id, secret) VALUES (?, ?)", [accountId, fresh]);
  const found = await stored(accountId);
  if (!found || found.confirmedAt !== null) return null;
  const issuer = (await institution())?.name ?? "Amber Weave";
  const picture = await drawCode(totp(found.secret, username, issuer).toString(), { type: "svg", margin: 2 });
  return { secret: found.secret.match(/.{1,4}/g)?.join(" ") ?? "", picture };
}

/** The half minute that a code is of; null where it is of none that is near. */
function stepOf(secret: string, typed: string, at: number): number | null {
  const code = typed.replaceAll(/\s/g, "");
  if (!/^\d{6}$/.test(code)) return null;
  const delta = totp(secret).validate({ token: code, timestamp: at, window });
  return delta === null ? null : Math.floor(at / 1000 / period) + delta;
}

/** Takes a step as used; false where that code, or a newer one, was taken before. */
const takeStep = async (accountId: string, step: number): Promise<boolean> =>
  (await run("UPDATE second_factors SET last_step = ? WHERE account_id = ? AND last_step < ?", [
    step,
    accountId,
    step,
  ])) > 0;

/** Turns the second factor on by a first code; gives recovery codes, which are shown once. Null where the code is wrong. */
export async function confirmFactor(accountId: string, typed: string, at: number): Promise<string[] | null> {
  const found = await stored(accountId);
  if (!found || found.confirmedAt !== null) return null;
  const step = stepOf(found.secret, typed, at);
  if (step === null || !(await takeStep(accountId, step))) return null;
  await run("UPDATE second_factors SET confirmed_at = ? WHERE account_id = ?", [at, accountId]);
  await noteEvent({ kind: "account changed", accountId, what: "second factor on" });
  return makeRecoveryCodes(accountId);
}

/** New recovery codes in place of those there were. */
export async function makeRecoveryCodes(accountId: string): Promise<string[]> {
  const part = () => Array.from({ length: 5 }, () => signs[randomInt(signs.length)]).join("");
  const codes = Array.from({ length: recoveryCodes }, () => `${part()}-${part()}`);
  await transaction(async (connection) => {
    await run("DELETE FROM recovery_codes WHERE account_id = ?", [accountId], connection);
    const hashed = codes.map((code) => [accountId, hashOf(accountId, code)]);
    await insertMany("recovery_codes", ["account_id", "code_hash"], hashed, connection);
  });
  return codes;
}
const hashOf = (accountId: string, typed: string) =>
  digest(`${accountId} ${typed.toLowerCase().replaceAll(/[^a-z0-9]/g, "")}`);

export async function recoveryCodesLeft(accountId: string): Promise<number> {
  const [found] = await rows<{ count: number }>("SELECT COUNT(*) AS count FROM recovery_codes WHERE account_id = ?", [
    accountId,
  ]);
  return Number(found?.count ?? 0);
}

/** Whether what was typed is the account's code now, or a recovery code: each is taken once. */
export async function isSecondFactor(accountId: string, typed: string, at: number): Promise<boolean> {
  const found = await stored(accountId);
  if (!found || found.confirmedAt === null) return false;
  const step = stepOf(found.secret, typed, at);
  if (step !== null) return takeStep(accountId, step);
  const code = hashOf(accountId, typed);
  return (await run("DELETE FROM recovery_codes WHERE account_id = ? AND code_hash = ?", [accountId, code])) > 0;
}

/** Takes the second factor away, its recovery codes with it. */
export async function dropFactor(accountId: string, by: string): Promise<void> {
  await transaction(async (connection) => {
    await run("DELETE FROM second_factors WHERE account_id = ?", [accountId], connection);
    await run("DELETE FROM recovery_codes WHERE account_id = ?", [accountId], connection);
  });
  await noteEvent({ kind: "account changed", accountId: by, what: `second factor off ${accountId}` });
}
