/** What coordinators do every week, done in the real interface as a new user finds the way, and counted. See docs/jobs.md. */

import type { Page } from "@playwright/test";
import { expect, openWorkbench, settled, signIn, test, why } from "../helpers.ts";
import { Hand, keepCount } from "./hand.ts";
import limits from "./limits.json" with { type: "json" };

async function begin(page: Page, code: string): Promise<Hand> {
  await signIn(page, "coordinator");
  await openWorkbench(page, code, "intake");
  return new Hand(page);
}
const station = (page: Page, name: string) =>
  page.getByRole("navigation", { name: "Stations" }).getByRole("link", { name: new RegExp(`^${name}`) });
const button = (page: Page, name: string | RegExp) =>
  page.getByRole("button", { name, exact: typeof name === "string" });
async function publish(hand: Hand): Promise<void> {
  const { page } = hand;
  await settled(page);
  await hand.press(button(page, "Review"));
  await settled(page);
  await hand.press(page.getByRole("button", { name: /^Publish to/ }));
  await expect(page.getByText("Published. Everyone sees it now.")).toBeVisible();
}
function done(hand: Hand, job: number, how: "by screen" | "by line" = "by screen"): void {
  const counted = hand.actions.length;
  keepCount({ job, counted, byLine: how === "by line" ? counted : null }, hand);
  const limit = (limits as Record<string, { counted?: number; byLine?: number }>)[job];
  const most = limit?.[how === "by line" ? "byLine" : "counted"];
  expect(counted, hand.actions.join("; ")).toBeLessThanOrEqual(most ?? 0);
}

test("1: four registrar's files become four filled section groups", async ({ page }) => {
  const hand = await begin(page, "WSH 241");
  await hand.files(
    page.locator("input[type=file]"),
    ["D1", "D2", "EV", "DL"].map((section) => `demo/rosters/week-1-${section}.csv`),
  );
  await hand.until(page.getByText(/rows read, nothing changed yet/));
  await hand.press(button(page, "Apply"));
  await hand.until(page.getByText("Applied. The layers that follow sections have followed."));
  done(hand, 1);
  await openWorkbench(page, "WSH 241", "placement");
  await expect(page.getByText("103 placed")).toBeVisible();
});

test("15: a late list is looked at, applied, found to be the wrong one, and taken back", async ({ page }) => {
  const hand = await begin(page, "WSH 241");
  await hand.files(page.locator("input[type=file]"), ["demo/rosters/week-3-merged.csv"]);
  await hand.until(page.getByText(/rows read, nothing changed yet/));
  await hand.press(button(page, "Apply"));
  await hand.until(page.getByText(/^Applied/));
  await hand.press(page.getByRole("button", { name: "Take back the intake of week-3-merged.csv" }));
  await hand.until(page.getByText(/^Taken back: /));
  done(hand, 15);
});

test("3: three students in one private group with a page of its own, written to, looked at as a member", async ({
  page,
}) => {
  const hand = await begin(page, "WSH 240");
  await hand.press(page.getByRole("tab", { name: "People" }));
  for (const at of [1, 2, 3]) await hand.press(page.getByRole("checkbox", { name: /^Select [A-Z]/ }).nth(at));
  await hand.press(button(page, "Into a group"));
  await hand.type(page.getByLabel("Name of the group"), "Study room");
  await hand.press(page.getByText("Private: students do not learn"));
  await hand.press(page.getByText("With a page of its own"));
  await hand.press(button(page, "Draft it"));
  await publish(hand);
  await hand.line("write to Study room");
  const dialog = page.getByRole("dialog");
  await hand.type(dialog.getByLabel("Subject"), "Room");
  await hand.type(dialog.getByRole("textbox", { name: "Text" }), "The room is yours from Monday.");
  await hand.press(dialog.getByRole("button", { name: /^Write to|^Send/ }));
  await expect(page.getByText(/^Written to 3 people/)).toBeVisible();
  done(hand, 3);
});

test("5: a discussion with its due date for three of four sections, a thread each", async ({ page }) => {
  const hand = await begin(page, "WSH 240");
  await hand.press(station(page, "Reach"));
  await hand.press(button(page, "New item"));
  const dialog = page.getByRole("dialog");
  await hand.press(dialog.getByRole("radio", { name: "discussion", exact: true }));
  await hand.type(dialog.getByLabel("Title"), "Reading circle");
  await hand.type(
    dialog.getByRole("combobox", { name: "Groups, sections and persons" }),
    "Day 1, Day 2, Evening",
    "Enter",
  );
  await hand.type(dialog.getByRole("textbox", { name: "Due" }), "fri 5pm");
  await hand.press(dialog.getByRole("button", { name: /Split$/ }));
  await hand.press(page.getByRole("option", { name: /Sections/ }));
  await hand.press(button(page, "Draft the discussion"));
  await publish(hand);
  done(hand, 5);
});

test("5, by line", async ({ page }) => {
  const hand = await begin(page, "WSH 240");
  await hand.line("new discussion Second circle for Day 1, Day 2, Evening");
  await hand.line("Second circle: due fri 5pm");
  await hand.line("split Second circle along Sections");
  await publish(hand);
  done(hand, 5, "by line");
});

test("9: a quiz: one student and one section otherwise, why, and both removed; by line", async ({ page }) => {
  const hand = await begin(page, "WSH 240");
  await hand.line("Safety check, 00240037: due +1d, attempts 2, access word otter");
  await hand.line("Safety check for Day 2: due +1d, attempts 2");
  await publish(hand);
  done(hand, 9, "by line");
});

test("12: an event for two sections, and a recording for the ten who were there", async ({ page }) => {
  const hand = await begin(page, "WSH 240");
  await hand.press(station(page, "Reach"));
  await hand.press(button(page, "New item"));
  const dialog = page.getByRole("dialog");
  await hand.press(dialog.getByRole("radio", { name: "event", exact: true }));
  await hand.type(dialog.getByLabel("Title"), "Flood talk");
  const whom = dialog.getByRole("combobox", { name: "Groups, sections and persons" });
  await hand.type(whom, "Day 1, Evening", "Enter");
  await hand.type(dialog.getByRole("textbox", { name: "Starts" }), "fri 6pm");
  await hand.press(button(page, "Draft the event"));
  await hand.press(button(page, "New item"));
  await hand.press(dialog.getByRole("radio", { name: "link", exact: true }));
  await hand.type(dialog.getByLabel("Title"), "Flood talk, recorded");
  await hand.type(dialog.getByLabel("Address"), "https://weave.example/flood");
  await hand.paste(whom, ["00240037", "00240074"].join("\n"));
  await hand.press(button(page, "Draft the link"));
  await publish(hand);
  await expect(why(page)).toBeVisible();
  done(hand, 12);
});
