/** An institution moves in: set up once, its people invited, its courses and terms, and what an administrator may not do. */
import type { Page } from "@playwright/test";
import { check } from "./accessible.ts";
import { application, courseId, expect, letters, openWorkbench, pageOf, test } from "./helpers.ts";
import { starter, stop } from "./starting.ts";

const password = "seven herons under glass";

test.describe("an empty start", () => {
  const { address, start, stopAll } = starter("institution-start", 4395);
  test.afterAll(stopAll);

  test("is set up at an address that works once; the next start finds it; somebody is invited by letter", async ({
    page,
    browser,
  }) => {
    test.setTimeout(600_000);
    const env = { AMBER_SMTP_URL: application().smtpUrl };
    const first = start(["--empty"], env);
    await first.until("Ctrl-C stops it.");
    expect(first.said()).not.toContain("demo");
    const setUp = /http\S+\/set-up\/\S+/.exec(first.said())?.[0] ?? "";
    await page.goto(address);
    await expect(page.getByText("Nothing is set up here yet.")).toBeVisible();
    await page.goto(setUp);
    await check(page);
    await page.getByLabel("Name of the institution").fill("Alder Row College");
    await page.getByLabel("Time zone").selectOption("Europe/Lisbon");
    await expect(page.getByLabel("Dates and numbers as in")).toHaveValue("en-US");
    await page.getByLabel("Dates and numbers as in").selectOption("pt-PT");
    await page.getByLabel("Name", { exact: true }).fill("Autumn 2026");
    await page.getByLabel("First day").fill("2026-12-18");
    await page.getByLabel("Last day").fill("2026-09-14");
    await page.getByLabel("Days without class").fill("2026-10-26 to 2026-10-27 Break");
    await page.getByLabel("Given name").fill("Marta");
    await page.getByLabel("Family name").fill("Quist");
    await page.getByLabel("E-mail").fill("marta@alder.example");
    await page.getByLabel("Username").fill("marta");
    const press = page.getByRole("button", { name: "Set up and sign in" });
    const alert = page.getByRole("alert");
    await page.getByLabel("Password").fill(password);
    await press.click();
    await expect(alert).toHaveText("Last day: the term ends before it begins. Nothing was made yet.");
    // What was typed is still there, but for the password.
    await expect(page.getByLabel("Name of the institution")).toHaveValue("Alder Row College");
    await expect(page.getByLabel("Time zone")).toHaveValue("Europe/Lisbon");
    await page.getByLabel("First day").fill("2026-09-14");
    await page.getByLabel("Last day").fill("2026-12-18");
    await page.getByLabel("Password").fill("alder row marta");
    await press.click();
    await expect(alert).toContainText("This password would be guessed early");
    await page.getByLabel("Password").fill(password);
    await press.click();
    await expect(page.getByText("There is no course yet.")).toBeVisible();
    await page.goto(`${address}/administration/terms`);
    await expect(page.getByText(/segunda, 14\/09 to sexta, 18\/12/)).toBeVisible();
    expect((await page.goto(setUp))?.status()).toBe(404);

    await page.goto(`${address}/administration/people`);
    await page.getByText("Invite somebody").click();
    await page.getByLabel("Given name").fill("Noor");
    await page.getByLabel("Family name", { exact: true }).fill("Okonjo");
    await page.getByLabel("E-mail", { exact: true }).fill("noor@alder.example");
    await page.getByLabel("Username", { exact: true }).fill("noor");
    await page.getByRole("button", { name: "Invite" }).click();
    await expect(page.getByRole("status")).toContainText("a letter to noor@alder.example says how to sign in");
    await page.getByText("Invite somebody").click();

    await stop(first);
    const next = start(["--empty"], env);
    await next.until("Ctrl-C stops it.");
    expect(next.said()).not.toContain("set-up");
    const subject = "Your account, Alder Row College";
    // A letter that was on its way when the first one stopped goes on when its claim is over, a minute later.
    await expect.poll(async () => (await letters(subject)).length, { timeout: 120_000 }).toBe(1);
    const link = /http\S+\/password\/\S+/.exec((await letters(subject))[0]?.text ?? "")?.[0] ?? "";
    const invited = await (await browser.newContext()).newPage();
    await invited.goto(link);
    await expect(invited.getByText("For Noor Okonjo, who signs in as noor.")).toBeVisible();
    await check(invited);
    await invited.getByLabel("New password").fill("qwertyuiop");
    await invited.getByRole("button", { name: "Keep it and sign in" }).click();
    await expect(invited.getByRole("alert")).toContainText("guessed early");
    await invited.getByLabel("New password").fill(password);
    await invited.getByRole("button", { name: "Keep it and sign in" }).click();
    await expect(invited.getByRole("heading", { name: "Your courses" })).toBeVisible();
    await invited.goto(link);
    await expect(invited.getByText("This address was used already, or is too old.")).toBeVisible();
    // Who does not administer finds nothing there.
    expect((await invited.goto(`${address}/administration/courses`))?.status()).toBe(404);
    await invited.context().close();
    await page.goto(address);
    await expect(page.getByRole("heading", { name: "Your courses" })).toBeVisible();
    await stop(next);
  });
});

