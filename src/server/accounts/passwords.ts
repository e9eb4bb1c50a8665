/** Whether a password may be one: long enough, and none that whoever guesses would try early. */
import { hash, verify } from "@node-rs/argon2";
import { ZxcvbnFactory } from "@zxcvbn-ts/core";
import * as common from "@zxcvbn-ts/language-common";

/** argon2id with the parameters that OWASP names for interactive sign-in. */
export const hashPassword = (password: string): Promise<string> =>
  hash(password, { memoryCost: 19_456, timeCost: 2, parallelism: 1 });
export const isPassword = (password: string, passwordHash: string): Promise<boolean> => verify(passwordHash, password);

const [shortest, longest] = [10, 200];
/** Of five steps: below this a password is found within ten thousand million guesses. */
const leastScore = 3;
// Made when it is first asked: its lists are large.
let guesser: ZxcvbnFactory | null = null;

/** Signs that must be left of a password when what others know of the person is taken out of it. */
const leastOwn = 6;

/** How many letters and digits of a password are not out of some words. */
function beside(password: string, words: string[]): number {
  let left = password.toLowerCase();
  for (const word of [...words].sort((a, b) => b.length - a.length)) left = left.replaceAll(word.toLowerCase(), " ");
  return left.replaceAll(/[^\p{L}\p{N}]/gu, "").length;
}

/**
 * Why a password cannot be taken; null where it can. `own`: what whoever guesses knows of the person: names, login, address,
 * institution.
 */
export function whyNotPassword(password: string, own: string[]): string | null {
  if (password.length < shortest) return `Choose a password of at least ${shortest} characters.`;
  if (password.length > longest) return `Choose a password of at most ${longest} characters.`;
  const words = own.flatMap((text) => [text, ...text.split(/[\s@.,_-]+/)]).filter((word) => word.length > 2);
  // Longer ones are strong by their length, and would take long to judge.
  guesser ??= new ZxcvbnFactory({ dictionary: common.dictionary, graphs: common.adjacencyGraphs });
  const { score } = guesser.check(password.slice(0, 100), words);
  return score < leastScore || beside(password, words) < leastOwn
    ? "This password would be guessed early: it is a common one, or made of names and words that others know of you. Choose another; several words that do not belong together are good."
    : null;
}
