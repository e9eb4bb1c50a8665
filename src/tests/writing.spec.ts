/** What somebody writes is never lost: kept as it is typed, sent without leaving the page, and once. */
import type { Page } from "@playwright/test";
import {
  allAttempts,
  application,
  expect,
  itemIn,
  openWorkbench,
  pageOf,
  send,
  signIn,
  studentWith,
  test,
} from "./helpers.ts";

const code = "WSH 240";
const editor = (page: Page) => page.getByRole("textbox", { name: /^Write/ }).first();

test("a post is kept over reload, back and another tab, is posted where one stands, and once", async ({
  page,
  browser,
}) => {
  const { course, item, student, address } = await studentWith(page, browser, {
    code,
    title: "Choosing a site",
    username: "student.evening",
  });
  await student.goto(address);
  await editor(student).click();
  await student.keyboard.type("By the old bridge");
  await student.reload();
  await expect(editor(student)).toHaveText("By the old bridge");
  await expect(student.getByText(/^Kept in this browser since/)).toBeVisible();
  const tab = await student.context().newPage();
  await tab.goto(address);
  await expect(editor(tab)).toHaveText("By the old bridge");
  await student.goto(`/course/${course}`);
  await student.goBack();
  await expect(editor(student)).toHaveText("By the old bridge");
  // Pressed twice before an answer comes: it is there once.
  const post = student.getByRole("button", { name: "Post", exact: true }).first();
  await post.dblclick();
  await expect(student.getByText(/^Posted /)).toBeFocused();
  await expect(student.getByText("By the old bridge")).toHaveCount(1);
  await expect(editor(student)).toHaveText("");
  expect(new URL(student.url()).search).toBe("");
  // The other tab holds nothing of it any more.
  await expect(editor(tab)).toHaveText("");
  await student.reload();
  await expect(student.getByText("By the old bridge")).toHaveCount(1);
  await student
    .getByRole("button", { name: /^Delete your post/ })
    .last()
    .click();
  await expect(student.getByText("By the old bridge")).toHaveCount(0);
  // What was pressed by mistake is put back.
  await student.getByRole("button", { name: "Put it back" }).click();
  await expect(student.getByText("By the old bridge")).toHaveCount(1);
  await student
    .getByRole("button", { name: /^Delete your post/ })
    .last()
    .click();
  await expect(student.getByText("By the old bridge")).toHaveCount(0);
  // Staff keep what it said.
  await page.goto(`/threads/${course}/${item}`);
  await expect(page.getByText("By the old bridge").first()).toBeAttached();
  await student.context().close();
});

test("a press while the form is still being sent, from here or another tab, goes afterwards", async ({
  page,
  browser,
}) => {
  const { student, address } = await studentWith(page, browser, {
    code,
    title: "Choosing a site",
    username: "student.evening",
  });
  await student.goto(address);
  await editor(student).click();
  await student.keyboard.type("By the new bridge");
  const keyOfKept = () => Object.keys(localStorage).find((key) => key.startsWith("amber kept ")) ?? "";
  await expect.poll(() => student.evaluate(keyOfKept)).not.toBe("");
  await student.evaluate(
    (key) => {
      const isLet = new Promise<void>((end) => addEventListener("let go", () => end(), { once: true }));
      return new Promise<void>((taken) => {
        void navigator.locks.request(key, () => {
          taken();
          return isLet;
        });
      });
    },
    await student.evaluate(keyOfKept),
  );
  await student.getByRole("button", { name: "Post", exact: true }).first().click();
  await student.evaluate(() => dispatchEvent(new Event("let go")));
  await expect(student.getByText(/^Posted /)).toBeFocused();
  await student
    .getByRole("button", { name: /^Delete your post/ })
    .last()
    .click();
  await expect(student.getByText("By the new bridge")).toHaveCount(0);
  await student.context().close();
});

