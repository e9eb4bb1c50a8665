/** Forming groups by wishes, and placing who came late. */
import type { Page } from "@playwright/test";
import { application, choose, expect, openWorkbench, publish, send, settled, signIn, test } from "./helpers.ts";

interface Plan {
  layers: Record<string, { id: string; name: string; forming: { soft: object[] } | null }>;
  groups: Record<string, { id: string; layerId: string; name: string; leads: string[]; scopeGroupId: string | null }>;
  placements: Record<string, { groupId: string; personId: string; until: number | null }>;
}
async function openForming(page: Page): Promise<string> {
  await signIn(page, "coordinator");
  const id = await openWorkbench(page, "WSH 240", "placement");
  await page.getByRole("tab", { name: /River teams/ }).click();
  await page.getByRole("button", { name: "Form groups" }).click();
  return id;
}
const planOf = async (page: Page, id: string): Promise<Plan> =>
  (await (await page.request.get(`/api/courses/${id}/plan`)).json()).plan;
const score = (page: Page, column: number) =>
  page
    .getByRole("row", { name: /^Left of what could go wrong/ })
    .getByRole("cell")
    .nth(column);

test("who came late is placed at a press, and nobody else is moved", async ({ page }) => {
  await signIn(page, "coordinator");
  const id = await openWorkbench(page, "WSH 240", "placement");
  await page.getByRole("tab", { name: /River teams/ }).click();
  // One more without a team, whoever else is by now.
  await page.getByRole("region", { name: "People of the course" }).getByRole("checkbox").first().press("Space");
  await page.getByRole("button", { name: "Remove", exact: true }).click();
  const place = page.getByRole("button", { name: /^Place the [1-9]\d* unplaced$/ });
  await place.click();
  await expect(page.getByText("104 placed", { exact: true })).toBeVisible();
  const kinds = async () => {
    const { commands } = await (await page.request.get(`/api/courses/${id}/draft`)).json();
    return commands.map(({ kind }: { kind: string }) => kind);
  };
  await expect.poll(kinds).toEqual(["placement.remove", "layer.topUp"]);
  await expect(page.getByRole("button", { name: /^Place the/ })).toHaveCount(0);
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(place).toBeVisible();
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(page.getByText("Nothing is drafted.")).toBeVisible();
  await settled(page);
});

test("teams are formed within each section, tried again, swapped by hand, and published", async ({ page }) => {
  const id = await openForming(page);
  await choose(page, "Into", "a new layer");
  await page.getByLabel("Name of the layer").fill("Survey teams");
  await choose(page, "From", "each group of Sections apart");
  await page.getByLabel("How many").fill("4");
  await choose(page, "Add a wish", "Spread Entry score: means alike");
  await choose(page, "Add a wish", "New partners, not those of River teams");
  // A number can be emptied and typed anew, key by key.
  const weight = page.getByLabel(/^Weight of Spread Entry score/);
  await weight.fill("");
  await weight.pressSequentially("0.5");
  await weight.blur();
  await expect(weight).toHaveValue("0.5");
  await choose(page, "Leads", "one a group who has not led before");
  await page.getByRole("button", { name: "Form the groups" }).click();
  await page.getByRole("button", { name: "Another try" }).click();
  await expect(page.getByRole("button", { name: "Try 2" })).toHaveAttribute("aria-pressed", "true");
  const formed = page.getByRole("region", { name: "Formed groups" });
  const names = formed.getByRole("button");
  const [first, before] = [await names.first().textContent(), await score(page, 1).textContent()];

  // Two of one group cannot change places; two of two groups of one scope can, and the score follows.
  await names.first().click();
  await names.nth(1).click();
  await expect(page.getByText(/cannot change places/)).toBeVisible();
  await names.first().press("Enter");
  await names.nth(5).press("Enter");
  await expect(page.getByText(/changed places\./)).toBeVisible();
  await expect(page.getByRole("button", { name: "Try 2, 1 swap" })).toBeVisible();
  await expect(names.nth(5)).toHaveText(first as string);
  await expect(score(page, 1)).not.toHaveText(before as string);

  await page.getByRole("button", { name: /^Draft \d+ groups$/ }).click();
  await expect(page.getByRole("tab", { name: "Survey teams" })).toHaveAttribute("aria-selected", "true");
  await expect(page.getByText("104 placed", { exact: true })).toBeVisible();
  await expect(page.getByText("New partners, not those of River teams")).toBeVisible();
  await publish(page);
  const plan = await planOf(page, id);
  const layer = Object.values(plan.layers).find(({ name }) => name === "Survey teams");
  const groups = Object.values(plan.groups).filter(({ layerId }) => layerId === layer?.id);
  expect(groups.map(({ name }) => name)).toContain("Day 2 team 1");
  const sectionOf = new Map(
    Object.values(plan.placements)
      .filter(({ until, groupId }) => until === null && groups.some(({ scopeGroupId }) => scopeGroupId === groupId))
      .map(({ personId, groupId }) => [personId, groupId]),
  );
  for (const group of groups) {
    const members = Object.values(plan.placements).filter(({ groupId }) => groupId === group.id);
    expect([3, 4, 5]).toContain(members.length);
    expect(members.map(({ personId }) => personId)).toContain(group.leads[0]);
    for (const { personId } of members) expect(sectionOf.get(personId)).toBe(group.scopeGroupId);
  }
  // The course is left as the other tests expect it.
  const commands = [{ id: crypto.randomUUID(), kind: "layer.remove", layerId: layer?.id }];
  const answer = await send(page.request, "POST", `/api/courses/${id}/draft`, application().url, { commands });
  expect(answer.ok()).toBe(true);
  await page.reload();
  await publish(page);
});

test("wishes that contradict are named, and nothing is formed; dropping one is enough", async ({ page }) => {
  await openForming(page);
  const pair = ["Coombes", "Gallchobhair"];
  for (const name of pair) {
    await page.getByRole("combobox", { name: "Keep together, always" }).fill(name);
    await page
      .getByRole("option", { name: new RegExp(name) })
      .first()
      .click();
  }
  await page.getByRole("button", { name: "Keep together these 2" }).click();
  await page.getByRole("button", { name: "Form the groups" }).click();
  const alert = page.getByRole("alert");
  await expect(alert).toContainText("These cannot all hold in Day 1, so nothing was formed. Drop one of them:");
  await expect(alert.getByRole("listitem")).toHaveText([
    /^Keep Coombes, Tadhg and Gallchobhair, Roisin apart$/,
    /^Keep Coombes, Tadhg and Gallchobhair, Roisin together$/,
  ]);
  await page.getByRole("button", { name: /^Drop: keep apart Coombes/ }).click();
  await expect(alert).toHaveCount(0);
  await page.getByRole("button", { name: "Form the groups" }).click();
  await expect(page.getByRole("region", { name: "Formed groups" })).toBeVisible();
  await page.getByRole("button", { name: "Leave" }).click();
  await expect(page.getByText("Nothing is drafted.", { exact: false })).toBeVisible();
  await settled(page);
});
