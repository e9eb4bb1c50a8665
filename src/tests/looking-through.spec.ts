/** Looking through: the course as a student has it, by moments, in a group one after another, and two side by side. In the demo course. */
import { v7 } from "uuid";
import { application, beginWithoutDraft, choosePerson, expect, openWorkbench, send, test } from "./helpers.ts";

const code = "WSH 240";
beginWithoutDraft();

test.describe("looking through", () => {
  test("steps through the moments at which a student's reach changes, and sets two moments side by side", async ({
    page,
    context,
  }) => {
    await openWorkbench(page, code, "reach");
    await page.getByRole("button", { name: "Look through" }).click();
    await choosePerson(page, "Student, group or section", "student.evening");
    const opening = context.waitForEvent("page");
    await page.getByRole("button", { name: "Look", exact: true }).click();
    const look = await opening;
    await expect(look.getByText(/Wed 25 Nov, 10:00, as drafted/)).toBeVisible();
    const open = () => look.locator("[data-visibility=open]").evaluateAll((rows) => rows.map((row) => row.textContent));
    const before = await open();
    await look.getByRole("link", { name: /^Next change/ }).click();
    await expect(look.getByText(/Wed 25 Nov, 10:00/)).toHaveCount(0);
    expect(await open()).not.toEqual(before);
    await look.getByRole("link", { name: "Change before" }).click();
    // Written as everywhere, day before month.
    const part = (name: RegExp) => look.getByRole("spinbutton", { name });
    await part(/^day/).pressSequentially("01");
    await part(/^month/).pressSequentially("10");
    await part(/^hour/).pressSequentially("09");
    await part(/^minute/).pressSequentially("00");
    await look.getByRole("button", { name: "Go" }).click();
    await expect(look.getByText(/Thu 1 Oct, 09:00/)).toBeVisible();
    await look.getByRole("link", { name: "Side by side" }).click();
    await expect(look.getByText(/of \d+ lines differ/)).toBeVisible();
    await expect(look.locator("tr[data-differs]").first()).toBeVisible();
    const all = await look.getByRole("row").count();
    await look.getByRole("link", { name: "Show only those that differ" }).click();
    await expect(look.getByRole("link", { name: "Show all lines" })).toBeVisible();
    // Beside them stands the head alone. The page's lines come piece by piece.
    await look.waitForLoadState();
    const differing = await look.locator("tr[data-differs]").count();
    expect(differing).toBeLessThan(all - 1);
    await expect(look.getByRole("row")).toHaveCount(differing + 1);
    await look.close();
  });
  test("links and pictures of a text lead to what that student has", async ({ page }) => {
    const id = await openWorkbench(page, code, "reach");
    const { plan } = await (await page.request.get(`/api/courses/${id}/plan`)).json();
    const all = Object.values<{ id: string; title: string }>(plan.items);
    const [kit, card] = ["Kit list", "Field card"].map((title) => all.find((item) => item.title === title)?.id ?? "");
    const body = `<p><a href="/course/${id}/file/${card}">The card</a><img src="/course/${id}/file/${card}" alt="Card"></p>`;
    const commands = [{ id: v7(), kind: "item.change", itemId: kit, fields: { body } }];
    const answer = await send(page.request, "POST", `/api/courses/${id}/draft`, application().url, { commands });
    expect(answer.ok()).toBe(true);
    const person = Object.values<{ id: string; username: string }>(plan.people).find(
      ({ username }) => username === "student.day",
    );
    const base = `/look/${id}/${person?.id}`;
    await page.goto(`${base}/item/${kit}?draft=1`);
    const link = page.getByRole("link", { name: "The card" });
    await expect(link).toHaveAttribute("href", new RegExp(`^${base}/file/${card}\\?`));
    await expect(page.getByRole("img", { name: "Card" })).toHaveAttribute(
      "src",
      new RegExp(`^${base}/file/${card}\\?`),
    );
    expect((await page.request.get((await link.getAttribute("href")) ?? "")).status()).toBe(200);
  });
  test("of a group the first student is looked through, with a step to the next", async ({ page, context }) => {
    await openWorkbench(page, code, "reach");
    await page.getByRole("button", { name: "Look through" }).click();
    await choosePerson(page, "Student, group or section", "Evening");
    await expect(page.getByText("The first of 22 students, with a step to the next.")).toBeVisible();
    const opening = context.waitForEvent("page");
    await page.getByRole("button", { name: "Look", exact: true }).click();
    const look = await opening;
    const bar = look.getByRole("region", { name: "Look-through" });
    await expect(bar).toContainText("1 of 22 in Evening");
    await expect(bar.getByRole("link", { name: "Student before" })).toHaveCount(0);
    const first = await bar.getByText(/^Through the eyes of/).textContent();
    await look.getByRole("link", { name: "Kit list" }).click();
    await expect(look.getByRole("heading", { name: "Kit list" })).toBeVisible();
    await bar.getByRole("link", { name: "Next student" }).click();
    await expect(bar).toContainText("2 of 22 in Evening");
    expect(await bar.getByText(/^Through the eyes of/).textContent()).not.toBe(first);
    await bar.getByRole("link", { name: "Student before" }).click();
    await expect(bar.getByText(first ?? "")).toBeVisible();
    await look.close();
  });
  test("two students side by side, what only one of them sees marked", async ({ page, context }) => {
    await openWorkbench(page, code, "reach");
    await page.getByRole("button", { name: "Look through" }).click();
    await choosePerson(page, "Student, group or section", "student.evening");
    await page.getByText("Beside another student or moment").click();
    await choosePerson(page, "Other student", "student.day");
    const opening = context.waitForEvent("page");
    await page.getByRole("button", { name: "Look", exact: true }).click();
    const look = await opening;
    const north = look.getByRole("row", { name: /North bank route/ });
    await expect(north).toHaveAttribute("data-differs", "true");
    await expect(north.getByText("not there")).toBeVisible();
    await expect(look.getByRole("row", { name: /Kit list/ })).not.toHaveAttribute("data-differs");
    await look.close();
  });
});
