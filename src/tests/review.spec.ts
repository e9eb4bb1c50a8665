/** The review: warnings first, a part left out, a moment chosen; the journal, the way back, the plan as it was. */
import { v7 } from "uuid";
import { blankItem } from "../core/plan/types.ts";
import {
  beginWithoutDraft,
  choose,
  choosePerson,
  drafted,
  expect,
  findItem,
  openWorkbench,
  send,
  settled,
  test,
  why,
} from "./helpers.ts";

const code = "WSH 240";
beginWithoutDraft();
const station = (page: import("@playwright/test").Page) =>
  page.getByRole("navigation", { name: "Stations" }).getByRole("link", { name: /^Review/ });

test("from a change to whom it touches, down to one student before and after; a part is left out", async ({ page }) => {
  const id = await openWorkbench(page, code, "reach");
  await findItem(page, "North bank", "folder");
  await page.getByRole("button", { name: "Seal it" }).click();
  await page.getByRole("button", { name: "Kit list", exact: true }).dblclick();
  await page.getByRole("dialog").getByLabel("Title").fill("Kit and boots");
  await page.getByRole("button", { name: "Draft the change" }).click();
  await settled(page);
  await station(page).click();
  const drafted = page.getByRole("region", { name: "Drafted changes" });
  await drafted.getByRole("button", { name: /Rename Kit list.*touches 104 students/ }).click();
  await drafted.getByRole("button", { name: /North bank seals.*touches 39 students/ }).click();
  await page
    .getByRole("button", { name: /^39 students/ })
    .first()
    .click();
  const [look] = await Promise.all([
    page.context().waitForEvent("page"),
    why(page).getByRole("list").getByRole("link").first().click(),
  ]);
  await expect(look.getByText("Before and after what is drafted")).toBeVisible();
  await expect(look.getByRole("row").filter({ hasText: "North bank notes" })).toContainText("not there");
  await look.close();
  await drafted.getByRole("checkbox", { name: /North bank seals/ }).press("Space");
  await expect(page.getByText("1 of them stays drafted")).toBeVisible();
  await settled(page);
  await page.getByRole("button", { name: /^Publish( to .*)?$/ }).click();
  await expect(page.getByText("Published. Everyone sees it now.")).toBeVisible();
  await expect(page.getByText("1 change drafted")).toBeVisible();
  const { plan } = await (await page.request.get(`/api/courses/${id}/plan`)).json();
  const titles = Object.values<{ title: string; seals: boolean }>(plan.items);
  expect(titles.some(({ title }) => title === "Kit and boots")).toBe(true);
  expect(titles.find(({ title }) => title === "North bank")?.seals).toBe(false);
});

test("what was published is found in the journal, reverted in a new draft, and the plan as it was is shown", async ({
  page,
}) => {
  await openWorkbench(page, code, "review");
  await page.getByRole("radio", { name: "Journal" }).click();
  await page.getByRole("textbox", { name: "Search the journal" }).fill("boots");
  // The latest: what others renamed before stands there too.
  await page.getByRole("button", { name: "Rename Kit list to Kit and boots" }).first().click();
  await expect(why(page).getByText('"Kit and boots", title: Kit list to Kit and boots')).toBeVisible();
  await page.getByRole("button", { name: "Revert in a new draft" }).click();
  await expect(page.getByText("1 change drafted")).toBeVisible();
  await page.getByRole("radio", { name: "Draft" }).click();
  await expect(page.getByRole("button", { name: /^Revert: Rename Kit list/ })).toBeVisible();
  await settled(page);
  await page.getByRole("button", { name: /^Publish( to .*)?$/ }).click();
  await expect(page.getByText("Published. Everyone sees it now.")).toBeVisible();
  // What went out, who sees it, and the way to where it can be taken back.
  const went = page.getByRole("region", { name: "What was published" });
  await expect(went.getByRole("heading")).toHaveText(/^104 students see it now$/);
  await expect(went).toContainText("Revert: Rename Kit list");
  await went.getByRole("button", { name: /journal/ }).click();
  await choose(page, "Kind of line", "publications");
  await expect(page.getByRole("button", { name: /^Revert: Rename Kit list/ })).toBeVisible();
  // Before any of it the list had its name; nothing can be changed while that is looked at.
  await page.getByRole("group", { name: "The plan as it was" }).getByRole("spinbutton").first().click();
  await page.keyboard.type("20112026");
  await page.keyboard.type("0900");
  await page.getByRole("button", { name: "Show the plan as it was" }).click();
  await expect(page.getByText(/as it was published on Fri 20 Nov, 09:00/)).toBeVisible();
  await findItem(page, "North bank", "folder");
  await page.getByRole("button", { name: "Seal it" }).click();
  await expect(page.getByText("You look at the plan as it was. Go back to now, then change it.")).toBeVisible();
  await page.getByRole("button", { name: "Back to now" }).click();
  await expect(page.getByText(/as it was published on/)).toBeHidden();
});