test("without a network a hand-in waits with its file, says so, and goes once when there is one", async ({
  page,
  browser,
}) => {
  const { student, address } = await studentWith(page, browser, {
    code,
    title: "Lab 4: Rating the weir",
    username: "student.day",
  });
  await student.goto(address);
  const before = await student.getByText(/^Handed in /).count();
  await student.getByLabel("Your text").fill("Rated at the weir.");
  await student.getByLabel("A link").fill("no address");
  await student.getByRole("button", { name: "Hand in" }).click();
  await expect(student.getByRole("alert")).toContainText('"no address" is no address of a page');
  // What was refused stays to be mended.
  await expect(student.getByLabel("A link")).toHaveValue("no address");
  await student.getByLabel("A link").fill("");
  const levels = { name: "weir.csv", mimeType: "text/csv", buffer: Buffer.from("a,b\n1,2\n") };
  await student.getByLabel("A file").setInputFiles(levels);
  await student.context().setOffline(true);
  await student.getByRole("button", { name: "Hand in" }).click();
  await expect(student.getByText(/^There is no connection\. It waits here/)).toBeVisible();
  // It goes from whichever page is open, and the file with it.
  await student.context().setOffline(false);
  await expect(student.getByText(/^Received .*: 4 words; weir\.csv/)).toBeVisible();
  await expect(student.getByText(/^Handed in /)).toHaveCount(before + 1);
  await student.context().close();
});

test("a session that ends keeps what was written; whoever signs out is told first, and leaves nothing behind", async ({
  page,
  browser,
}) => {
  const { student, address } = await studentWith(page, browser, {
    code,
    title: "Choosing a site",
    username: "student.day",
  });
  await student.goto(address);
  await editor(student).click();
  await student.keyboard.type("Before the hour was over");
  const cookies = await student.context().cookies();
  await student.context().clearCookies();
  await student.getByRole("button", { name: "Post", exact: true }).first().click();
  await expect(student.getByText(/^You were signed out meanwhile/)).toBeVisible();
  await student.context().addCookies(cookies);
  await student.reload();
  await expect(editor(student)).toHaveText("Before the hour was over");
  await student.getByRole("button", { name: "Sign out" }).click();
  await expect(student.getByText(/^Not sent yet: Write in /)).toBeVisible();
  await student.getByRole("button", { name: "Sign out" }).click();
  await expect(student).toHaveURL(/sign-in/);
  const kept = await student.evaluate(() => Object.keys(localStorage).filter((key) => key.startsWith("amber kept")));
  expect(kept).toEqual([]);
  await student.context().close();
});

test("an answer that does not come, and comes again, is stored once at any delay", async ({ page, browser }) => {
  const { course, item, student, address } = await studentWith(page, browser, {
    code,
    title: "Choosing a site",
    username: "student.evening",
  });
  await student.goto(address);
  let lost = 2;
  // The server takes it; the answer is lost on its way, twice.
  await student.route(`**/course/${course}/item/${item}`, async (route) => {
    if (route.request().method() !== "POST" || lost === 0) return route.continue();
    lost--;
    await route.fetch({ maxRedirects: 0 });
    await route.abort();
  });
  await editor(student).click();
  await student.keyboard.type("Said once, whatever the wire does");
  await student.getByRole("button", { name: "Post", exact: true }).first().click();
  await student.getByRole("button", { name: "Try now" }).click();
  await expect(student.getByText(/^There is no connection/)).toBeVisible();
  await student.getByRole("button", { name: "Try now" }).click();
  await expect(student.getByText(/^Posted /)).toBeVisible();
  await expect(student.getByText("Said once, whatever the wire does")).toHaveCount(1);
  await student.context().close();
});

