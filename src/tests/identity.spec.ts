/** Signing in at an identity provider, the whole way; and every way in which that is not somebody's sign-in. */
import type { Browser, Page } from "@playwright/test";
import { application, expect, pageOf, password, test } from "./helpers.ts";
import { secondProcess } from "./second-process.ts";

const newPage = async (browser: Browser) => (await browser.newContext({ baseURL: application().url })).newPage();

/** Answers the provider's own page. */
async function answer(page: Page, username: string, code?: string): Promise<void> {
  await page.getByLabel("Username").fill(username);
  await page.getByLabel("Password").fill(password);
  if (code !== undefined) await page.getByLabel(/^Code/).fill(code);
  await page.getByRole("button", { name: "Continue" }).click();
}
async function signInThere(page: Page, username: string): Promise<void> {
  await page.goto("/sign-in");
  await page.getByRole("link", { name: "Sign in at Tarnbeck College" }).click();
  await answer(page, username);
}

test("a student comes to what was asked for, and is signed out there too", async ({ browser }) => {
  const page = await newPage(browser);
  await page.goto("/self");
  await page.getByRole("link", { name: "Sign in at Tarnbeck College" }).click();
  expect(page.url()).toContain(application().identityUrl);
  await page.getByLabel("Username").fill("student.day");
  await page.getByLabel("Password").fill("wrong");
  await page.getByRole("button", { name: "Continue" }).click();
  await expect(page.getByRole("alert")).toBeVisible();
  await answer(page, "student.day");
  await expect(page).toHaveURL(`${application().url}/self`);
  await expect(page.getByText("You sign in as student.day.")).toBeVisible();
  await page.getByRole("button", { name: "Sign out", exact: true }).click();
  await page.getByRole("button", { name: "Sign out here too" }).click();
  await expect(page).toHaveURL(`${application().url}/sign-in`);
  // Nobody is signed in at either, so that the next one is asked.
  await page.getByRole("link", { name: "Sign in at Tarnbeck College" }).click();
  await expect(page.getByLabel("Username")).toHaveValue("");
  await page.context().close();
});

test("whoever the provider knows has an account from then on, by the registrar's id, and no course", async ({
  browser,
}) => {
  const registrar = await (
    await fetch(`${application().registrarUrl}/ims/oneroster/rostering/v1p2/classes/hyd310-b/students`, {
      headers: { authorization: "Bearer stand-in" },
    })
  ).json();
  const { username, sourcedId, givenName, familyName } = registrar.users[3];
  const page = await newPage(browser);
  await signInThere(page, username);
  await expect(page.getByRole("heading", { name: "Your courses" })).toBeVisible();
  await page.goto("/self");
  await expect(page.getByRole("heading", { name: `${givenName} ${familyName}` })).toBeVisible();
  await expect(page.getByText(`Your registrar's id is ${sourcedId}`)).toBeVisible();
  await page.context().close();
});

test("an administrator is asked for a second factor, and is not signed in without it", async ({ browser }) => {
  const page = await newPage(browser);
  await signInThere(page, "administrator");
  // Asked again, now with a code; without it nobody comes in.
  await expect(page.getByLabel(/^Code/)).toBeVisible();
  await answer(page, "administrator", "000000");
  await expect(page.getByText("did not ask you for the second factor that administrators need")).toBeVisible();
  await page.goto("/administration/courses");
  await expect(page).toHaveURL(/sign-in/);
  await page.context().clearCookies();
  await signInThere(page, "administrator");
  await answer(page, "administrator", "246810");
  await expect(page.getByRole("link", { name: "Administration" })).toBeVisible();
  await page.context().close();
});

/** The address that somebody is sent back to, signed in at the provider, before anybody opens it. */
async function wayBack(page: Page, username: string): Promise<string> {
  let address = `${application().url}/sign-in/with/college`;
  for (let step = 0; step < 8 && !address.includes("/sign-in/back/"); step++) {
    const isForm = address.includes("/interaction/");
    const given = await page.request.fetch(address, {
      method: isForm ? "POST" : "GET",
      ...(isForm ? { form: { username, password } } : {}),
      maxRedirects: 0,
    });
    address = new URL(given.headers().location ?? "", address).href;
  }
  expect(address).toContain("code=");
  return address;
}

test("a way back that did not begin in this browser, is used twice, or was changed signs nobody in", async ({
  browser,
}) => {
  const mine = await newPage(browser);
  const back = await wayBack(mine, "student.evening");
  const begins = "did not begin in this browser";
  // Somebody else is given my address: they are not signed in as me.
  const other = await newPage(browser);
  expect((await other.goto(back))?.status()).toBe(401);
  await expect(other.getByText(begins)).toBeVisible();
  await other.goto("/");
  await expect(other).toHaveURL(/sign-in/);
  // Another state than the one that was given out.
  const changed = new URL(back);
  changed.searchParams.set("state", "another");
  expect((await mine.goto(changed.href))?.status()).toBe(401);
  await expect(mine.getByText("Tarnbeck College did not sign you in.")).toBeVisible();
  // And the flow is used up by that.
  expect((await mine.goto(back))?.status()).toBe(401);
  await expect(mine.getByText(begins)).toBeVisible();
  expect((await mine.goto("/sign-in/with/nowhere"))?.status()).toBe(404);
  for (const one of [mine, other]) await one.context().close();
});

test("a disabled account is refused, and after signing in one is led to no other site", async ({ browser }) => {
  const admin = await pageOf(browser, "administrator");
  const change = async (name: string) => {
    await admin.goto("/administration/people?words=support.writing");
    const row = admin.getByRole("row", { name: /support\.writing/ });
    await row.locator("summary").click();
    await row.getByRole("button", { name }).click();
    await expect(admin.getByRole("status")).toBeVisible();
  };
  await change("Disable");
  const page = await newPage(browser);
  await signInThere(page, "support.writing");
  await expect(page.getByText("This account is disabled.")).toBeVisible();
  await change("Open again");
  await page.context().clearCookies();
  await page.goto("/sign-in/with/college?next=//elsewhere.example");
  await answer(page, "support.writing");
  await expect(page).toHaveURL(`${application().url}/`);
  for (const one of [page, admin]) await one.context().close();
});

test("without passwords of our own there is the provider alone; one that is away is told", async ({ page }) => {
  const nowhere = { id: "college", name: "Alder Row", issuer: "http://127.0.0.1:9", clientId: "x", clientSecret: "y" };
  const settings = { AMBER_LOCAL_SIGN_IN: "off", AMBER_IDENTITY_PROVIDERS: JSON.stringify([nowhere]) };
  const { child, url } = await secondProcess(settings);
  try {
    await page.goto(`${url}/sign-in`);
    await expect(page.getByLabel("Password")).toHaveCount(0);
    expect((await page.request.get(`${url}/password`)).status()).toBe(404);
    const form = { username: "student.day", password };
    expect((await page.request.post(`${url}/sign-in`, { headers: { origin: url }, form })).status()).toBe(404);
    await page.getByRole("link", { name: "Sign in at Alder Row" }).click();
    await expect(page.getByText("Alder Row cannot be reached. Try again later.")).toBeVisible();
  } finally {
    child.kill("SIGTERM");
  }
});