test("nothing is published before it is counted whom it touches; where that fails it is said", async ({ page }) => {
  let goOn = () => {};
  const held = new Promise<void>((resolve) => {
    goOn = resolve;
  });
  await page.route(/\/course\.[^/]*\.js/, async (route) => {
    await held;
    await route.abort();
  });
  await openWorkbench(page, code, "reach");
  await findItem(page, "North bank", "folder");
  await page.getByRole("button", { name: "Seal it" }).click();
  await expect(page.getByTestId("touched")).toHaveText("counting whom it touches");
  await station(page).click();
  const publish = page.getByRole("button", { name: /^Publish( to .*)?$/ });
  await expect(publish).toBeDisabled();
  await expect(page.getByRole("main").getByText("Counting whom the draft touches")).toBeVisible();
  goOn();
  await expect(page.getByTestId("touched")).toContainText("could not be counted on this page");
  await expect(publish).toBeDisabled();
  // Another question starts another worker.
  await page.unrouteAll();
  await page.getByRole("button", { name: "Undo", exact: true }).click();
  await page.getByRole("button", { name: "Redo", exact: true }).click();
  await expect(page.getByTestId("touched")).toHaveText("touches 39 students");
  await expect(page.getByText("touches 39 students").last()).toBeVisible();
  await expect(publish).toBeEnabled();
  await page.keyboard.press("Control+z");
  await expect(page.getByText("Nothing is drafted", { exact: true })).toBeVisible();
});

test("a publication is planned for a moment, waits in sight, and is taken back", async ({ page }) => {
  await openWorkbench(page, code, "reach");
  await findItem(page, "North bank", "folder");
  await page.getByRole("button", { name: "Seal it" }).click();
  await page.getByRole("button", { name: "Review", exact: true }).click();
  await page.getByRole("button", { name: "At a moment" }).click();
  await page.getByRole("button", { name: "Plan it" }).click();
  const planned = page.getByRole("region", { name: "Planned publication" });
  await expect(planned).toContainText("1 change will be published on Thu 26 Nov, 07:00");
  await expect(planned.getByRole("listitem")).toContainText("North bank seals");
  await planned.getByRole("button", { name: "Another moment" }).click();
  const dialog = page.getByRole("dialog");
  await dialog.getByRole("spinbutton", { name: /^hour/ }).fill("08");
  await dialog.getByRole("button", { name: "Move it" }).click();
  await expect(planned).toContainText("on Thu 26 Nov, 08:00, to");
  await expect(page.getByRole("button", { name: "Undo", exact: true })).toBeDisabled();
  await page.getByRole("button", { name: "Take back into the draft" }).click();
  await expect(page.getByRole("region", { name: "Planned publication" })).toHaveCount(0);
  await expect(page.getByRole("button", { name: /North bank seals/ })).toBeVisible();
  await page.keyboard.press("Control+z");
  await expect(page.getByText("Nothing is drafted", { exact: true })).toBeVisible();
});

test("a message with a publication speaks of what is drafted, and goes with it when planned", async ({ page }) => {
  const id = await openWorkbench(page, code, "reach");
  const origin = new URL(page.url()).origin;
  const itemId = "0190a000-0000-7000-8000-0000000000aa";
  const item = { ...blankItem, id: itemId, parentId: null, position: 99, kind: "assignment", title: "Field diary" };
  const add = { id: "0190a000-0000-7000-8000-0000000000ab", kind: "item.add", item };
  const due = {
    id: "0190a000-0000-7000-8000-0000000000ac",
    kind: "dates.set",
    itemIds: [itemId],
    dates: { due: "2026-12-09T18:00" },
  };
  const answer = await send(page.request, "POST", `/api/courses/${id}/draft`, origin, { commands: [add, due] });
  expect(await answer.json()).toMatchObject({ commands: [{ kind: "item.add" }, { kind: "dates.set" }] });
  await page.goto(`/workbench/${id}/review`);
  await page.getByRole("button", { name: "Write to others" }).click();
  const dialog = page.getByRole("dialog");
  await choosePerson(page, "To", "Evening");
  await dialog.getByRole("textbox", { name: "Subject" }).fill("A diary");
  await dialog.getByRole("textbox", { name: "Text" }).fill("Hand it in by ");
  await choosePerson(page, "A date of an item", "Field diary");
  await expect(dialog.getByRole("textbox", { name: "Text" })).toHaveValue("Hand it in by {due of Field diary}");
  await expect(dialog.getByRole("region", { name: "As it is read" })).toContainText("Hand it in by Wed 9 Dec, 18:00");
  await dialog.getByRole("button", { name: "Send with the publication" }).click();
  await expect(dialog).toHaveCount(0);
  const tick = page.getByRole("checkbox", { name: /^Publish: New assignment Field diary/ });
  await tick.press("Space");
  await expect(page.getByRole("button", { name: "At a moment" })).toBeDisabled();
  await tick.press("Space");
  await page.getByRole("button", { name: "At a moment" }).click();
  await page.getByRole("button", { name: "Plan it" }).click();
  const planned = page.getByRole("region", { name: "Planned publication" });
  await planned.getByText('Message "A diary", to').click();
  await expect(planned.getByText("Hand it in by {due of Field diary}")).toBeVisible();
  await planned.getByRole("button", { name: "Take back into the draft" }).click();
  await expect(page.getByRole("button", { name: /A diary, to/ })).toBeVisible();
  await page.getByRole("button", { name: "Take out A diary" }).click();
  await expect(page.getByText("None: nobody is told but by what they see.")).toBeVisible();
});

