/** Somebody turns their own second factor on or off, or has new recovery codes made. */
import type { Account } from "./accounts.ts";
import { whyNotOwn } from "./choosing-password.ts";
import { confirmFactor, dropFactor, hasSecondFactor, makeRecoveryCodes, needsSecondFactor } from "./second-factor.ts";

/** `want`: on, off, or codes. */
export interface FactorChange {
  want: string;
  code: string;
  password: string;
}
export type FactorAnswer = { codes: string[] } | { off: true } | { wrong: string };

/** The password is asked for first: on a machine that was left open nobody lets its owner out, or keeps them out. */
export async function changeFactor(
  account: Account,
  { want, code, password }: FactorChange,
  { at, address }: { at: number; address: string },
): Promise<FactorAnswer> {
  const why = await whyNotOwn(account, { typed: password, address, at });
  if (why) return { wrong: why };
  if (want === "on") {
    const codes = await confirmFactor(account.id, code, at);
    return codes ? { codes } : { wrong: "This code is not right. Type the one that your authenticator shows now." };
  }
  if (!(await hasSecondFactor(account.id))) return { wrong: "The second factor is off already." };
  if (want === "codes") return { codes: await makeRecoveryCodes(account.id) };
  if (await needsSecondFactor(account.id, at))
    return { wrong: "Whoever administers, or is on a course's staff, needs a second factor here: it stays on." };
  await dropFactor(account.id, account.id);
  return { off: true };
}
