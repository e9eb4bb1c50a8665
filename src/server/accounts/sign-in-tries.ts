/**
 * How often somebody may try a password: counted before it is looked at. To sign in, by login and by address; to begin a quiz
 * that asks for one, by student and quiz.
 */
import { rows, run, transaction } from "../store/database.ts";
import { digest } from "./digest.ts";

interface Key {
  hash: string;
  /** Milliseconds after which one try is forgotten. */
  forgottenAfter: number;
  /** Milliseconds to wait after the last of a number of tries. */
  wait(tries: number): number;
}
const day = 86_400_000;
/** Tries of a login that cost nothing; each further one doubles the wait, up to a quarter of an hour. */
const freeOfLogin = 4;
const waitOfLogin = (tries: number) =>
  tries <= freeOfLogin ? 0 : Math.min(900, 2 ** Math.min(20, Math.round(tries - freeOfLogin))) * 1000;
/**
 * A whole school may come from one address: it has room for many that mistype, and then for one more every three seconds,
 * so that whoever guesses there keeps nobody else out for long.
 */
const freeOfAddress = 100;
const addressForgets = 3000;

const keysOf = (login: string, address: string): [Key, Key] => [
  { hash: digest(`login ${login}`), forgottenAfter: day, wait: waitOfLogin },
  {
    hash: digest(`address ${address}`),
    forgottenAfter: addressForgets,
    wait: (tries) => Math.max(0, tries - freeOfAddress) * addressForgets,
  },
];

/**
 * Counts a try of a login from an address, or gives the seconds to wait. It counts before the password is verified, so
 * that tries at the same time count each other.
 */
export const countTry = (login: string, address: string, at: number): Promise<{ wait: number }> =>
  countBy(keysOf(login, address), at);

const keyOfQuiz = (itemId: string, personId: string): Key => {
  const hash = digest(`quiz ${itemId} ${personId}`);
  return { hash, forgottenAfter: day, wait: waitOfLogin };
};
/** Counts a try of a quiz's password, or gives the seconds to wait. */
export const countQuizTry = (itemId: string, personId: string, at: number): Promise<{ wait: number }> =>
  countBy([keyOfQuiz(itemId, personId)], at);
/** Forgets the tries of a quiz's password, once it was right. */
export const forgetQuizTries = (itemId: string, personId: string): Promise<number> =>
  run("DELETE FROM sign_in_tries WHERE key_hash = ?", [keyOfQuiz(itemId, personId).hash]);

async function countBy(keys: Key[], at: number): Promise<{ wait: number }> {
  // The rows are there before they are locked: whoever adds one holds a lock that another waits for.
  for (const { hash } of keys) {
    const begin = "INSERT IGNORE INTO sign_in_tries (key_hash, tries, last_at) VALUES (?, 0, ?)";
    await transaction((connection) => run(begin, [hash, at], connection));
  }
  return transaction(async (connection) => {
    const counted: { key: Key; tries: number }[] = [];
    // A login's row comes first: who tries it again waits there, and not all who share an address.
    for (const key of keys) {
      const [found] = await rows<{ tries: number; lastAt: number }>(
        "SELECT tries, last_at AS lastAt FROM sign_in_tries WHERE key_hash = ? FOR UPDATE",
        [key.hash],
        connection,
      );
      const { tries, lastAt } = found ?? { tries: 0, lastAt: at };
      const after = key.wait(tries);
      // Who began sooner may come to the row later: that alone is no reason to wait.
      const wait = after > 0 ? lastAt + after - at : 0;
      if (wait > 0) return { wait: Math.ceil(wait / 1000) };
      counted.push({ key, tries: Math.max(0, tries - Math.max(0, at - lastAt) / key.forgottenAfter) });
    }
    for (const { key, tries } of counted)
      await run(
        "UPDATE sign_in_tries SET tries = ?, last_at = ? WHERE key_hash = ?",
        [tries + 1, at, key.hash],
        connection,
      );
    return { wait: 0 };
  });
}

/** Forgets the tries of a login that signed in, the one that its address was counted, and all that are a day old. */
export async function forgetTries(login: string, address: string, at: number): Promise<void> {
  const [own, from] = keysOf(login, address);
  await transaction(async (connection) => {
    await run("DELETE FROM sign_in_tries WHERE key_hash = ? OR last_at < ?", [own.hash, at - day], connection);
    const back = "UPDATE sign_in_tries SET tries = GREATEST(0, tries - 1) WHERE key_hash = ?";
    await run(back, [from.hash], connection);
  });
}
