/** Figures for Prometheus: for whoever shows the token, and of what there is. */
import { join } from "node:path";
import { afterAll, afterEach, beforeAll, expect, test } from "vitest";
import { idFor, requestId, withRequestId } from "./http/this-request.ts";
import { countAnswer, mayReadMetrics, metrics } from "./metrics.ts";
import { closeDatabase } from "./store/database.ts";
import { migrate } from "./store/migrate.ts";

beforeAll(() => migrate(join(import.meta.dirname, "../../database"), () => {}));
afterAll(closeDatabase);
afterEach(() => {
  delete process.env.AMBER_METRICS_TOKEN;
});
const asking = (headers: Record<string, string> = {}) => new Request("http://amber.example/metrics", { headers });

test("they are given for the token alone, and for nothing where none is set", () => {
  const token = "sixteen or more signs";
  const shown = asking({ authorization: `Bearer ${token}` });
  expect(mayReadMetrics(shown)).toBe(false);
  process.env.AMBER_METRICS_TOKEN = token;
  expect(mayReadMetrics(shown)).toBe(true);
  for (const authorization of ["", `Bearer ${token}.`, `Basic ${token}`, "Bearer "])
    expect(mayReadMetrics(asking({ authorization }))).toBe(false);
});

test("answers are counted by the pattern of their address, and what waits is asked of the database", async () => {
  countAnswer("GET", "/course/[course]", 200, 40);
  countAnswer("GET", "/course/[course]", 200, 4000);
  const { text } = await metrics();
  const labels = 'method="GET",route="/course/[course]",status="200"';
  expect(text).toContain(`amber_http_request_seconds_count{${labels}} 2`);
  expect(text).toContain(`amber_http_request_seconds_bucket{le="0.05",${labels}} 1`);
  for (const name of ["letters_waiting", "publications_planned", "pulls_failed_day", "sessions", "thread_tasks"])
    expect(text).toMatch(new RegExp(`^amber_${name} \\d+$`, "m"));
  expect(text).toContain("process_resident_memory_bytes");
});

test("a request has an id of its own, or the one that a proxy of ours gave it, through all that is done for it", async () => {
  const named = asking({ "x-request-id": "proxy-4711-abcdef" });
  expect(idFor(named, 1)).toBe("proxy-4711-abcdef");
  expect(idFor(named, 0)).toMatch(/^[0-9a-f]{16}$/);
  expect(idFor(asking({ "x-request-id": "<script>" }), 1)).toMatch(/^[0-9a-f]{16}$/);
  const seen = await Promise.all(
    ["first request", "second"].map((id) =>
      withRequestId(id, async () => {
        await new Promise((done) => setImmediate(done));
        return requestId();
      }),
    ),
  );
  expect(seen).toEqual(["first request", "second"]);
  expect(requestId()).toBeNull();
});
