/** A new course out of an old plan, and a plan out and in as a file. */
import { readFileSync } from "node:fs";
import { expect, openWorkbench, signIn, test } from "./helpers.ts";

const code = "WSH 240";

test("the course is rolled over onto a new term: what cannot be carried is listed first, and nobody is in it", async ({
  page,
}) => {
  await signIn(page, "coordinator");
  const before = await openWorkbench(page, code, "review");
  await page.getByRole("radio", { name: "Course" }).click();
  const section = page.getByRole("region", { name: "A new course" });
  await expect(section).toContainText("How the groups of River teams were formed is not carried");
  await section.getByLabel("Code").fill("WSH 241");
  await section.getByLabel("Term").fill("Next autumn");
  await section.getByRole("button", { name: "Make the course" }).click();
  await page.getByRole("link", { name: "Open it" }).click();
  await expect(page.getByRole("heading", { name: /WSH 241/ })).toBeVisible();
  const id = new URL(page.url()).pathname.split("/")[2];
  const { plan } = await (await page.request.get(`/api/courses/${id}/plan`)).json();
  expect(Object.keys(plan.people)).toHaveLength(1);
  const { plan: old } = await (await page.request.get(`/api/courses/${before}/plan`)).json();
  expect(Object.keys(plan.items)).toHaveLength(Object.keys(old.items).length);
  const file = Object.values<{ id: string; file: object | null; title: string }>(plan.items).find((one) => one.file);
  expect(file?.title).toBeTruthy();
  await page.getByRole("link", { name: "Reach" }).click();
  await expect(page.getByRole("button", { name: "Kit list", exact: true })).toBeVisible();
});

test("the plan is saved as a file that its schema describes, and read again; another file says what is wrong", async ({
  page,
}) => {
  await signIn(page, "coordinator");
  await openWorkbench(page, code, "review");
  await page.getByRole("radio", { name: "Course" }).click();
  const [saved] = await Promise.all([
    page.waitForEvent("download"),
    page.getByRole("link", { name: "Save the published plan" }).click(),
  ]);
  const text = readFileSync(await saved.path(), "utf8");
  const plan = JSON.parse(text);
  const schema = await (await page.request.get("/plan.schema.json")).json();
  expect(Object.keys(plan).sort()).toEqual(Object.keys(schema.properties).sort());
  await page
    .getByTestId("plan-file")
    .setInputFiles({ name: "other.json", mimeType: "application/json", buffer: Buffer.from('{"format":"x"}') });
  await expect(page.getByRole("alert")).toContainText('it does not say "format"');
  await page
    .getByTestId("plan-file")
    .setInputFiles({ name: "saved.json", mimeType: "application/json", buffer: Buffer.from(text) });
  await expect(page.getByRole("heading", { name: "A new course out of saved.json" })).toBeVisible();
});
