/** Files too large for one answer: sent in pieces ahead of their form, and on from where they were cut. */
import { expect, studentWith, test } from "./helpers.ts";

const lab = { code: "WSH 240", title: "Lab 4: Rating the weir", username: "student.evening" };

test("a large file goes in pieces: cut, left and come back to, it goes on where it was, and arrives once", async ({
  page,
  browser,
}) => {
  const { student, address } = await studentWith(page, browser, lab);
  const context = student.context();
  const [begun, offsets]: [string[], number[]] = [[], []];
  let pieces = 0;
  let isCut = true;
  await context.route(/\/uploads/, (route) => {
    const request = route.request();
    if (request.method() === "POST") begun.push(request.url());
    if (request.method() !== "PATCH") return route.continue();
    offsets.push(Number(request.headers()["upload-offset"]));
    // After two pieces there is no network any more.
    return isCut && ++pieces > 2 ? route.abort("connectionreset") : route.continue();
  });
  const bytes = Buffer.alloc(3.5 * 1024 * 1024, "river levels ");
  await student.goto(address);
  await student.getByLabel("Your text").fill("With the film of the gauge");
  await student.getByLabel("A file").setInputFiles({ name: "gauge.mp4", mimeType: "video/mp4", buffer: bytes });
  await student.getByRole("button", { name: "Hand in" }).click();
  await expect(student.getByText(/There is no connection\. It waits here/)).toBeVisible();
  isCut = false;
  await student.reload();
  await expect(student.locator("#sent")).toBeVisible();
  await expect(student.getByRole("main")).toContainText("gauge.mp4");
  const piece = 1024 * 1024;
  expect([begun.length, new Set(offsets)]).toEqual([1, new Set([0, piece, 2 * piece, 3 * piece])]);
  expect(offsets.filter((offset) => offset < 2 * piece)).toEqual([0, piece]);
  const link = await student.getByRole("link", { name: "gauge.mp4" }).first().getAttribute("href");
  const file = await (await student.request.get(link ?? "")).body();
  expect(Buffer.compare(file, bytes)).toBe(0);
  await context.close();
});

test("what is written while a large file begins to go is kept, and goes by itself the next time", async ({
  page,
  browser,
}) => {
  const { student, address } = await studentWith(page, browser, lab);
  let release = () => {};
  const held = new Promise<void>((resolve) => {
    release = resolve;
  });
  await student.context().route(/\/uploads$/, async (route) => {
    await held;
    await route.continue();
  });
  await student.goto(address);
  const text = student.getByLabel("Your text");
  await text.fill("With the second film");
  const buffer = Buffer.alloc(1.5 * 1024 * 1024, "weir ");
  await student.getByLabel("A file").setInputFiles({ name: "gauge.mp4", mimeType: "video/mp4", buffer });
  const began = student.waitForRequest(/\/uploads$/);
  await student.getByRole("button", { name: "Hand in" }).click();
  await began;
  await text.pressSequentially(", and more");
  release();
  await expect(student.getByText(/Sent; what you wrote since is not/)).toBeVisible();
  await student.reload();
  await expect(text).toHaveValue("With the second film, and more");
  await expect(student.getByRole("main")).toContainText("Handed in");
  await student.getByRole("button", { name: "Throw it away" }).click();
  await student.context().close();
});
