/** Signing in and out: sessions end on the server, guessing is slowed, and nobody is led to another site. */
import { expect, test } from "./helpers.ts";

test("signing out ends the session on the server, not only in the browser", async ({ page, context }) => {
  await page.goto("/sign-in");
  await page.getByLabel("Username").fill("student.evening");
  await page.getByLabel("Password").fill("tarnbeck");
  await page.getByRole("button", { name: "Sign in" }).click();
  await expect(page.getByRole("heading", { name: "Your courses" })).toBeVisible();
  const kept = await context.cookies();
  await page.getByRole("button", { name: "Sign out" }).click();
  await expect(page).toHaveURL(/sign-in/);
  await context.addCookies(kept);
  await page.goto("/");
  await expect(page).toHaveURL(/sign-in/);
});

test("repeated failures slow the sign-in of that username, and of no other", async ({ page }) => {
  await page.goto("/sign-in");
  const attempt = async (username: string) => {
    await page.getByLabel("Username").fill(username);
    await page.getByLabel("Password").fill("wrong");
    await page.getByRole("button", { name: "Sign in" }).click();
    return (await page.getByRole("alert").textContent()) ?? "";
  };
  const said: string[] = [];
  // Each failure doubles the wait, so that sooner or later the next try comes too early, however slow the machine is.
  for (let count = 0; count < 12 && !/Wait/.test(said.at(-1) ?? ""); count++) said.push(await attempt("nobody.at.all"));
  expect(said.slice(0, 5).every((text) => /do not fit together/.test(text))).toBe(true);
  expect(said.at(-1)).toMatch(/Wait \d+ seconds?/);
  expect(await attempt("nobody.else")).toMatch(/do not fit together/);
});

test("where to go after signing in is never somebody else's site", async ({ page }) => {
  for (const next of ["https://elsewhere.example/", "//elsewhere.example", "/\\elsewhere.example"]) {
    await page.context().clearCookies();
    await page.goto(`/sign-in?next=${encodeURIComponent(next)}`);
    await page.getByLabel("Username").fill("student.day");
    await page.getByLabel("Password").fill("tarnbeck");
    await page.getByRole("button", { name: "Sign in" }).click();
    await expect(page.getByRole("heading", { name: "Your courses" })).toBeVisible();
  }
});
