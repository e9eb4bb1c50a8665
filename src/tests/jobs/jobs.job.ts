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
/** Publishes from where one is; `looked`: after the review, which is offered alone where something warns. */
async function publish(hand: Hand, looked: "at once" | "after review" = "at once"): Promise<void> {
  const { page } = hand;
  await settled(page);
  if (looked === "after review") {
    await hand.press(button(page, "Review"));
    await settled(page);
  }
  await hand.press(page.getByRole("button", { name: /^Publish/ }));
  await expect(page.getByText("Published. Everyone sees it now.")).toBeVisible();
}
const dialogOf = (page: Page) => page.getByRole("dialog");
/** A new item, said in one line of its dialog; Enter drafts it. */
async function newItem(hand: Hand, line: string): Promise<void> {
  await hand.press(button(hand.page, "New item"));
  await hand.type(dialogOf(hand.page).getByLabel("In one line, or in the fields below"), line, "Enter");
  await expect(dialogOf(hand.page)).toHaveCount(0);
}
function done(hand: Hand, job: number, how: "by screen" | "by line" = "by screen"): void {
  const counted = hand.actions.length;
  keepCount({ job, counted, byLine: how === "by line" ? counted : null }, hand);
  const limit = (limits as Record<string, { counted?: number; byLine?: number }>)[job];
  const most = limit?.[how === "by line" ? "byLine" : "counted"];
  expect(counted, hand.actions.join("; ")).toBeLessThanOrEqual(most ?? 0);
}

const ten = Array.from({ length: 10 }, (_, at) => String(240_037 + 37 * at).padStart(8, "0"));

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
  await hand.press(station(page, "Placement"));
  await hand.press(button(page, "Into a group").first());
  const dialog = dialogOf(page);
  await hand.type(dialog.getByRole("combobox", { name: "Who" }), "00240037, 00240074, 00240111", "Enter");
  await hand.type(dialog.getByLabel("Name of the group"), "Study room");
  await hand.type(dialog.getByLabel("Written to them"), "The room is yours from Monday.");
  await hand.press(button(page, "Draft it"));
  await publish(hand);
  const look = why(page).getByRole("link", { name: "Look as a member" });
  const [member] = await Promise.all([page.waitForEvent("popup"), hand.press(look)]);
  // Its page is a folder of staff's: members read it, and learn of no group.
  await member.getByRole("link", { name: "Your page" }).click();
  await expect(member.getByRole("heading", { name: "Your page" })).toBeVisible();
  await expect(member.getByRole("main")).not.toContainText("Study room");
  await member.close();
  done(hand, 3);
});

test("5: a discussion with its due date for three of four sections, a thread each", async ({ page }) => {
  const hand = await begin(page, "WSH 240");
  await hand.press(station(page, "Reach"));
  await newItem(
    hand,
    "discussion Reading circle for Day 1, Day 2, Evening, due fri 5pm, points 10, a thread each of Sections",
  );
  await publish(hand);
  const look = why(page).getByRole("link", { name: "Threads side by side" });
  await hand.press(look);
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

test("9: a quiz: one student and one section otherwise; why, for somebody; both removed", async ({ page }) => {
  const hand = await begin(page, "WSH 240");
  await hand.line("Safety check");
  const card = why(page);
  const otherwise = card.getByLabel("A group, section or student, and what they have");
  await hand.paste(
    otherwise,
    "00240037: due +1d, attempts +1, access word otter\nDay 2: due +1d, attempts +1",
    "Enter",
  );
  await publish(hand);
  await hand.type(card.getByRole("combobox", { name: "Why, for" }), "00240037", "Enter");
  await expect(card.getByText("attempts 4").first()).toBeVisible();
  await hand.press(card.getByRole("button", { name: "The same for all again" }));
  await publish(hand, "at once");
  await expect(card).not.toContainText("otter");
  done(hand, 9);
});

test("12: an event for two sections, and a recording for the ten who were there", async ({ page }) => {
  const hand = await begin(page, "WSH 240");
  await hand.press(station(page, "Reach"));
  await newItem(hand, "event Flood talk for Day 1, Evening, starts fri 6pm");
  await newItem(hand, `link Flood talk, recorded, https://weave.example/flood, for ${ten.join(", ")}`);
  await publish(hand);
  await expect(why(page)).toContainText("Meant for 10 students");
  done(hand, 12);
});
