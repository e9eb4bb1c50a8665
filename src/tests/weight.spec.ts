/** What a first visit fetches: compressed beforehand, kept by the browser, and within its budget. */
import { brotliDecompressSync, gunzipSync } from "node:zlib";
import { application, courseId, expect, openWorkbench, pageOf, signIn, station, test } from "./helpers.ts";

const code = "WSH 240";
/** What a first visit may weigh, in kB: no more than it does, and less once it does. The goal for the workbench is 350. */
const budget = { workbench: 415, student: 60 };
/** The addresses of scripts, styles and fonts that the page in a browser has fetched. */
const fetched = () =>
  performance.getEntriesByType("resource").flatMap(({ name }) => (name.includes("/_astro/") ? [name] : []));
/** Its bytes over the wire, as a browser over TLS asks for it. */
async function weigh(url: string, encoding = "br", cookie = ""): Promise<{ bytes: Buffer; sent: Headers }> {
  // Node's own client would unpack it.
  const { request } = await import("node:http");
  return new Promise((resolve, reject) => {
    request(url, { headers: { "accept-encoding": encoding, cookie } }, (answer) => {
      const chunks: Buffer[] = [];
      answer.on("data", (chunk: Buffer) => chunks.push(chunk));
      answer.on("end", () =>
        resolve({ bytes: Buffer.concat(chunks), sent: new Headers(answer.headers as Record<string, string>) }),
      );
    })
      .on("error", reject)
      .end();
  });
}
const weightOf = async (urls: string[]) => {
  let sum = 0;
  for (const url of new Set(urls)) sum += (await weigh(url)).bytes.length;
  return Math.round(sum / 1000);
};

test("scripts and styles come compressed, are what they are, and are asked for once", async ({ page }) => {
  await signIn(page, "coordinator");
  await openWorkbench(page, code, "intake");
  const urls = (await page.evaluate(fetched)).filter((url) => /\.(js|css)$/.test(url));
  expect(urls.length).toBeGreaterThan(1);
  for (const url of urls) {
    const plain = await weigh(url, "identity");
    expect(plain.sent.get("cache-control")).toContain("immutable");
    expect(plain.sent.get("x-content-type-options")).toBe("nosniff");
    if (plain.bytes.length < 1200) continue;
    const [brotli, gzip] = [await weigh(url), await weigh(url, "gzip")];
    expect([url, brotli.sent.get("content-encoding"), gzip.sent.get("content-encoding")]).toEqual([url, "br", "gzip"]);
    expect(brotli.sent.get("vary")?.toLowerCase()).toContain("accept-encoding");
    expect(brotliDecompressSync(brotli.bytes).equals(plain.bytes)).toBe(true);
    expect(gunzipSync(gzip.bytes).equals(plain.bytes)).toBe(true);
  }
  // What is not there answers as everywhere, and nothing beside the build is given.
  for (const path of ["/_astro/none.js", "/_astro/../../server/entry.mjs", "/_astro/%2e%2e/%2e%2e/finished"])
    expect([path, (await page.request.get(`${application().url}${path}`)).status()]).toEqual([path, 404]);
});

test("data of a course comes compressed and is what it is; pages do not", async ({ page }) => {
  await signIn(page, "coordinator");
  const id = await courseId(page, code);
  const { cookies } = await page.context().storageState();
  const cookie = cookies.map(({ name, value }) => `${name}=${value}`).join("; ");
  const asked = (path: string, encoding: string) => weigh(`${application().url}${path}`, encoding, cookie);
  for (const name of ["plan", "progress", "plan/columns", "progress/columns"]) {
    const path = `/api/courses/${id}/${name}`;
    const [plain, packed] = [await asked(path, "identity"), await asked(path, "gzip")];
    expect([plain.sent.get("content-encoding"), packed.sent.get("content-encoding")]).toEqual([null, "gzip"]);
    expect(gunzipSync(packed.bytes).equals(plain.bytes)).toBe(true);
    expect(packed.bytes.length).toBeLessThan(plain.bytes.length / 2);
    expect(packed.sent.get("cache-control")).toContain("no-store");
  }
  expect((await asked(`/course/${id}`, "gzip")).sent.get("content-encoding")).toBe(null);
});

test("a first visit weighs no more than its budget", async ({ page, browser }) => {
  await signIn(page, "coordinator");
  await openWorkbench(page, code, "placement");
  // The worker is started once the course is there.
  await expect
    .poll(async () => (await page.evaluate(fetched)).filter((url) => /\/course\.[^/]*\.js$/.test(url)))
    .toHaveLength(1);
  const workbench = await weightOf(await page.evaluate(fetched));
  const theirs = await pageOf(browser, "student.day");
  await theirs.goto(`/course/${await courseId(page, code)}`);
  const student = await weightOf(await theirs.evaluate(fetched));
  // Scripts, styles, fonts and workers; without the data of the course.
  expect([workbench <= budget.workbench, student <= budget.student, workbench, student]).toEqual([
    true,
    true,
    workbench,
    student,
  ]);
});

test("only the station that is looked at is fetched; one that cannot be says so, and comes once it can", async ({
  page,
  context,
}) => {
  await signIn(page, "coordinator");
  await openWorkbench(page, code, "intake");
  await expect(station(page, "Intake")).toBeVisible();
  const scripts = (await page.evaluate(fetched))
    .filter((url) => url.endsWith(".js"))
    .map((url) => url.split("/").at(-1)?.split(".")[0]);
  expect(scripts).toContain("Intake");
  for (const other of ["Timing", "Gradebook", "ReachStation", "RichText", "ItemCard"])
    expect(scripts).not.toContain(other);
  const goWithoutScript = async (station: string) => {
    const script = new RegExp(`/_astro/${station}\\.[^/]*\\.js`);
    await page.route(script, (route) => route.fulfill({ status: 502 }));
    await page.getByRole("link", { name: new RegExp(`^${station}`) }).click();
    await expect(page.getByRole("alert")).toContainText("could not be fetched");
    await page.unroute(script);
  };
  await goWithoutScript("Timing");
  await page.getByRole("button", { name: "Try again" }).click();
  await expect(station(page, "Timing")).toBeVisible();
  // By itself once the connection is back.
  await goWithoutScript("Gradebook");
  await context.setOffline(true);
  await context.setOffline(false);
  await expect(station(page, "Gradebook")).toBeVisible();
});
