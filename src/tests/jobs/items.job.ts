/** Jobs about items, dates and publications, done in the real interface and counted. See docs/jobs.md. */
import { expect, settled, test, why } from "../helpers.ts";
import { Hand } from "./hand.ts";
import { begin, button, dialogOf, done, idOf, newItem, publish, shareOfTerm, station, ten } from "./steps.ts";

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

test("7: a folder for two, a page for one, a quiz for two sections; hand-ins a section at a time", async ({ page }) => {
  const hand = await begin(page, "WSH 240");
  await hand.press(station(page, "Reach"));
  await newItem(hand, `folder Make-up for ${idOf(0)}, ${idOf(1)}`);
  await newItem(hand, `page Come and see me for ${idOf(2)}`);
  await newItem(hand, "quiz Contours for Day 1, Day 2, points 10, due fri 5pm");
  await publish(hand);
  // For whom stands in each row.
  await expect(page.getByRole("row", { name: /Contours/ })).toContainText("Day 1 and 1 more, 65 of 104");
  await hand.press(button(page, "Results"));
  await hand.choose(page.getByRole("button", { name: /Filter by group/ }), "Evening");
  // Whoever it is not for has no mark missing.
  await expect(page.getByText(/^0 (in all|to be marked)$/)).toBeVisible();
  done(hand, 7);
});

test("9: a quiz: one student and one section otherwise; why, for somebody; both removed", async ({ page }) => {
  const hand = await begin(page, "WSH 240");
  await hand.line("Safety check");
  const card = why(page);
  const otherwise = card.getByLabel("A group, section or student, and what they have");
  await hand.paste(otherwise, "00240037: due +1d, attempts +1, password otter\nDay 2: due +1d, attempts +1", "Enter");
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

test("16: ten changes, one left out, planned for tomorrow with a message; the course next Friday; who changed what", async ({
  page,
}) => {
  // The ten changes are there already when the job begins.
  const before = await begin(page, "WSH 240");
  await before.lines(Array.from({ length: 10 }, (_, at) => `new page Note ${at + 1} for Evening`));
  await before.press(dialogOf(page).getByRole("button", { name: "Draft 10 changes" }));
  const hand = new Hand(page);
  await hand.press(button(page, "Review"));
  await settled(page);
  await hand.tick(page.getByRole("checkbox", { name: /Note 3/ }));
  await settled(page);
  await hand.pressAt(page.locator("[class*=railTrack]"), await shareOfTerm(page, "2026-11-27T12:00:00Z"));
  await expect(page.getByText(/^Fri 27 Nov, .*, week 9$/)).toBeVisible();
  await hand.press(page.getByRole("button", { name: /^\d+ students/ }).first());
  for (const at of [0, 1]) {
    const [look] = await Promise.all([
      page.waitForEvent("popup"),
      hand.press(why(page).getByRole("listitem").getByRole("link").nth(at)),
    ]);
    await expect(look.getByText("Note 4").first()).toBeVisible();
    await expect(look.getByText("Note 3", { exact: true })).toHaveCount(0);
    await look.close();
  }
  await hand.press(button(page, "At a moment"));
  await hand.type(dialogOf(page).getByLabel(/^Written to the \d+ students/), "Notes are up.");
  await hand.press(button(page, "Plan it"));
  await hand.press(page.getByRole("radio", { name: "Journal" }));
  await expect(page.getByRole("button", { name: /^Planned for Thu 26 Nov, 07:00: .* with a message$/ })).toBeVisible();
  done(hand, 16);
});
