/** Messages: written to a group, looked at as each reads it, sent, read in the course and at the post office. */
import { v7 } from "uuid";
import { blankGroup } from "../core/plan/types.ts";
import {
  application,
  beginWithoutDraft,
  drafted,
  expect,
  findItem,
  openWorkbench,
  pageOf,
  send,
  settled,
  test,
  why,
} from "./helpers.ts";

const code = "WSH 240";
beginWithoutDraft();
const letters = async (subject: string): Promise<{ to: string; text: string }[]> =>
  (await (await fetch(`${application().postUrl}/letters.json`)).json()).filter(
    (one: { subject: string }) => one.subject === subject,
  );

test("a group is written to: a mistake is told, each reads their own, and a student finds it in the course", async ({
  page,
  browser,
}) => {
  await openWorkbench(page, code, "placement");
  await page.keyboard.press("Control+k");
  await page.keyboard.type("Evening");
  await page.getByRole("option", { name: "Evening group of Sections" }).click();
  await page.getByRole("button", { name: "Write to the group" }).click();
  const dialog = page.getByRole("dialog");
  await expect(dialog).toContainText("22 people, 22 by e-mail");
  await dialog.getByLabel("Subject").fill("Waders on Thursday");
  await dialog.getByRole("textbox", { name: "Text" }).fill("Dear {nam}");
  await expect(dialog).toContainText('At character 6: "{nam}" stands for nothing.');
  await expect(dialog.getByRole("button", { name: "Send to 22" })).toBeDisabled();
  await dialog.getByRole("textbox", { name: "Text" }).fill("Dear ");
  await dialog.getByRole("button", { name: "{given name}" }).click();
  await page.keyboard.type(", {group of Sections} meets at {due of Final report}.");
  const read = dialog.getByRole("region", { name: "As it is read" });
  await expect(read).toContainText("Dear Esra, Evening meets at Fri 25 Dec, 17:00.");
  await dialog.getByRole("button", { name: "The next reader" }).click();
  await expect(read).toContainText("Dear Freya, Evening");
  await dialog.getByRole("button", { name: "Send to 22" }).click();
  await expect(page.getByText("Written to 22 people.")).toBeVisible();
  await expect.poll(() => letters("Waders on Thursday"), { timeout: 120_000 }).toHaveLength(22);
  expect((await letters("Waders on Thursday")).every(({ to }) => !to.includes(","))).toBe(true);
  const student = await pageOf(browser, "student.evening");
  await student.getByRole("link", { name: /WSH 240/ }).click();
  // Another test may have written to them, too.
  await student.getByRole("link", { name: /new notices?$/ }).click();
  await expect(student.getByRole("heading", { name: "Waders on Thursday" })).toBeVisible();
  await student.getByRole("button", { name: /^Mark (it|all \d+) as read$/ }).click();
  await expect(student.getByRole("button", { name: /as read/ })).toBeHidden();
  await student.context().close();
  const other = await pageOf(browser, "student.day");
  await other.getByRole("link", { name: /WSH 240/ }).click();
  await other.getByRole("link", { name: "Notices" }).click();
  await expect(other.getByText("Nobody has written to you here.")).toBeVisible();
  await other.context().close();
});

test("a group that is only drafted says why nobody is written to, and can be written to with its publication", async ({
  page,
}) => {
  const id = await openWorkbench(page, code, "placement");
  const { plan } = await (await page.request.get(`/api/courses/${id}/plan`)).json();
  const layer = Object.values<{ id: string; name: string }>(plan.layers).find(({ name }) => name === "Drone pilots");
  const group = {
    ...blankGroup,
    id: v7(),
    layerId: layer?.id,
    position: 9,
    name: "Night pilots",
    label: "Night pilots",
  };
  const stripe = { colour: 3, pattern: 2, mark: "NP" };
  const command = { id: v7(), kind: "group.add", group: { ...group, stripe } };
  const origin = new URL(page.url()).origin;
  await send(page.request, "POST", `/api/courses/${id}/draft`, origin, { commands: [command] });
  await expect(drafted(page)).toContainText("1 change drafted");
  await page.getByRole("tab", { name: /^Drone pilots/ }).click();
  await page.getByText("Groups", { exact: true }).click();
  await page.getByRole("button", { name: "Night pilots", exact: true }).click();
  await why(page).getByRole("button", { name: "Write to the group" }).click();
  const dialog = page.getByRole("dialog");
  await expect(dialog).toContainText("Night pilots is only drafted: nobody is in it until it is published.");
  await expect(dialog.getByRole("button", { name: "Send to 0" })).toBeDisabled();
  await dialog.getByRole("button", { name: "Send it with the publication" }).click();
  await expect(dialog.getByRole("button", { name: "Send with the publication" })).toBeVisible();
  await dialog.getByRole("button", { name: "Leave", exact: true }).click();
});

test("a message goes out with the publication, counted beforehand; one that is refused is shown and tried again", async ({
  page,
}) => {
  await openWorkbench(page, code, "reach");
  await findItem(page, "North bank", "folder");
  await page.getByRole("button", { name: "Seal it" }).click();
  await page.getByRole("button", { name: "Review", exact: true }).click();
  await page.getByRole("button", { name: "Write to the 39 touched" }).click();
  const dialog = page.getByRole("dialog");
  await dialog.getByLabel("Subject").fill("North bank notes");
  await dialog.getByRole("textbox", { name: "Text" }).fill("They were not meant for you.");
  await dialog.getByRole("button", { name: "Send with the publication" }).click();
  await expect(page.getByRole("button", { name: "North bank notes, to 39 people" })).toBeVisible();
  expect(await letters("North bank notes")).toEqual([]);
  await fetch(`${application().postUrl}/?mood=refuses`, { method: "POST", redirect: "manual" });
  await settled(page);
  await page.getByRole("button", { name: /^Publish to/ }).click();
  await expect(page.getByText("Published. Everyone sees it now.")).toBeVisible();
  await page.keyboard.press("Alt+6");
  await page.getByRole("radio", { name: "Messages" }).click();
  await expect(page.getByRole("row", { name: /North bank notes 39 39 refused/ })).toBeVisible({ timeout: 120_000 });
  await page.getByRole("button", { name: "North bank notes" }).click();
  await expect(why(page)).toContainText("does not know this address");
  await fetch(`${application().postUrl}/?mood=delivers`, { method: "POST", redirect: "manual" });
  await page.getByRole("button", { name: "Try the 39 again" }).click();
  await expect(page.getByRole("row", { name: /North bank notes 39 39 sent/ })).toBeVisible({ timeout: 120_000 });
  // The course is left as the other tests expect it.
  await page.getByRole("radio", { name: "Journal" }).click();
  await page.getByRole("button", { name: "North bank seals its contents" }).click();
  await page.getByRole("button", { name: "Revert in a new draft" }).click();
  await page.getByRole("radio", { name: "Draft" }).click();
  await expect(drafted(page)).toContainText("touches 39 students");
  await settled(page);
  await page.getByRole("button", { name: /^Publish to/ }).click();
  await expect(page.getByText("Published. Everyone sees it now.")).toBeVisible();
});
