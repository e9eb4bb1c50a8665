/** Figures for whoever watches many machines, in the form that Prometheus reads: how long answers take, and what waits. */
import { timingSafeEqual } from "node:crypto";
import { collectDefaultMetrics, Gauge, Histogram, Registry } from "prom-client";
import { digest } from "./accounts/digest.ts";
import { config } from "./config.ts";
import { rows } from "./store/database.ts";
import { waitingForThreads } from "./threads/pool.ts";

const registry = new Registry();
collectDefaultMetrics({ register: registry });

const answers = new Histogram({
  name: "amber_http_request_seconds",
  help: "How long requests take to be answered, by method, route and status.",
  labelNames: ["method", "route", "status"],
  buckets: [0.005, 0.02, 0.05, 0.1, 0.25, 0.5, 1, 2.5, 5, 15],
  registers: [registry],
});

/** Counts an answer. `route` is the pattern of it: addresses would be endless, and name people. */
export const countAnswer = (method: string, route: string, status: number, milliseconds: number): void =>
  answers.observe({ method, route, status: String(status) }, milliseconds / 1000);

const gauge = (name: string, help: string, count: () => Promise<number> | number) =>
  new Gauge({
    ...{ name, help, registers: [registry] },
    async collect() {
      this.set(await count());
    },
  });
const counted = async (sql: string) => Number((await rows<{ count: number }>(sql))[0]?.count ?? 0);
gauge("amber_letters_waiting", "Letters that wait for the mail server.", () =>
  counted(`SELECT (SELECT COUNT(*) FROM deliveries WHERE state = 'waiting')
    + (SELECT COUNT(*) FROM account_letters WHERE state = 'waiting') AS count`),
);
gauge("amber_publications_planned", "Publications that wait for their moment.", () =>
  counted("SELECT COUNT(*) AS count FROM planned_publications WHERE state = 'waiting'"),
);
gauge("amber_pulls_failed_day", "Pulls of the registrar's rosters that failed within a day.", () =>
  counted(`SELECT COUNT(*) AS count FROM pulls WHERE state = 'failed' AND at > ${Date.now() - 86_400_000}`),
);
gauge("amber_sessions", "Sessions that are open.", () =>
  counted(`SELECT COUNT(*) AS count FROM sessions WHERE expires_at > ${Date.now()}`),
);
gauge("amber_thread_tasks", "Work in threads, under way or waiting.", waitingForThreads);

/** Whether a request shows the token that figures are given for; nobody does where none is set. */
export function mayReadMetrics(request: Request): boolean {
  const { AMBER_METRICS_TOKEN: token } = config();
  const shown = /^Bearer (.+)$/.exec(request.headers.get("authorization") ?? "")?.[1];
  // Compared by digest, in a time that says nothing of how much of it was right.
  return Boolean(token && shown && timingSafeEqual(Buffer.from(digest(shown)), Buffer.from(digest(token))));
}

export const metrics = async (): Promise<{ type: string; text: string }> => ({
  type: registry.contentType,
  text: await registry.metrics(),
});
