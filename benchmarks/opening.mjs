/**
 * From the address to a usable Placement, of a server that has just started and a browser that holds nothing, and from station to
 * station. `AMBER_BENCH_STUDENTS=50000 npm run bench opening` measures the largest course, which takes ten minutes to make.
 */
import { writeFileSync } from "node:fs";
import { ensureBrowser, pause } from "../scripts/lib/machine.mjs";
import { startForTests } from "../scripts/lib/tests.mjs";

const isQuick = process.env.AMBER_BENCH === "quick";
const students = isQuick ? 200 : Number(process.env.AMBER_BENCH_STUDENTS ?? 5000);
const rounds = isQuick ? 1 : 5;
/** Milliseconds that opening may take, and that going to another station may. */
const [opening, going] = [students > 5000 ? 6000 : 2000, 300];
const stations = ["Reach", "Timing", "Gradebook", "Review", "Intake", "Placement"];
const median = (numbers) => numbers.sort((a, b) => a - b)[Math.floor(numbers.length / 2)];

const { chromium } = await import("@playwright/test");
const { createConnection } = await import("mysql2/promise");
const app = await startForTests("bench-opening", {
  checks: false,
  firstPort: 4391,
  load: ["demo/load-large.ts", "--students", String(students)],
});
const database = await createConnection(app.databaseUrl);
const browser = await chromium.launch({
  executablePath: await ensureBrowser(),
  args: ["--no-sandbox", "--enable-precise-memory-info"],
});

/** A page of a browser that holds nothing, signed in; `use` gets it with the address of the course's workbench. */
async function withPage(url, use) {
  const context = await browser.newContext({ baseURL: url, viewport: { width: 1280, height: 800 } });
  try {
    const page = await context.newPage();
    const form = { username: "coordinator", password: "tarnbeck" };
    await page.request.post("/sign-in", { headers: { origin: url }, form, maxRedirects: 0 });
    const [[{ id }]] = await database.query("SELECT id FROM courses WHERE code = ?", [`WSH ${students}`]);
    return await use(page, `/workbench/${id}`);
  } finally {
    await context.close();
  }
}

/** Milliseconds until whoever is placed is counted, and people stand in the list. */
async function open(page, workbench) {
  const begun = performance.now();
  await page.goto(`${workbench}/placement`, { waitUntil: "commit" });
  await page.getByText(`${students.toLocaleString("en-GB")} placed`, { exact: true }).waitFor({ timeout: 180_000 });
  await page.getByRole("region", { name: "People of the course" }).waitFor();
  return performance.now() - begun;
}

/** Columns are stored by whoever opens the course first, or by the findings; of a small course never. */
async function untilStored() {
  for (const until = Date.now() + 120_000; !isQuick && Date.now() < until; await pause(500)) {
    const [kinds] = await database.query("SELECT DISTINCT kind FROM course_columns");
    if (kinds.length === 2) return;
  }
}

/** Milliseconds from the press on a station's name to its heading on the screen. */
const goTo = (page, station) =>
  page.evaluate(
    (name) =>
      new Promise((done) => {
        const link = [...document.querySelectorAll("nav[aria-label=Stations] a")].find((one) =>
          one.textContent.includes(name),
        );
        const before = document.querySelector("#work h2");
        const begun = performance.now();
        link.click();
        const look = () => {
          const heading = document.querySelector("#work h2");
          if (!heading || heading === before) requestAnimationFrame(look);
          else requestAnimationFrame(() => setTimeout(() => done(performance.now() - begun)));
        };
        look();
      }),
    station,
  );

const rows = [];
try {
  await withPage(app.url, open);
  await untilStored();
  const [cold, warm] = [[], []];
  for (let round = 0; round < rounds; round++) {
    const started = await app.another();
    try {
      cold.push(await withPage(started.url, open));
      warm.push(await withPage(started.url, open));
    } finally {
      await started.stop();
    }
  }
  const note = `${students.toLocaleString("en-GB")} students, 400 items, 20 layers; median of ${rounds}`;
  const row = (name, ours, most) =>
    rows.push({
      name,
      note,
      ours,
      against: [{ name: `${most} ms that it may take`, milliseconds: most, kind: "floor" }],
    });
  row("Placement opened, of a server that has just started", median(cold), opening);
  row("Placement opened, of a server that knows the course", median(warm), opening);
  await withPage(app.url, async (page, workbench) => {
    await open(page, workbench);
    await page.waitForFunction(
      () => !/Being counted/.test(document.querySelector("nav[aria-label=Stations]").textContent),
      null,
      { timeout: 240_000 },
    );
    const took = { first: [], again: [] };
    for (const visit of ["first", "again"])
      for (const station of stations) {
        await pause(isQuick ? 100 : 1000);
        took[visit].push([station, await goTo(page, station)]);
      }
    for (const [visit, says] of [
      ["first", "A station opened for the first time"],
      ["again", "The same stations again"],
    ]) {
      const [slowest, ours] = took[visit].sort((a, b) => b[1] - a[1])[0];
      row(`${says}: the slowest, ${slowest}`, ours, going);
    }
    const memory = await page.evaluate(() => performance.memory.usedJSHeapSize / 1e6);
    rows[0].memory = Math.round(memory);
  });
} finally {
  await browser.close();
  await database.end();
  await app.stop();
}
writeFileSync(process.argv[3], JSON.stringify(rows));
process.exit(0);
