/**
 * npm run screenshots [-- NAMES]: one picture of each main view, or of those that are named, into docs/screenshots, from the
 * demo data with a fixed clock.
 */
import { join } from "node:path";
import { ensureBrowser, ensureModules, ensureProgram, makeFolder, root, say } from "./lib/machine.mjs";

const station = (name, script) => ({
  name,
  as: "coordinator",
  path: (id) => `/workbench/${id}/${name}`,
  script,
});
/** The list of items is as long as the outline: what is looked for is typed. */
const findDates = async (page, title) => {
  await page.getByRole("textbox", { name: "Find an item" }).fill(title);
  await page.getByRole("button", { name: title, exact: true }).click();
};
/** With what was drafted last counted: what stands there before may be gone after. */
const whoSeesWhom = async (page) => {
  await page.getByRole("radio", { name: "Who sees whom" }).click();
  await page.waitForTimeout(300);
  await page.waitForFunction(() => document.querySelector("[aria-busy=true]") === null);
};
const views = [
  // Before anything is drafted for another picture: the list counts drafts.
  {
    name: "administration",
    as: "administrator",
    path: () => "/administration/courses",
    // What the audit finds in each course stands there within seconds of the start.
    script: async (page) => {
      while ((await page.getByText(/\d leak/).count()) === 0) {
        await page.waitForTimeout(1000);
        await page.reload();
      }
    },
  },
  station("intake", async (page) => {
    await page.getByRole("button", { name: "Set up" }).waitFor();
  }),
  {
    name: "intake-verdicts",
    as: "coordinator",
    path: (id) => `/workbench/${id}/intake`,
    script: async (page) => {
      await page.locator("input[type=file]").setInputFiles(join(root, "demo/rosters/week-3-merged.csv"));
      await page.getByText(/rows read/).waitFor();
    },
  },
  station("placement", async (page) => {
    await page.getByRole("tab", { name: /River teams/ }).click();
  }),
  {
    ...station("placement"),
    name: "forming",
    script: async (page) => {
      await page.getByRole("tab", { name: /River teams/ }).click();
      await page.getByRole("button", { name: "Form groups" }).click();
      await page.getByRole("button", { name: "Form the groups" }).click();
      await page.getByRole("button", { name: "Another try" }).click();
      await page.getByRole("button", { name: "Try 2" }).waitFor();
    },
  },
  {
    ...station("placement"),
    name: "board",
    script: async (page) => {
      await page.getByRole("button", { name: "Board" }).click();
      const people = page.getByRole("listbox").nth(1).getByRole("option");
      await people.nth(1).click();
      await people.nth(3).click({ modifiers: ["Shift"] });
      await page.getByRole("listbox").nth(3).focus();
    },
  },
  station("reach", async (page) => {
    await page.getByRole("button", { name: /North bank notes, Evening/ }).click();
  }),
  {
    ...station("reach"),
    name: "audit",
    script: async (page) => {
      await page.getByRole("radio", { name: "Audit" }).click();
      await page.getByRole("button", { name: /North bank notes and are not/ }).click();
      await page.getByRole("button", { name: "Seal the folder North bank" }).waitFor();
    },
  },
  {
    ...station("reach"),
    name: "who-sees-whom",
    script: async (page) => {
      await whoSeesWhom(page);
      await page.getByRole("button", { name: "the class list", exact: true }).click();
      await page.getByRole("button", { name: /^Show on the class list only/ }).click();
      await whoSeesWhom(page);
      await page.getByRole("button", { name: "The café by the weir", exact: true }).click();
      await page.getByRole("button", { name: "Split it along Sections, sealed" }).click();
      await whoSeesWhom(page);
      await page.getByRole("button", { name: "North bank notes", exact: true }).click();
      await page.getByRole("button", { name: "Split it along Sections, sealed" }).click();
      await whoSeesWhom(page);
      await page.getByRole("button", { name: "Method critique", exact: true }).click();
      await page.getByRole("button", { name: "Seal its threads" }).click();
      await whoSeesWhom(page);
      await page
        .getByText("374 of")
        .waitFor()
        .catch(() => undefined);
      await page.waitForTimeout(1500);
    },
  },
  station("timing", async (page) => {
    await findDates(page, "Lab 4: Rating the weir");
    await page.getByRole("combobox", { name: "Why this date, for" }).fill("Farrokhzad Thandiwe");
    await page.getByRole("option").first().click();
    await page.getByRole("button", { name: /^closes for everyone/ }).click();
    await page.keyboard.type("m30 end");
  }),
  {
    ...station("timing"),
    name: "spans",
    script: async (page) => {
      await page.getByRole("radio", { name: "Spans" }).click();
      await page.getByRole("listbox", { name: /^Spans/ }).focus();
      for (let step = 0; step < 6; step++) await page.keyboard.press("ArrowRight");
    },
  },
  station("gradebook", async (page) => {
    await page.getByRole("combobox", { name: "Filter", exact: true }).fill("group:Evening or group:Distance");
    await page.getByRole("button", { name: /Rows grouped by$/ }).click();
    await page.getByRole("option", { name: "Rows by Sections" }).click();
    await page
      .getByRole("button", { name: /, Lab 2: Current meter: / })
      .first()
      .click();
  }),
  {
    ...station("gradebook"),
    name: "marking",
    script: async (page) => {
      await page.getByRole("radio", { name: "Marking" }).click();
      await page.getByRole("button", { name: /Column$/ }).click();
      await page.getByRole("option", { name: /Lab 4/ }).click();
      await page.getByRole("region", { name: "Queue" }).getByRole("button").nth(1).click();
      await page.getByText("Q = 1.84").waitFor();
      await page.getByLabel("Mark, of 20").fill("16.5");
      await page.getByLabel("Comment, for the student").fill("Say how you chose the verticals.");
    },
  },
  {
    ...station("gradebook"),
    name: "attempts",
    script: async (page) => {
      await page.getByRole("radio", { name: "Attempts", exact: true }).click();
      await page.getByRole("radio", { name: "Questions", exact: true }).click();
      await page.getByText("What is in every kit?").waitFor();
    },
  },
  {
    ...station("gradebook"),
    name: "comparison",
    script: (page) => page.getByRole("radio", { name: "Comparison" }).click(),
  },
  station("review", async (page) => {
    // A draft to review: seal a folder, and give a group a later due.
    await page.keyboard.press("Alt+3");
    await page.getByRole("button", { name: "North bank", exact: true }).click();
    await page.getByRole("button", { name: "Seal it" }).click();
    await page.keyboard.press("Alt+4");
    await findDates(page, "Final report");
    await page.getByRole("button", { name: /^due for Evening/ }).click();
    await page.keyboard.type("21 dec 6pm");
    await page.keyboard.press("Enter");
    await page.keyboard.press("Alt+6");
    await page.getByText("Effects on people").waitFor();
    await page.locator("li button").first().click();
  }),
  {
    name: "merge",
    as: "coordinator",
    path: () => "/merge",
    script: () => {},
  },
  {
    name: "group",
    as: "student.day",
    path: (id) => `/course/${id}`,
    script: (page) => page.getByRole("complementary").getByRole("link", { name: /team/ }).click(),
  },
  {
    // On a phone, one beside the other: over all courses, a course, an item, marks.
    name: "student",
    as: "student.evening",
    path: (id) => `/course/${id}`,
    beside: async (page, id) => {
      const item = page.locator("main a", { hasText: "Lab 4: Rating the weir" }).first();
      return ["/", `/course/${id}`, await item.getAttribute("href"), `/course/${id}/marks`];
    },
  },
];

