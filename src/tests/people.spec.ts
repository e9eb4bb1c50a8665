/** The people of an institution, as its administrators keep them: saved, erased, disabled, and never without an administrator. */
import type { Page } from "@playwright/test";
import { check } from "./accessible.ts";
import { expect, pageOf, test } from "./helpers.ts";

let admin: Page;
test.beforeEach(async ({ browser }) => {
  admin = await pageOf(browser, "administrator");
});
test.afterEach(() => admin.context().close());

test("what is held of somebody is saved by themselves or an administrator, and by nobody else", async ({ browser }) => {
  const student = await pageOf(browser, "student.evening");
  await student.goto("/self");
  const [own] = await Promise.all([
    student.waitForEvent("download"),
    student.getByRole("link", { name: "Save all of it" }).click(),
  ]);
  expect(own.suggestedFilename()).toBe("your data.zip");
  await admin.goto("/administration/people?words=student.evening");
  await admin.getByText(/^Change/).click();
  const link = admin.getByRole("link", { name: "Save what is held of them" });
  const address = (await link.getAttribute("href")) ?? "";
  const [theirs] = await Promise.all([admin.waitForEvent("download"), link.click()]);
  expect(theirs.suggestedFilename()).toBe("data of student.evening.zip");
  for (const username of ["student.evening", "coordinator"]) {
    const other = await pageOf(browser, username);
    expect((await other.request.get(address)).status()).toBe(404);
    await other.context().close();
  }
  expect((await admin.request.get("/administration/people/0190a000-0000-7000-8000-0000000000ab")).status()).toBe(404);
  await student.context().close();
});

test("a person is erased once the username is typed, and not who is on a staff", async ({ browser }) => {
  await admin.goto("/administration/people");
  await admin.getByText("Invite somebody").click();
  const form = admin.getByRole("form", { name: "Invite somebody" });
  const fields = {
    "Given name": "Leaves",
    "Family name": "Forgood",
    "E-mail": "l@tarnbeck.example",
    Username: "l.forgood",
  };
  for (const [label, text] of Object.entries(fields)) await form.getByLabel(label, { exact: true }).fill(text);
  await form.getByRole("button", { name: "Invite" }).click();
  const find = async (words: string) => {
    await admin.goto(`/administration/people?words=${words}`);
    await admin.getByText(/^Change/).click();
    await admin.getByRole("link", { name: "Erase", exact: true }).click();
  };
  await find("coordinator");
  await expect(admin.getByRole("alert")).toContainText("is on the staff of a course");
  await expect(admin.getByRole("button", { name: "Erase for good" })).toHaveCount(0);
  await find("l.forgood");
  await check(admin);
  await expect(admin.getByText(/without a name: statistics/)).toBeVisible();
  const press = admin.getByRole("button", { name: "Erase for good" });
  await admin.getByLabel(/^Their username/).fill("coordinator");
  await press.click();
  await expect(admin.getByRole("alert")).toContainText("Nothing was erased.");
  const address = admin.url();
  const other = await pageOf(browser, "coordinator");
  expect((await other.request.get(address)).status()).toBe(404);
  await other.context().close();
  await admin.getByLabel(/^Their username/).fill("l.forgood");
  await press.click();
  await expect(admin.getByRole("status")).toContainText("A nameless person stands where they stood.");
  await admin.goto("/administration/people?words=l.forgood");
  await expect(admin.getByText("Nobody who has an account is called that.")).toBeVisible();
});

test("whoever is disabled is signed out and cannot come in, until the account is opened again", async ({ browser }) => {
  const student = await pageOf(browser, "support.access");
  await admin.goto("/administration/people?words=support.access");
  const row = admin.getByRole("row", { name: /support\.access/ });
  await row.locator("summary").click();
  await row.getByRole("button", { name: "Disable" }).click();
  await expect(admin.getByRole("status")).toContainText("cannot sign in any more");
  await student.goto("/");
  await expect(student).toHaveURL(/sign-in/);
  await student.getByLabel("Username").fill("support.access");
  await student.getByLabel("Password").fill("tarnbeck");
  await student.getByRole("button", { name: "Sign in" }).click();
  await expect(student.getByRole("alert")).toContainText("do not fit together");
  await row.locator("summary").click();
  await row.getByRole("button", { name: "Open again" }).click();
  await student.getByLabel("Password").fill("tarnbeck");
  await student.getByRole("button", { name: "Sign in" }).click();
  await expect(student.getByRole("heading", { name: "Your courses" })).toBeVisible();
  await student.context().close();
});

test("the institution keeps an administrator", async () => {
  await admin.goto("/administration/people?words=administrator");
  const row = admin.getByRole("row", { name: /administrator/ });
  await row.locator("summary").click();
  await row.getByRole("button", { name: "Let no longer administer" }).click();
  await expect(admin.getByRole("alert")).toContainText("is the only administrator");
});