test.describe("administration", () => {
  let admin: Page;
  test.beforeEach(async ({ browser }) => {
    admin = await pageOf(browser, "administrator");
  });
  test.afterEach(() => admin.context().close());

  test("every page is readable, by eye and by machine, in both schemes", async () => {
    for (const page of ["courses", "terms", "people", "sign-in", "letters", "health"]) {
      await admin.goto(`/administration/${page}`);
      for (const summary of await admin.locator("summary").all()) await summary.click();
      await check(admin);
      await admin.emulateMedia({ colorScheme: "dark" });
      await admin.reload();
      await check(admin, "dark");
      await admin.emulateMedia({ colorScheme: "light" });
      await admin.setViewportSize({ width: 320, height: 700 });
      const over = await admin.evaluate(() => document.documentElement.scrollWidth - innerWidth);
      expect([page, over]).toEqual([page, 0]);
      await admin.setViewportSize({ width: 1280, height: 800 });
    }
  });

  test("a letter that was refused is found with its reason, and tried again; sign-ins that failed are listed", async ({
    browser,
  }) => {
    const mood = (wanted: string) =>
      fetch(`${application().postUrl}/?mood=${wanted}`, { method: "POST", redirect: "manual" });
    await mood("refuses");
    const address = "refused@tarnbeck.example";
    await admin.goto("/administration/people");
    await admin.getByText("Invite somebody").click();
    const form = admin.getByRole("form", { name: "Invite somebody" });
    const fields = { "Given name": "Re", "Family name": "Fused", "E-mail": address, Username: "re.fused" };
    for (const [label, text] of Object.entries(fields)) await form.getByLabel(label, { exact: true }).fill(text);
    await form.getByRole("button", { name: "Invite" }).click();
    const row = admin.getByRole("row").filter({ hasText: address });
    await expect(async () => {
      await admin.goto("/administration/letters");
      await expect(row).toContainText("refused1 try", { timeout: 500 });
    }).toPass({ timeout: 60_000 });
    await expect(row).toContainText("does not know this address");
    await mood("delivers");
    await row.getByRole("button", { name: "Try again" }).click();
    await expect(admin.getByRole("status")).toHaveText("It will be tried again now.");
    await expect(async () => {
      await admin.goto("/administration/letters");
      await expect(row).toHaveCount(0, { timeout: 500 });
    }).toPass({ timeout: 60_000 });
    const post = (fields: Record<string, string>) =>
      admin.request.post("/administration/letters", { headers: { origin: application().url }, form: fields });
    expect((await post({ again: "0190a000-0000-7000-8000-0000000000ab" })).status()).toBe(404);
    const other = await browser.newContext({ baseURL: application().url });
    const wrong = { username: "support.access", password: "not mine at all" };
    await other.request.post("/sign-in", { headers: { origin: application().url }, form: wrong });
    await admin.goto("/administration/sign-in");
    await expect(admin.getByRole("row").filter({ hasText: "Passwords of our own" })).toContainText("whoever likes");
    await expect(admin.getByRole("row").filter({ hasText: "Tarnbeck College" })).toContainText("registrar_id");
    await expect(admin.getByRole("row").filter({ hasText: "password" }).nth(1)).toBeVisible();
    await other.close();
  });

  test("a term is added, changed with its days without class, and removed; two of one name are refused", async () => {
    await admin.goto("/administration/terms");
    const add = async (name: string, days: string) => {
      await admin.getByText("Another term").click();
      const form = admin.getByRole("form", { name: "Another term" });
      await form.getByLabel("Name").fill(name);
      await form.getByLabel("First day").fill("2027-01-11");
      await form.getByLabel("Last day").fill("2027-05-07");
      await form.getByLabel("Days without class").fill(days);
      await form.getByRole("button", { name: "Add" }).click();
    };
    await add("Spring 2027", "2027-03-17 Holiday\nsome day");
    await expect(admin.getByRole("alert")).toContainText('Days without class. Line 2, "some day"');
    const form = admin.getByRole("form", { name: "Another term" });
    await expect(form.getByLabel("Name")).toHaveValue("Spring 2027");
    await form.getByLabel("Days without class").fill("2027-03-17 Holiday");
    await form.getByRole("button", { name: "Add" }).click();
    await expect(admin.getByText(/^Spring 2027.*1 day without class, 0 courses/)).toBeVisible();
    await add("spring 2027", "");
    await expect(admin.getByRole("alert")).toContainText('There is a term "Spring 2027" already.');
    await admin.getByText(/^Spring 2027/).click();
    const spring = admin.getByRole("form", { name: "Spring 2027" });
    await spring.getByLabel("Students' work is kept until").fill("2027-02-01");
    await spring.getByRole("button", { name: "Keep" }).click();
    await expect(admin.getByRole("alert")).toHaveText(
      "Students' work is kept until: what students do is kept at least until the term ends. Nothing was kept.",
    );
    await spring.getByLabel("Students' work is kept until").fill("2028-05-07");
    await spring.getByLabel("Courses are kept until").fill("2032-05-07");
    await spring.getByRole("button", { name: "Keep" }).click();
    await expect(admin.getByRole("status")).toHaveText("Kept. Courses that there are keep their own days.");
    await admin.getByText(/^Spring 2027/).click();
    await expect(spring.getByLabel("Courses are kept until")).toHaveValue("2032-05-07");
    await spring.getByRole("button", { name: "Remove" }).click();
    await expect(admin.getByRole("status")).toHaveText("The term was removed.");
    // One that courses bear has no such button.
    await admin
      .getByText(/2 courses|3 courses/)
      .first()
      .click();
    await expect(admin.getByRole("button", { name: "Remove" })).toHaveCount(0);
  });

  test("a course is found and entered; its journal and its staff say who is in it, and until when", async ({
    browser,
  }) => {
    // One of its own: whoever entered a course is in it for hours.
    await admin.goto("/administration/courses");
    await admin.getByText("Make a course", { exact: true }).click();
    const form = admin.getByRole("form", { name: "Make a course" });
    await form.getByLabel("Code").fill("ENT 101");
    await form.getByLabel("Title").fill("Doors and gates");
    await form.getByLabel("Its coordinator").fill("instructor.ev");
    await form.getByRole("button", { name: "Make it" }).click();
    await expect(admin.getByRole("status")).toContainText("is made");
    await admin.getByLabel("Code or title").fill("101 door");
    await admin.getByRole("button", { name: "Show" }).click();
    await expect(admin.getByRole("row")).toHaveCount(2);
    await admin.getByRole("button", { name: "Enter ENT 101" }).click();
    await expect(admin.getByRole("navigation", { name: "Stations" })).toBeVisible();
    // Entered twice it is entered once.
    await admin.goto("/administration/courses?words=ENT+101");
    await admin.getByRole("button", { name: "Enter ENT 101" }).click();
    await expect(admin.getByRole("navigation", { name: "Stations" })).toBeVisible();
    const coordinator = await pageOf(browser, "instructor.ev");
    const id = await openWorkbench(coordinator, "ENT 101", "intake");
    await coordinator
      .getByRole("radio", { name: "Staff" })
      .or(coordinator.getByRole("tab", { name: "Staff" }))
      .first()
      .click();
    await expect(coordinator.getByText(/Kowal/).first()).toBeVisible();
    const { lines } = await (await coordinator.request.get(`/api/courses/${id}/journal`)).json();
    const said = lines.filter(({ says }: { says: string }) => says.startsWith("An administrator entered the course"));
    expect(said).toHaveLength(1);
    expect(said[0].by).toBe("Kowal, Ines");
    await coordinator.context().close();
  });
});

