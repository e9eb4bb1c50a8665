/** The clock that pulls nightly feeds. Several processes may run it: each pull is claimed by one. */
import { now } from "./clock.ts";
import { pullDue } from "./feeds.ts";
import { log } from "./log.ts";

let ticking = false;

export function keepPulling(): void {
  if (ticking || !process.env.AMBER_DATABASE_URL) return;
  ticking = true;
  const tick = () => void pullDue(now()).catch((error) => log.error({ error: String(error) }, "nightly pulls failed"));
  setInterval(tick, 60_000).unref();
}