test("who goes on writing while something is sent, there or beside it, loses nothing at any delay", async ({
  page,
  browser,
}) => {
  const { course, item, student, address } = await studentWith(page, browser, {
    code,
    title: "Choosing a site",
    username: "student.day",
  });
  for (const outcome of ["taken", "lost"] as const) {
    let goOn = () => {};
    const held = new Promise<void>((resolve) => {
      goOn = resolve;
    });
    await student.unrouteAll();
    await student.goto(address);
    await student.route(`**/course/${course}/item/${item}`, async (route) => {
      if (route.request().method() !== "POST") return route.continue();
      await held;
      return outcome === "taken" ? route.continue() : route.abort();
    });
    await editor(student).click();
    await student.keyboard.type(`First ${outcome}`);
    await student.getByRole("button", { name: "Post", exact: true }).first().click();
    await editor(student).click();
    await student.keyboard.press("End");
    await student.keyboard.type(", and a second thought");
    goOn();
    await expect(
      student.getByText(outcome === "taken" ? "Sent; what you wrote since is not." : /^There is no connection/),
    ).toBeVisible();
    await student.keyboard.type(" to the end");
    const whole = `First ${outcome}, and a second thought to the end`;
    await expect(editor(student)).toHaveText(whole);
    await student.unrouteAll();
    await student.reload();
    await expect(editor(student)).toHaveText(whole);
    await expect(student.getByText(`First ${outcome}`, { exact: true })).toHaveCount(outcome === "taken" ? 1 : 0);
    await student.getByRole("button", { name: "Throw it away" }).click();
  }
  await student.context().close();
});

test("a page that learned by itself of something new keeps what is written in it, too", async ({ page, browser }) => {
  await signIn(page, "coordinator");
  const { course, item } = await itemIn(page, code, "Choosing a site");
  const { item: other } = await itemIn(page, code, "River levels today");
  const origin = application().url;
  const rename = async (title: string) => {
    const commands = [{ id: crypto.randomUUID(), kind: "item.change", itemId: other, fields: { title } }];
    const draft = await (await send(page.request, "POST", `/api/courses/${course}/draft`, origin, { commands })).json();
    const { revision } = await (await page.request.get(`/api/courses/${course}/plan`)).json();
    const publication = { publicationId: crypto.randomUUID(), revision, version: draft.version };
    const answer = await send(page.request, "POST", `/api/courses/${course}/publish`, origin, publication);
    expect(answer.status()).toBe(200);
  };
  const student = await pageOf(browser, "student.evening");
  const asked = student.waitForResponse(/\/fresh$/);
  await student.goto(`/course/${course}/item/${item}`);
  await asked;
  await student.evaluate(() => document.querySelector("main")?.setAttribute("data-before", ""));
  await rename("River levels now");
  await student.evaluate(() => document.dispatchEvent(new Event("visibilitychange")));
  await expect(student.locator("main[data-before]")).toHaveCount(0);
  await editor(student).click();
  await student.keyboard.type("After the news");
  await student.reload();
  await expect(editor(student)).toHaveText("After the news");
  await student.getByRole("button", { name: "Throw it away" }).click();
  await expect(editor(student)).toHaveText("");
  await rename("River levels today");
  await student.context().close();
});

test("without scripts the same forms are plain, and a double press posts once", async ({ page, browser }) => {
  await signIn(page, "coordinator");
  const { course, item } = await itemIn(page, code, "Lab 4: Rating the weir");
  await allAttempts({ course, item }, "student.evening");
  const context = await browser.newContext({ baseURL: application().url, javaScriptEnabled: false });
  const student = await context.newPage();
  await student.goto("/sign-in");
  await student.getByLabel("Username").fill("student.evening");
  await student.getByLabel("Password").fill("tarnbeck");
  await student.getByRole("button", { name: "Sign in" }).click();
  await student.waitForURL((address) => address.pathname !== "/sign-in");
  await student.goto(`/course/${course}/item/${item}`);
  const sendId = await student.locator('form[data-keep="hand-in"] input[name="send"]').getAttribute("value");
  const hand = () =>
    student.request.post(`/course/${course}/item/${item}`, {
      headers: { origin: application().url },
      multipart: { text: "Plain", link: "", send: sendId ?? "" },
    });
  const answers = await Promise.all([hand(), hand(), hand()]);
  for (const answer of answers) expect(await answer.text()).toContain("Received ");
  await student.reload();
  await expect(student.getByText("Plain", { exact: true })).toHaveCount(1);
  await openWorkbench(page, code, "gradebook");
  await context.close();
});
