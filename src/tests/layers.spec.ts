/** Groups and layers as wholes: reworked, threaded on, side by side, named as a set; each undone. */
import type { Page } from "@playwright/test";
import { choose, expect, openWorkbench, signIn, test } from "./helpers.ts";
import { column, drafted, openLayer, undo } from "./layer-view.ts";

test("groups are merged, renamed many at once, split, archived and brought back, each as one change", async ({
  page,
}) => {
  await openLayer(page, /^River teams/, "Groups");
  const list = page.getByRole("region", { name: "Groups", exact: true });
  const names = () => list.getByRole("button").allTextContents();
  const [first = "", second = ""] = await names();
  await page.getByRole("checkbox", { name: `Select ${first}`, exact: true }).press("Space");
  await page.getByRole("checkbox", { name: `Select ${second}`, exact: true }).press("Space");
  await page.getByRole("button", { name: "Merge" }).click();
  await expect(page.getByText(`Merge ${second} into ${first}`)).toBeVisible();
  await expect.poll(names).not.toContain(second);
  await expect(page.getByText("1 group archived")).toBeVisible();
  await undo(page, 1);

  await page.getByRole("checkbox", { name: "Select all groups" }).press("Space");
  await page.getByRole("button", { name: "Rename", exact: true }).click();
  await page.getByRole("textbox", { name: "Pattern" }).fill("{scope} crew {n}");
  await expect(page.getByRole("list", { name: "New names" }).getByText("Evening crew 1")).toBeVisible();
  await page.getByRole("button", { name: /^Draft the \d+ names/ }).click();
  await expect.poll(async () => (await names()).slice(0, 2)).toEqual(["Day 1 crew 1", "Day 1 crew 2"]);
  await undo(page, 1);

  await page.getByRole("checkbox", { name: "Select all groups" }).press("Space");
  await page.getByRole("checkbox", { name: `Select ${first}`, exact: true }).press("Space");
  await page.getByRole("button", { name: "Split" }).click();
  await page.getByRole("button", { name: "Draft 2 groups" }).click();
  await expect.poll(names).toContain(`${first} 2`);
  await page.getByRole("checkbox", { name: `Select ${first}`, exact: true }).press("Space");
  await page.getByRole("button", { name: "Archive", exact: true }).click();
  await page.getByText("1 group archived").click();
  await page.getByRole("button", { name: "Bring back", exact: true }).click();
  await expect.poll(names).toContain(first);
  // Archived and brought back, nothing of either is left.
  await drafted(page, 1);
  await undo(page, 1);
});

test("a group says what is aimed at it; deleting one that items name is refused with their names", async ({ page }) => {
  await openLayer(page, /^Sections/, "Groups");
  await page.getByRole("button", { name: "Evening", exact: true }).click();
  await expect(page.getByText(/items? for it: /)).toBeVisible();
  await page.getByRole("checkbox", { name: "Select Evening" }).press("Space");
  await page.getByRole("button", { name: "Delete", exact: true }).click();
  await expect(page.getByText(/Change whom they are for first/)).toBeVisible();
  await page.getByRole("button", { name: "Change the group" }).click();
  await page.getByLabel("At most").fill("20");
  await page.getByLabel("Placement code").fill("EVE-22");
  await page.getByRole("button", { name: "Draft the change" }).click();
  await expect(page.getByText("1 too full")).toBeVisible();
  await undo(page, 1);
});

test("a layer is duplicated with its people, and put away", async ({ page }) => {
  await openLayer(page, /^River teams/, "Groups");
  await page.getByRole("button", { name: "Duplicate with its people" }).click();
  await expect(page.getByRole("tab", { name: /^River teams 2/ })).toHaveAttribute("aria-selected", "true");
  await expect(page.getByText("102 placed")).toBeVisible();
  await page.getByRole("button", { name: "Archive the layer" }).click();
  await expect(page.getByRole("tab", { name: /^River teams 2/ })).toHaveCount(0);
  await page.getByRole("button", { name: "Bring back River teams 2" }).click();
  await expect(page.getByText("102 placed")).toBeVisible();
  await undo(page, 3);
});

test("a layer is renamed, and its rule changed: whoever is in two is then told of", async ({ page }) => {
  await openLayer(page, /^Drone pilots/, "Board");
  const pilot = column(page, "Drone pilots").getByRole("option").first();
  const name = await pilot.textContent();
  await page.getByRole("button", { name: "Duplicate with its people" }).click();
  await page.getByRole("button", { name: "Change name, rule or privacy" }).click();
  await page.getByLabel("Name", { exact: true }).fill("Sky crew");
  await choose(page, "Each student is in", "any number of groups");
  await page.getByRole("button", { name: "Draft the change" }).click();
  await expect(page.getByRole("tab", { name: "Sky crew" })).toHaveAttribute("aria-selected", "true");
  // Into a second group of the layer beside the first, and then only one is allowed.
  await page.getByRole("button", { name: "Groups", exact: true }).click();
  await page.getByRole("checkbox", { name: "Select Drone pilots" }).press("Space");
  await page.getByRole("button", { name: "Duplicate", exact: true }).click();
  await page.getByRole("button", { name: "Board", exact: true }).click();
  await column(page, "Drone pilots")
    .getByRole("option", { name: name ?? "" })
    .click();
  await choose(page, "Also into", "Drone pilots 2");
  await expect(column(page, "Drone pilots 2")).toHaveAccessibleName("Drone pilots 2, 1");
  await expect(column(page, "Drone pilots").getByRole("option", { name: name ?? "" })).toHaveCount(1);
  await page.getByRole("button", { name: "Change name, rule or privacy" }).click();
  await choose(page, "Each student is in", "at most one group");
  await page.getByRole("button", { name: "Draft the change" }).click();
  await page.getByRole("button", { name: "1 in two" }).click();
  await expect(page.getByRole("button", { name: /^In two groups, 1/ })).toBeVisible();
  await undo(page, 5);
});