/** Pages of a phone in one picture, as wide as any other. */
async function picturesBeside(page, addresses) {
  // Not at the top: what is missing is installed first.
  const { PNG } = await import("pngjs");
  const width = 1280 / addresses.length;
  await page.setViewportSize({ width, height: 800 });
  const whole = new PNG({ width: 1280, height: 800 });
  for (const [at, address] of addresses.entries()) {
    await page.goto(new URL(address, page.url()).href);
    await page.waitForTimeout(800);
    const one = PNG.sync.read(await page.screenshot());
    PNG.bitblt(one, whole, 0, 0, width, 800, at * width, 0);
    // A line between one and the next.
    if (at > 0)
      for (let y = 0; y < 800; y++) whole.data.fill(90, (y * 1280 + at * width) * 4, (y * 1280 + at * width) * 4 + 3);
  }
  return PNG.sync.write(whole);
}

/** Signs in; gives the id of WSH 240 where one is in it, without what was drafted there for another picture. */
async function signIn(page, { as, url }) {
  await page.getByLabel("Username").fill(as);
  await page.getByLabel("Password").fill("tarnbeck");
  await page.getByRole("button", { name: "Sign in" }).click();
  await page.getByRole("heading", { name: "Your courses" }).waitFor();
  const link = page.getByRole("link", { name: /WSH 240/ }).last();
  const id = (await link.count()) > 0 ? (await link.getAttribute("href")).split("/")[2] : "";
  if (as === "coordinator")
    await page.request.post(`${url}/api/courses/${id}/draft`, { headers: { origin: url }, data: { step: "undo all" } });
  return id;
}

async function main() {
  await ensureModules();
  await ensureProgram("mariadbd", "mariadb-server");
  const executablePath = await ensureBrowser();
  const { startForTests } = await import("./lib/tests.mjs");
  const { chromium } = await import("@playwright/test");
  const { writePicture } = await import("./lib/pictures.mjs");
  const folder = join(root, "docs/screenshots");
  makeFolder(folder);
  const application = await startForTests("screenshots");
  const browser = await chromium.launch({
    executablePath,
    args: ["--no-sandbox", "--disable-gpu", "--disable-background-networking"],
  });
  try {
    const wanted = process.argv.slice(2);
    for (const { name, as, path, script, beside } of views) {
      if (wanted.length > 0 && !wanted.includes(name)) continue;
      let id = "";
      const page = await (
        await browser.newContext({ viewport: { width: 1280, height: 800 }, colorScheme: "light" })
      ).newPage();
      await page.goto(`${application.url}/sign-in`);
      if (as) id = await signIn(page, { as, url: application.url });
      if (as) await page.goto(application.url + path(id));
      // An open bench listens as long as it is there: the network is never idle.
      await page.waitForLoadState("load");
      await page.locator("main h1, main h2").first().waitFor();
      await page.waitForTimeout(1500);
      await script?.(page);
      await page.waitForTimeout(1200);
      const bytes = beside ? await picturesBeside(page, await beside(page, id)) : await page.screenshot();
      const isNew = writePicture(join(folder, `${name}.png`), bytes);
      say(`docs/screenshots/${name}.png${isNew ? "" : ": as it was"}`);
      await page.context().close();
    }
  } finally {
    await browser.close();
    await application.stop();
  }
}

main().catch((error) => {
  console.error(error);
  process.exit(1);
});
