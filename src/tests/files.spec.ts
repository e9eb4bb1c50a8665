/** Groups as files, and on the wall. */
import { readFile } from "node:fs/promises";
import { AxeBuilder } from "@axe-core/playwright";
import type { Page } from "@playwright/test";
import { expect, openWorkbench, settled, signIn, test } from "./helpers.ts";

async function open(page: Page, layer: RegExp): Promise<string> {
  await signIn(page, "coordinator");
  const id = await openWorkbench(page, "WSH 240", "placement");
  await page.getByRole("tab", { name: layer }).click();
  return id;
}
const put = (page: Page, name: string, content: Buffer | string) =>
  page
    .getByRole("dialog")
    .locator("input[type=file]")
    .setInputFiles({ name, mimeType: "text/csv", buffer: Buffer.from(content) });

for (const format of ["CSV", "XLSX", "ODS"])
  test(`${format} of a layer's groups comes back without a difference`, async ({ page }) => {
    await open(page, /^River teams/);
    await page.getByRole("button", { name: "Groups in and out as files" }).click();
    const [download] = await Promise.all([
      page.waitForEvent("download"),
      page.getByRole("button", { name: `Save as ${format}` }).click(),
    ]);
    expect(download.suggestedFilename()).toBe(`River teams.${format.toLowerCase()}`);
    await put(page, download.suggestedFilename(), await readFile(await download.path()));
    const verdicts = page.getByRole("group", { name: "Verdicts" });
    // However many there are by now, each of them is the same.
    const rows = (await verdicts.getByRole("button", { name: /^All \d+$/ }).textContent())?.split(" ")[1];
    expect(Number(rows)).toBeGreaterThan(100);
    await expect(verdicts.getByRole("button", { name: `same ${rows}`, exact: true })).toBeVisible();
    await expect(verdicts.getByRole("button")).toHaveCount(2);
    await expect(page.getByText("0 students placed.", { exact: true })).toBeVisible();
  });

test("a file is looked at row by row, drafted as one change, and undone; what cannot be read is told and offered back", async ({
  page,
}) => {
  const id = await open(page, /^River teams/);
  const { plan } = await (await page.request.get(`/api/courses/${id}/plan`)).json();
  const [one, other] = Object.values<{ sourcedId: string; username: string }>(plan.people).filter(
    ({ username }) => username === "student.day" || username === "student.evening",
  );
  await page.getByRole("button", { name: "Groups in and out as files" }).click();
  await put(page, "photo.csv", Buffer.from([0x89, 0x50, 0x4e, 0x47, 0, 0, 0, 13]));
  await expect(page.getByRole("alert")).toContainText("not a text file");
  await put(page, "names.csv", "Name\nAda\n");
  await expect(page.getByRole("alert")).toContainText("no column called Group");
  await put(
    page,
    "weir.csv",
    `lead;login;GROUP;Layer\nyes;${one?.username};Weir watch;Night shifts\n;${other?.username};Weir watch;Night shifts\n;nobody.here;Weir watch;Night shifts\n`,
  );
  await expect(page.getByRole("alert")).toHaveCount(0);
  await page.getByRole("button", { name: "unreadable 1" }).click();
  await expect(page.getByText("nobody.here: nobody of this course")).toBeVisible();
  const [mend] = await Promise.all([
    page.waitForEvent("download"),
    page.getByRole("button", { name: "Save the unreadable rows" }).click(),
  ]);
  expect(await readFile(await mend.path(), "utf8")).toContain("4,nobody.here: nobody of this course");
  await expect(page.getByText("2 students placed, 1 new group, new layer Night shifts.")).toBeVisible();
  await page.getByRole("button", { name: "Draft it" }).click();
  await page.getByRole("tab", { name: /^Night shifts/ }).click();
  await expect(page.getByText("2 placed", { exact: true })).toBeVisible();
  await expect(page.getByText("1 change drafted")).toBeVisible();
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(page.getByRole("tab", { name: /^Night shifts/ })).toHaveCount(0);
  await settled(page);
});

test("the wall sheet of what is only drafted shows it, and says so", async ({ page }) => {
  await open(page, /^River teams/);
  await page.getByRole("button", { name: "Duplicate with its people" }).click();
  await expect(page.getByRole("tab", { name: /^River teams 2/ })).toBeVisible();
  await settled(page);
  await expect(page.getByRole("link", { name: "Wall sheet, as published" })).toHaveCount(0);
  const address = (await page.getByRole("link", { name: "Wall sheet, as drafted" }).getAttribute("href")) ?? "";
  expect((await page.request.get(address.split("?")[0] ?? "")).status()).toBe(404);
  await page.goto(address);
  await expect(page.getByText("Drafted, not published").first()).toBeVisible();
  await expect(page.locator("[data-names]:visible li").first()).toBeVisible();
  await page.goBack();
  await page.getByRole("button", { name: "Undo", exact: true }).click();
  await settled(page);
});

test("the wall sheet shows a section at a time, large, by keys; on paper no name is cut", async ({ page }) => {
  const id = await open(page, /^River teams/);
  const { plan } = await (await page.request.get(`/api/courses/${id}/plan`)).json();
  const address = (await page.getByRole("link", { name: /^Wall sheet/ }).getAttribute("href")) ?? "";
  await page.setViewportSize({ width: 1280, height: 800 });
  await page.goto(address);
  await expect(page.getByRole("heading", { name: "Day 1", exact: true })).toBeVisible();
  const shown = page.locator("[data-names]:visible");
  /** Names that reach out of the sheet, and the size of its letters. */
  const cut = () =>
    shown.evaluateAll((sheets) => ({
      size: Math.min(...sheets.map((sheet) => Number.parseFloat(getComputedStyle(sheet).fontSize))),
      names: sheets.flatMap((sheet) => {
        const frame = sheet.getBoundingClientRect();
        return [...sheet.querySelectorAll("li")]
          .map((line) => line.getBoundingClientRect())
          .filter(({ right, bottom }) => right > frame.right + 1 || bottom > frame.bottom + 1);
      }).length,
      lines: sheets.reduce((sum, sheet) => sum + sheet.querySelectorAll("li").length, 0),
    }));
  await expect.poll(async () => (await cut()).size).toBeGreaterThan(24);
  expect(await cut()).toMatchObject({ names: 0, lines: 34 });
  await page.keyboard.press("ArrowRight");
  await expect(page.getByRole("heading", { name: "Day 2", exact: true })).toBeVisible();
  expect((await cut()).names).toBe(0);
  await page.keyboard.press("End");
  await expect(page.getByRole("button", { name: "Next" })).toBeDisabled();
  await page.keyboard.press("PageUp");
  await expect(page.getByText("3 of 4")).toBeVisible();
  expect((await new AxeBuilder({ page }).analyze()).violations).toEqual([]);
  await page.emulateMedia({ media: "print" });
  for (const [width, height] of [
    [718, 1047],
    [740, 980],
  ] as const) {
    await page.setViewportSize({ width, height });
    expect(await cut()).toMatchObject({ names: 0, lines: 104 });
  }
  const secret = Object.values<{ id: string; private: boolean }>(plan.layers).find((layer) => layer.private);
  expect((await page.request.get(`/wall/${id}/${secret?.id}`)).status()).toBe(404);
});
