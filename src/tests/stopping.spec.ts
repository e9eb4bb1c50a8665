/** A stop cuts nobody off: what was begun is answered, nothing new is taken, and whoever only listens does not hold it up. */
import { request } from "node:http";
import { courseId, expect, password, signIn, test } from "./helpers.ts";
import { secondProcess } from "./second-process.ts";

test("a request that is being sent is answered, new ones are not taken, and it ends though somebody listens", async ({
  page,
}) => {
  const { child, url } = await secondProcess();
  const ended = new Promise<number | null>((done) => child.once("exit", done));
  await signIn(page, "coordinator");
  const id = await courseId(page, "WSH 240");
  const [session] = await page.context().cookies();
  const cookie = `${session?.name}=${session?.value}`;
  const listening = await fetch(`${url}/api/courses/${id}/live`, { headers: { cookie } });
  expect(listening.headers.get("content-type")).toContain("text/event-stream");

  const form = new URLSearchParams({ username: "student.day", password }).toString();
  const answer = new Promise<number>((done, failed) => {
    const sent = request(
      `${url}/sign-in`,
      {
        method: "POST",
        headers: { origin: url, "content-type": "application/x-www-form-urlencoded", "content-length": form.length },
      },
      (response) => {
        response.resume();
        done(response.statusCode ?? 0);
      },
    );
    sent.on("error", failed);
    // The first half goes off, then the stop is asked for, then the rest.
    sent.write(form.slice(0, 8), () => {
      setTimeout(() => {
        child.kill("SIGTERM");
        const late = async () => {
          await expect
            .poll(() =>
              fetch(`${url}/health/live`).then(
                () => "taken",
                () => "refused",
              ),
            )
            .toBe("refused");
          sent.end(form.slice(8));
        };
        late().catch(failed);
      }, 300);
    });
  });
  expect(await answer).toBe(303);
  const begun = Date.now();
  expect(await ended).toBe(0);
  expect(Date.now() - begun).toBeLessThan(10_000);
  await listening.body?.cancel().catch(() => {});
});
