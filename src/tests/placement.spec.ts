/** The Placement station by hand, as a coordinator uses it: each test undoes what it drafted. In the demo course. */
import { beginWithoutDraft, choose, drafted, expect, openWorkbench, test, why } from "./helpers.ts";

const code = "WSH 240";

beginWithoutDraft();

test.describe("placement", () => {
  test("a range is selected with shift, moved at once, and counted before anyone is touched", async ({ page }) => {
    await openWorkbench(page, code, "placement");
    const boxes = page.getByRole("region", { name: "People of the course" }).getByRole("checkbox");
    const range = async () => {
      await boxes.nth(1).check({ force: true });
      await boxes.nth(5).click({ modifiers: ["Shift"], force: true });
      await expect(page.getByText("5 selected")).toBeVisible();
    };
    await range();
    await choose(page, "Move to", /Evening/);
    await expect(drafted(page)).toContainText("5 people into Evening");
    await expect(page.getByText("Select people to move them")).toBeVisible();
    // A group that holds twenty at most refuses the five, and they stay selected.
    await page.getByRole("tab", { name: "Gauge kits" }).click();
    await range();
    await choose(page, "Move to", /Kit alder/);
    await expect(page.getByRole("alert")).toContainText(/Kit alder holds 20 students at most; this would make 2\d\./);
    await expect(page.getByText("5 selected")).toBeVisible();
  });
  test("ticks stay while one searches for more people", async ({ page }) => {
    await openWorkbench(page, code, "placement");
    const tick = (at: number) =>
      page.getByRole("region", { name: "People of the course" }).getByRole("checkbox").nth(at);
    await page.getByLabel("Find people").fill("Evening");
    await tick(1).press("Space");
    await tick(2).press("Space");
    await expect(page.getByText("2 selected", { exact: true })).toBeVisible();
    await page.getByLabel("Find people").fill("Distance");
    await expect(page.getByText("2 selected, 0 of them shown")).toBeVisible();
    await tick(1).press("Space");
    await expect(page.getByText("3 selected, 1 of them shown")).toBeVisible();
    await choose(page, "Move to", /Day 2/);
    await expect(drafted(page)).toContainText("3 people into Day 2");
  });
  test("a private layer says why its groups have no page, and what naming it would show to whom", async ({ page }) => {
    const id = await openWorkbench(page, code, "placement");
    const { plan } = await (await page.request.get(`/api/courses/${id}/plan`)).json();
    const layer = Object.values<{ id: string; name: string; private: boolean }>(plan.layers).find((one) => one.private);
    const group = Object.values<{ layerId: string; name: string }>(plan.groups).find(
      ({ layerId }) => layerId === layer?.id,
    );
    await page.getByRole("tab", { name: new RegExp(`^${layer?.name}`) }).click();
    await page.getByText("Groups", { exact: true }).click();
    await page.getByRole("button", { name: group?.name, exact: true }).click();
    await expect(why(page)).toContainText("It has no page: its members would learn from one that the group exists.");
    await page.getByRole("button", { name: "Let students see the layer" }).click();
    const dialog = page.getByRole("dialog");
    await dialog.getByText("Private: no student ever sees it").click();
    await expect(dialog).toContainText(/\d+ students? will read which of its groups they are in, and that it exists/);
    await dialog.getByRole("button", { name: "Draft the change" }).click();
    await expect(drafted(page)).toContainText(`Students see their groups of ${layer?.name}`);
    await expect(page.getByTestId("touched")).toHaveText(/^touches [1-9]\d* students?$/);
  });
  test("remove takes people out of the group, and the strip shows them unplaced", async ({ page }) => {
    await openWorkbench(page, code, "placement");
    await page.getByRole("tab", { name: "Drone pilots" }).click();
    await expect(page.getByText("12 placed", { exact: true })).toBeVisible();
    await page.getByLabel("Find people").fill("drone pilots");
    await page.getByText("Select people to move them").click();
    await expect(page.getByText("12 selected")).toBeVisible();
    await page.getByRole("button", { name: "Remove" }).click();
    await expect(page.getByText("0 placed", { exact: true })).toBeVisible();
    await expect(page.getByRole("list", { name: "Groups without anyone" })).toContainText("Drone pilots");
  });
  test("hold keeps a placement against the sections, release lets it follow again", async ({ page }) => {
    await openWorkbench(page, code, "placement");
    await page.getByLabel("Find people").fill("Evening");
    await page.getByText("Select people to move them").click();
    await page.getByRole("button", { name: "Hold" }).click();
    await expect(page.getByText("22 held", { exact: true })).toBeVisible();
    await page.getByText("Select people to move them").click();
    await page.getByRole("button", { name: "Release" }).click();
    await expect(page.getByText(/^\d+ held$/)).toHaveCount(0);
    // Released again, nothing is left of it in the draft.
    await expect(page.getByText("Nothing is drafted.")).toBeVisible();
  });
  test("a person's page says how they came, and their history of groups", async ({ page }) => {
    await openWorkbench(page, code, "placement");
    await page.keyboard.press("Control+k");
    await page.keyboard.type("student.evening");
    await page.keyboard.press("Escape");
    await page.getByLabel("Find people").fill("Evening");
    await page.getByRole("region", { name: "People of the course" }).getByRole("button").first().click();
    await expect(why(page)).toContainText("EV, by roster, from Mon 28 Sept, 07:30");
    await expect(why(page)).toContainText("Evening, from");
    await expect(why(page).getByRole("link", { name: "Look through their eyes" })).toBeVisible();
  });
  test("a new layer with its groups is drafted at once; two of one name are refused with the reason", async ({
    page,
  }) => {
    await openWorkbench(page, code, "placement");
    await page.getByRole("button", { name: "New layer" }).click();
    await page.getByLabel("Name", { exact: true }).fill("Seminar halves");
    await page.getByLabel("Groups, a line each").fill("First half\nSecond half");
    await page.getByRole("button", { name: "Draft the layer" }).click();
    await expect(page.getByRole("tab", { name: /Seminar halves/ })).toHaveAttribute("aria-selected", "true");
    await expect(page.getByText("104 unplaced", { exact: true })).toBeVisible();
    await expect(drafted(page)).toContainText("2 changes drafted");
    await page.getByRole("button", { name: "New layer" }).click();
    await page.getByLabel("Name", { exact: true }).fill("seminar HALVES");
    await page.getByRole("button", { name: "Draft the layer" }).click();
    await expect(page.getByRole("alert")).toContainText("There is a layer called seminar HALVES already.");
  });
  test("a thread of the flow is opened by key, and lists whom it is", async ({ page }) => {
    await openWorkbench(page, code, "placement");
    await page.getByRole("tab", { name: /River teams/ }).click();
    const thread = page.getByRole("button", { name: /^D1 to .+: \d+ student/ }).first();
    const [, name, count] = /^(.+): (\d+) student/.exec((await thread.getAttribute("aria-label")) ?? "") ?? [];
    await thread.focus();
    await page.keyboard.press("Enter");
    const filter = page.getByRole("button", { name: `${name}, ${count} ×` });
    await expect(filter).toBeVisible();
    const rows = page.getByRole("region", { name: "People" }).getByRole("checkbox");
    await expect(rows).toHaveCount(Number(count) + 1);
    await filter.click();
    await expect(page.getByText("104 students", { exact: true })).toBeVisible();
  });
  test("arrows lead down a list of people, however far it scrolls, and back", async ({ page }) => {
    await openWorkbench(page, code, "placement");
    await page.getByRole("region", { name: "People" }).getByRole("checkbox").nth(1).focus();
    const at = () => page.evaluate(() => document.activeElement?.closest<HTMLElement>("[data-row]")?.dataset.row);
    for (let row = 1; row <= 40; row++) {
      await page.keyboard.press("ArrowDown");
      await expect.poll(at).toBe(String(row));
    }
    await page.keyboard.press("ArrowUp");
    await expect.poll(at).toBe("39");
    await expect(page.locator("[data-row='39'] input:focus")).toBeInViewport();
  });
  test("at an earlier moment of the time rail the groups are those of that moment", async ({ page }) => {
    await openWorkbench(page, code, "placement");
    await expect(page.getByText("104 placed", { exact: true })).toBeVisible();
    await page.getByRole("slider", { name: "Moment shown on every screen" }).focus();
    await page.keyboard.press("Home");
    await page.keyboard.press("PageUp");
    await expect(page.getByText(/week [12]$/)).toBeVisible();
    await expect(page.getByText("103 placed", { exact: true })).toBeVisible();
  });
});