test("what a planned publication left out stays left out, and no line says otherwise for a moment", async ({
  page,
}) => {
  const id = await openWorkbench(page, code, "review");
  const origin = new URL(page.url()).origin;
  const { plan } = await (await page.request.get(`/api/courses/${id}/plan`)).json();
  const items = Object.values<{ id: string; title: string }>(plan.items).slice(0, 10);
  const commands = items.map(({ id: itemId, title }) => ({
    id: v7(),
    kind: "item.change",
    itemId,
    fields: { title: `${title}, again` },
  }));
  await send(page.request, "POST", `/api/courses/${id}/draft`, origin, { commands });
  await page.reload();
  const lines = page.getByRole("region", { name: "Drafted changes" }).getByRole("listitem");
  await expect(lines).toHaveCount(10);
  await lines.nth(3).getByRole("checkbox").press("Space");
  await page.getByRole("button", { name: "At a moment" }).click();
  await page.getByRole("button", { name: "Plan it" }).click();
  const planned = page.getByRole("region", { name: "Planned publication" });
  await expect(planned.getByRole("listitem")).toHaveCount(9);
  await expect(lines.getByRole("checkbox", { checked: false })).toHaveCount(1);
  // Whatever stands on the page from now on, with all ten in the draft, is looked at.
  await page.evaluate(() => {
    const seen = new Set<string>();
    Object.assign(window, { seen });
    new MutationObserver(() => {
      const boxes = [...document.querySelectorAll<HTMLInputElement>("input[aria-label^='Publish: ']")];
      if (boxes.length < 10) return;
      const left = boxes.flatMap((box, at) => (box.checked ? [] : [at]));
      const says = (document.body.textContent?.match(/stays drafted/g) ?? []).length;
      seen.add(`${left.join()} unticked, ${says} said to stay`);
    }).observe(document.body, { subtree: true, childList: true, attributes: true, characterData: true });
  });
  await page.getByRole("button", { name: "Take back into the draft" }).click();
  await expect(lines).toHaveCount(10);
  await settled(page);
  await expect(lines.getByRole("checkbox", { checked: false })).toHaveCount(1);
  await expect(page.getByText("1 of them stays drafted")).toBeVisible();
  const seen = await page.evaluate(() => [...(window as unknown as { seen: Set<string> }).seen]);
  expect(seen.filter((one) => !one.startsWith("3 unticked, "))).toEqual([]);
  // Its own line, the tray and the help beside may say so, nine lines never.
  expect(seen.every((one) => Number(/, (\d+) said/.exec(one)?.[1]) <= 3)).toBe(true);
});

test("what undoes another change leaves the draft with it", async ({ page }) => {
  await openWorkbench(page, code, "reach");
  await findItem(page, "North bank", "folder");
  await page.getByRole("button", { name: "Seal it" }).click();
  await expect(drafted(page)).toContainText("1 change drafted");
  await page.getByRole("button", { name: "Unseal it" }).click();
  await expect(page.getByText("Nothing is drafted.")).toBeVisible();
  await page.getByRole("button", { name: "Redo", exact: true }).click();
  await expect(drafted(page)).toContainText("1 change drafted");
  await expect(page.getByRole("button", { name: "Unseal it" })).toBeVisible();
});

test("what is handed in and goes out of sight is warned of first", async ({ page }) => {
  await openWorkbench(page, code, "reach");
  await findItem(page, "Lab 1: Float gauging");
  await page.getByRole("button", { name: "Unpublish" }).click();
  await page.getByRole("button", { name: "Review", exact: true }).click();
  await expect(page.getByRole("main").getByText(/\d+ lose work they did/)).toBeVisible();
  await expect(page.getByRole("region", { name: "Effects on people" }).getByRole("listitem").first()).toContainText(
    "what they handed in or were marked for in Lab 1: Float gauging goes out of their sight",
  );
});