test("a lost password is chosen anew by letter; who is known is told to nobody; other sessions end", async ({
  browser,
}) => {
  const before = await pageOf(browser, "instructor.dl");
  const course = await courseId(before, "WSH 240");
  const page = await (await browser.newContext({ baseURL: application().url })).newPage();
  const ask = async (who: string) => {
    await page.goto("/sign-in");
    await page.getByRole("link", { name: "For the first time, or password lost" }).click();
    await page.getByLabel("Username or e-mail").fill(who);
    await page.getByRole("button", { name: "Send me a letter" }).click();
    return (await page.getByRole("status").textContent())?.replace(who, "") ?? "";
  };
  const known = await ask("instructor.dl");
  expect(known).toContain("a letter is on its way");
  expect(await ask("nobody.known")).toBe(known);
  const subject = "Choose a password, Tarnbeck College";
  await expect.poll(async () => (await letters(subject)).length).toBe(1);
  const [letter] = await letters(subject);
  expect(letter?.to).toBe("instructor.dl@tarnbeck.example");
  await page.goto(/http\S+\/password\/\S+/.exec(letter?.text ?? "")?.[0] ?? "");
  await page.getByLabel("New password").fill(password);
  await page.getByRole("button", { name: "Keep it and sign in" }).click();
  await expect(page.getByRole("heading", { name: "Your courses" })).toBeVisible();
  expect((await before.goto(`/workbench/${course}/gradebook`))?.url()).toContain("/sign-in");
  // And changed by whoever knows it.
  await page.goto("/self");
  await page.getByLabel("Now").fill("not this");
  await page.getByLabel("New", { exact: true }).fill("a kettle for the ferry");
  await page.getByRole("button", { name: "Change" }).click();
  await expect(page.getByRole("alert")).toContainText("That is not your password now");
  await page.getByLabel("Now").fill(password);
  await page.getByLabel("New", { exact: true }).fill("a kettle for the ferry");
  await page.getByRole("button", { name: "Change" }).click();
  await expect(page.getByText("Changed. You were signed out everywhere else.")).toBeVisible();
  for (const one of [page, before]) await one.context().close();
});

test("whoever watches asks for health by any name, and is told which part fails but not why", async ({ request }) => {
  expect(await (await request.get("/health/live")).json()).toEqual({ live: true });
  const ready = await request.get("/health/ready", { headers: { host: "10.0.0.7" } });
  expect(ready.status()).toBe(200);
  expect(await ready.json()).toEqual({
    ready: true,
    parts: { database: "good", tables: "good", disk: "good", letters: "good", registrar: "good" },
  });
});
