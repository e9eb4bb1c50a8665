/** The clock of what happens by itself. Several processes may run it: each doing is claimed by one. */

import { forgetEvents } from "../accounts/security-events.ts";
import { endOverdue, lengthenChanged } from "../attempts/ending.ts";
import { now } from "../clock.ts";
import { config } from "../config.ts";
import { publishDue } from "../drafts/planned.ts";
import { pullDue } from "../intake/feeds.ts";
import { log } from "../log.ts";
import { hasRoom } from "../store/room.ts";
import { inThread, readyThreads } from "../threads/pool.ts";
import { sendAccountLetters } from "./account-letters.ts";
import { sendDue } from "./mail.ts";

let ticking = false;

/** Does something again and again, whatever becomes of one time; never twice at once in this process. */
function every(milliseconds: number, what: string, work: (at: number) => Promise<unknown>): void {
  let busy = false;
  const tick = async () => {
    if (busy) return;
    busy = true;
    // What would be stored waits until there is room.
    if (await hasRoom()) await work(now()).catch((error) => log.error({ error: String(error) }, `${what} failed`));
    busy = false;
  };
  setInterval(() => void tick(), milliseconds).unref();
}

export function startScheduler(): void {
  if (ticking || !config().AMBER_DATABASE_URL) return;
  ticking = true;
  readyThreads();
  every(60_000, "nightly pulls", (at) => pullDue(at, (courseId) => inThread("pull", [courseId, at])));
  every(5000, "planned publications", publishDue);
  every(1000, "ends of attempts", endOverdue);
  every(2000, "longer attempts", lengthenChanged);
  every(3_600_000, "forgetting old security events", forgetEvents);
  every(3_600_000, "retention", (at) => inThread("keepToRetention", [at]));
  every(20_000, "findings of courses", (at) => inThread("renewFindings", [at]));
  every(1000, "post", () => sendDue(Date.now()));
  every(1000, "letters about accounts", () => sendAccountLetters(Date.now()));
}
