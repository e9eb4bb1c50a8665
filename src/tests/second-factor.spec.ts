/** A second factor in the browser: set up, asked for, a recovery code, and taken away by an administrator. */
import { Secret, TOTP } from "otpauth";
import { check } from "./accessible.ts";
import { application, expect, pageOf, password, test } from "./helpers.ts";

test("an authenticator is set up, asked for when signing in, and its loss is mended by a recovery code or an administrator", async ({
  browser,
}) => {
  const username = "support.access";
  const page = await pageOf(browser, username);
  await page.goto("/self");
  await page.getByRole("link", { name: "Set up an authenticator" }).click();
  await check(page);
  const secret = ((await page.locator("main code").textContent()) ?? "").replaceAll(" ", "");
  const authenticator = new TOTP({ secret: Secret.fromBase32(secret) });
  await page.getByRole("textbox", { name: "Your password" }).fill(password);
  await page.getByLabel("Code", { exact: true }).fill("12 34");
  await page.getByRole("button", { name: "Turn it on" }).click();
  await expect(page.getByRole("alert")).toContainText("This code is not right");
  await page.getByRole("textbox", { name: "Your password" }).fill(password);
  await page.getByLabel("Code", { exact: true }).fill(authenticator.generate());
  await page.getByRole("button", { name: "Turn it on" }).click();
  await expect(page.getByRole("status")).toContainText("The second factor is on");
  const codes = await page.getByRole("status").getByRole("listitem").allTextContents();
  expect(codes).toHaveLength(10);
  await check(page, "dark");

  const other = await (await browser.newContext({ baseURL: application().url })).newPage();
  const signIn = async () => {
    await other.goto("/sign-in?next=%2Fself");
    await other.getByLabel("Username").fill(username);
    await other.getByLabel("Password").fill(password);
    await other.getByRole("button", { name: "Sign in" }).click();
    await expect(other.getByRole("heading", { name: "Second factor" })).toBeVisible();
  };
  await signIn();
  await check(other);
  // The password alone opens nothing.
  await other.goto("/self");
  await expect(other).toHaveURL(/sign-in/);
  await signIn();
  await other.getByLabel("Code").fill("000 000");
  await other.getByRole("button", { name: "Sign in" }).click();
  await expect(other.getByRole("alert")).toContainText("not right, or was used before");
  await other.getByLabel("Code").fill(authenticator.generate({ timestamp: Date.now() + 30_000 }));
  await other.getByRole("button", { name: "Sign in" }).click();
  await expect(other.getByText("You have 10 recovery codes left")).toBeVisible();
  await other.getByRole("button", { name: "Sign out", exact: true }).first().click();
  await signIn();
  await other.getByLabel("Code").fill(codes[3] ?? "");
  await other.getByRole("button", { name: "Sign in" }).click();
  await expect(other.getByText("You have 9 recovery codes left")).toBeVisible();

  const administrator = await pageOf(browser, "administrator");
  await administrator.goto(`/administration/people?words=${username}`);
  await administrator.getByText(/^Change/).click();
  await administrator.getByRole("button", { name: "Take the second factor away" }).click();
  await expect(administrator.getByRole("status")).toContainText("signs in by password alone");
  await other.goto("/sign-in/code");
  await expect(other).toHaveURL(/\/(self)?$/);
  const again = await pageOf(browser, username);
  for (const one of [page, other, administrator, again]) await one.context().close();
});