test("threads run on into a further layer, strays and the unplaced with them", async ({ page }) => {
  await openLayer(page, /^Sections/, "Flow");
  await choose(page, "On into", "River teams");
  const strip = page.getByRole("region", { name: /^Flow: / });
  await strip.getByRole("button", { name: /^Day 1 to Unplaced: 1 student/ }).press("Enter");
  await expect(page.getByRole("button", { name: /^Day 1 to Unplaced, 1/ })).toBeVisible();
  await page.getByRole("button", { name: "Leave out on into River teams" }).click();
  await expect(strip.getByRole("button", { name: /^Day 1 to Unplaced/ })).toHaveCount(0);
});

test("layers side by side: filtered by a group of one and by none of another, the rest become a group", async ({
  page,
}) => {
  await openLayer(page, /^Sections/, "Side by side");
  await choose(page, "Only in Gauge kits", /^in no group/);
  await expect(page.getByText("14 students")).toBeVisible();
  await choose(page, "Only in Sections", /^Evening/);
  const count = Number((await page.getByText(/^\d+ students?$/).textContent())?.split(" ")[0]);
  expect(count).toBeGreaterThan(0);
  expect(count).toBeLessThan(14);
  await page.getByRole("button", { name: "Into a group" }).click();
  // A new layer, which moves nobody, is proposed: it is called as the group where nothing else is typed.
  await page.getByLabel("Name of the group").fill("Waiting");
  await expect(page.getByLabel("Name of the layer")).toHaveValue("Waiting");
  await page.getByLabel("Name of the layer").fill("Kit queue");
  await expect(page.getByLabel("Private: students do not learn that it exists")).toBeChecked();
  await expect(page.getByLabel("With a page of its own: a folder that only they can enter")).toBeChecked();
  await page.getByRole("button", { name: "Draft it" }).click();
  await page.getByRole("tab", { name: /^Kit queue/ }).click();
  await expect(page.getByText(`${count} placed`, { exact: true })).toBeVisible();
  await expect(page.getByText("Pages for the groups of Kit queue")).toBeVisible();
  await undo(page, 4);
});

test("groups show how a number is spread in each; a student's groups are a strip over the term", async ({ page }) => {
  await openLayer(page, /^River teams/, "Groups");
  const spread = page.getByRole("img", { name: /^\d+ of them, [\d.]+ to [\d.]+, mean [\d.]+$/ });
  await expect(spread.first()).toBeVisible();
  await page.getByRole("button", { name: "Flow", exact: true }).click();
  await page.getByRole("button", { name: "Achterberg, Dilnoza" }).click();
  await expect(page.getByRole("img", { name: /^Sections: .* from .*; River teams: / })).toBeVisible();
});

for (const [station, prepare] of [
  ["intake", (page: Page) => page.getByRole("tab", { name: "People" }).click()],
  ["gradebook", async () => undefined],
] as const)
  test(`people chosen on ${station} join a group`, async ({ page }) => {
    await signIn(page, "coordinator");
    await openWorkbench(page, "WSH 240", station);
    await prepare(page);
    if (station === "intake")
      await page
        .getByRole("checkbox", { name: /^Select [A-Z]/ })
        .nth(1)
        .press("Space");
    await page.getByRole("button", { name: "Into a group" }).click();
    await choose(page, "Of the layer", "Drone pilots");
    await choose(page, "They go into", "Drone pilots");
    await page.getByRole("button", { name: "Draft it" }).click();
    await expect(page.getByText(/into Drone pilots/)).toBeVisible();
    await undo(page, 1);
  });

test("groups of two layers are named as a set, which an item can be for and dates can differ for", async ({ page }) => {
  await openLayer(page, /^Sections/, "Groups");
  await page.getByRole("checkbox", { name: "Select Evening" }).press("Space");
  await page.getByRole("button", { name: "As a set" }).click();
  await page.getByLabel("Name of the set").fill("After dark");
  await choose(page, "Its groups", /^Drone pilots/);
  await page.getByRole("button", { name: "Draft the set" }).click();
  await expect(page.getByRole("button", { name: "After dark, 2" })).toBeVisible();
  await page.keyboard.press("Alt+3");
  await page.getByRole("button", { name: "Kit list", exact: true }).click();
  await page.getByRole("button", { name: "Change", exact: true }).click();
  const dialog = page.getByRole("dialog");
  await dialog.getByRole("radio", { name: "Only some" }).click();
  await dialog.getByRole("combobox", { name: "Groups, sections and persons" }).fill("After dark");
  await page.getByRole("option", { name: /After dark/ }).click();
  await expect(dialog.getByText(/^(2\d|3\d) students/)).toBeVisible();
  await page.keyboard.press("Escape");
  await page.keyboard.press("Alt+4");
  await page.getByRole("textbox", { name: "Find an item" }).fill("Lab 4");
  await page.getByRole("button", { name: "Lab 4: Rating the weir" }).first().click();
  await page.getByLabel("Dates of their own for").fill("After dark");
  await page.getByRole("option", { name: /After dark/ }).click();
  await expect(page.getByRole("row", { name: /^After dark set/ })).toBeVisible();
  await page.keyboard.press("Alt+2");
  await undo(page, 1);
});
