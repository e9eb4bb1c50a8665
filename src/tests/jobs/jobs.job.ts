/** What coordinators do every week, done in the real interface as a new user finds the way, and counted. See docs/jobs.md. */

import type { Page } from "@playwright/test";
import { expect, filterText, openWorkbench, pageOf, settled, signIn, test, why } from "../helpers.ts";
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

/** The registrar's number of the nth student of the demo. */
const idOf = (at: number) => String(240_037 + 37 * at).padStart(8, "0");
const ten = Array.from({ length: 10 }, (_, at) => idOf(at));

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
  await hand.press(button(page, "Group some people"));
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

test("2: five lab groups: placed, a folder each, threads each, looked at, opened to read, a filter each", async ({
  page,
}) => {
  const hand = await begin(page, "WSH 240");
  await hand.press(station(page, "Placement"));
  await hand.press(button(page, "New layer"));
  const dialog = dialogOf(page);
  await hand.type(dialog.getByLabel("Name"), "Labs");
  await hand.type(dialog.getByLabel("Groups, a line each"), "Lab 1\nLab 2\nLab 3\nLab 4\nLab 5");
  await hand.press(button(page, "Draft the layer"));
  await hand.press(page.getByRole("button", { name: "Place the 104 unplaced" }));
  await expect(page.getByText("104 placed")).toBeVisible();
  await hand.lines([
    "new folder folder",
    "new page Instructions in folder",
    "new assignment Notes in folder, points 10, due fri 5pm",
    "folder: one for each group of Labs",
    "new discussion Plenum",
    "new discussion Lab talk, a thread each of Labs",
  ]);
  await hand.press(dialog.getByRole("button", { name: /^Draft \d+ changes/ }));
  await publish(hand, "after review");
  await hand.line("look as 00240037");
  await hand.line("split Lab talk along Labs, readable");
  await publish(hand);
  await hand.press(station(page, "Gradebook"));
  await hand.choose(page.getByRole("button", { name: /A filter for each group/ }), "Labs");
  await expect(page.getByRole("button", { name: /Lab 5/ }).first()).toBeVisible();
  done(hand, 2);
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

test("6: three topics in two sections: a table of groups and leads, one hand-in each, a shared mark, one of one's own", async ({
  page,
  browser,
}) => {
  const hand = await begin(page, "WSH 240");
  const rows = ["D1", "D2"].flatMap((section, at) =>
    ["Weirs", "Floods", "Wells"].flatMap((topic, nth) =>
      [0, 1].map((one) => `${topic} ${section}\t${idOf(40 * at + 2 * nth + one)}\t${one === 0 ? "lead" : ""}`),
    ),
  );
  await hand.press(station(page, "Placement"));
  await hand.press(button(page, "New layer"));
  const dialog = dialogOf(page);
  await hand.type(dialog.getByLabel("Name"), "Topics");
  await hand.type(dialog.getByLabel("Groups, a line each"), rows.join("\n"));
  await expect(dialog.getByText("6 groups, 12 people, 6 leads")).toBeVisible();
  await hand.press(button(page, "Draft the layer"));
  await hand.line(
    "new assignment Topic paper for Weirs D1, Floods D1, Wells D1, Weirs D2, Floods D2, Wells D2, points 20, a hand-in each of Topics",
  );
  await publish(hand);
  const student = await pageOf(browser, "student.day");
  const course = new URL(page.url()).pathname.split("/")[2];
  const { plan } = await (await page.request.get(`/api/courses/${course}/plan`)).json();
  const paper = Object.values<{ id: string; title: string }>(plan.items).find(({ title }) => title === "Topic paper");
  // Their lead hands in for them: that is no action of the coordinator's.
  const handedIn = await student.request.post(`/course/${course}/item/${paper?.id}`, {
    headers: { origin: new URL(page.url()).origin },
    form: { text: "What wells tell." },
    maxRedirects: 0,
  });
  expect(handedIn.status()).toBe(303);
  await student.context().close();
  await hand.line("Topic paper");
  await hand.press(button(page, "Results"));
  await expect(page.getByRole("region", { name: "Handed in, by group" })).toContainText("2 of 2");
  const mark = page.getByLabel("Mark, of 20");
  const queue = page.getByRole("region", { name: "Queue" }).getByRole("button");
  const member = await queue.first().locator("span").first().textContent();
  await hand.press(queue.first());
  await hand.type(mark, "16", "Enter");
  await expect(queue.filter({ hasText: "16" })).toHaveCount(2);
  await hand.press(queue.filter({ hasText: member ?? "" }).first());
  await hand.press(page.getByRole("radio", { name: /alone$/ }));
  await hand.type(mark, "18", "Enter");
  await expect(queue.filter({ hasText: "18" })).toHaveCount(1);
  done(hand, 6);
});

test("4: groups of about four inside each section, two swapped, on the wall before anybody is told", async ({
  page,
}) => {
  const hand = await begin(page, "WSH 241");
  await hand.press(station(page, "Placement"));
  await hand.press(button(page, "Form groups"));
  await hand.press(button(page, "Form the groups"));
  const draft = page.getByRole("button", { name: /^Draft \d+ groups/ });
  await hand.until(draft);
  const formed = page.getByRole("region", { name: "Formed groups" }).getByRole("button");
  await hand.press(formed.nth(0));
  await hand.press(formed.nth(6));
  await expect(page.getByText(/changed places\.$/)).toBeVisible();
  await expect(page.getByText(/team 1$/).first()).toBeVisible();
  await hand.press(draft);
  const [sheet] = await Promise.all([
    page.waitForEvent("popup"),
    hand.press(page.getByRole("link", { name: "Wall sheet, as drafted" })),
  ]);
  await expect(sheet.getByText(/team 1/).first()).toBeVisible();
  await sheet.close();
  await publish(hand);
  done(hand, 4);
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

test("8: two support people, each with an own private group that shares a student; looked at from inside and outside", async ({
  page,
}) => {
  const hand = await begin(page, "WSH 240");
  await hand.press(station(page, "Placement"));
  const dialog = dialogOf(page);
  for (const [name, staff, ids] of [
    ["Room A", "support", [3, 4]],
    ["Room B", "achter", [4, 5]],
  ] as const) {
    await hand.press(button(page, "Group some people"));
    await hand.type(dialog.getByRole("combobox", { name: "Who" }), ids.map(idOf).join(", "), "Enter");
    await hand.type(dialog.getByLabel("Name of the group"), name);
    await hand.type(dialog.getByRole("combobox", { name: "Given to" }), staff, "Enter");
    await hand.press(button(page, "Draft it"));
  }
  await publish(hand);
  const [inside] = await Promise.all([
    page.waitForEvent("popup"),
    hand.press(why(page).getByRole("link", { name: "Look as a member" })),
  ]);
  await expect(inside.getByRole("link", { name: "Your page" }).first()).toBeVisible();
  await inside.close();
  const [outside] = await Promise.all([page.waitForEvent("popup"), hand.line(`look as ${idOf(9)}`)]);
  await expect(outside.getByRole("heading", { level: 1 })).toBeVisible();
  await expect(outside.getByRole("link", { name: "Your page" })).toHaveCount(0);
  await outside.close();
  done(hand, 8);
});

test("13: students of two sections in one group, a test for it, and its results as they were at each hand-in", async ({
  page,
}) => {
  const hand = await begin(page, "WSH 240");
  await hand.line(`new group Mixed of ${[0, 1, 40, 41].map(idOf).join(", ")}`);
  await hand.line("new quiz Mixed test for Mixed, points 10");
  await publish(hand);
  await hand.press(station(page, "Gradebook"));
  await hand.choose(page.getByRole("button", { name: /Filter by group/ }), "Mixed");
  await expect(page.getByText("4 of 104 students")).toBeVisible();
  await hand.press(page.getByRole("radio", { name: "as at each hand-in" }));
  await expect(filterText(page)).toHaveValue(/asof:handin/);
  done(hand, 13);
});

test("14: one section that holds two classes: divided, named, with meetings; due at their nth meeting; written to; marks", async ({
  page,
}) => {
  const hand = await begin(page, "WSH 240");
  await hand.press(page.getByRole("tab", { name: "Sections" }));
  await hand.press(button(page, "Divide section D1"));
  const dialog = dialogOf(page);
  await hand.type(
    dialog.getByRole("textbox", { name: /^The classes/ }),
    `Morning (Mon Wed 09:00-10:15): ${[0, 1, 2, 3, 4].map(idOf).join(", ")}\nAfternoon (Tue Thu 14:00-15:15)`,
  );
  await expect(dialog.getByRole("list", { name: "Classes" })).toContainText("29 students");
  await hand.press(button(page, "Draft 2 classes"));
  await hand.line("Lab 4: Rating the weir for Morning, Afternoon: due m20 start");
  await publish(hand);
  await hand.line("write to Morning: We meet at the hut.");
  await hand.press(dialog.getByRole("button", { name: "Send to 5" }));
  await hand.press(station(page, "Gradebook"));
  await hand.choose(page.getByRole("button", { name: /Filter by group/ }), "Morning");
  await expect(page.getByText("5 of 104 students")).toBeVisible();
  done(hand, 14);
});

test("16: ten changes, one left out, planned for tomorrow with a message; the course next Friday; who changed what", async ({
  page,
}) => {
  const hand = await begin(page, "WSH 240");
  await hand.lines(Array.from({ length: 10 }, (_, at) => `new page Note ${at + 1} for Evening`));
  await hand.press(dialogOf(page).getByRole("button", { name: "Draft 10 changes" }));
  await hand.press(button(page, "Review"));
  await settled(page);
  await hand.tick(page.getByRole("checkbox", { name: /Note 3/ }));
  await settled(page);
  await hand.press(button(page, "At a moment"));
  await hand.type(dialogOf(page).getByLabel(/^Written to the \d+ students/), "Notes are up.");
  await hand.press(button(page, "Plan it"));
  for (const at of [0, 1]) {
    const [look] = await Promise.all([page.waitForEvent("popup"), hand.line(`look as ${idOf(at)} on friday`)]);
    await look.close();
  }
  await hand.press(page.getByRole("radio", { name: "Journal" }));
  await expect(page.getByRole("button", { name: /^Planned for Thu 26 Nov, 07:00: .* with a message$/ })).toBeVisible();
  done(hand, 16);
});

test("11: students place themselves by codes of their timetable; a wrong code, a visitor, a correction", async ({
  page,
  browser,
}) => {
  const hand = await begin(page, "WSH 240");
  await hand.press(station(page, "Placement"));
  await hand.press(button(page, "Let students place themselves"));
  const dialog = dialogOf(page);
  await hand.type(
    dialog.getByLabel(/^Codes that there are already/),
    "Day 1\tKITE-1\nDay 2\tKITE-2\nEvening\tOWL-3\nDistance\tTERN-4",
  );
  await hand.type(
    dialog.getByRole("textbox", { name: "What students are told" }),
    "The code stands on your timetable.",
  );
  await hand.type(dialog.getByLabel(/^Code for visitors/), "OPEN DAY");
  await hand.press(button(page, "Draft it"));
  await publish(hand);
  const student = await pageOf(browser, "student.day");
  await student.goto(new URL(page.url()).origin);
  const own = new Hand(student);
  await own.press(student.getByRole("link", { name: "Type a code" }));
  await own.type(student.getByLabel("Your code"), "owl 4", "Enter");
  await expect(student.getByRole("alert")).toContainText("No group has this code.");
  await own.type(student.getByLabel("Your code"), "owl3", "Enter");
  await expect(student.getByText("Evening Sections")).toBeVisible();
  expect(own.actions.length, own.actions.join("; ")).toBeLessThanOrEqual(3);
  await student.context().close();
  // They were wrong: the coordinator puts them back, and sees where everybody is.
  await hand.line(`${idOf(4)} into Day 1`);
  await publish(hand, "after review");
  await expect(page.getByText("104 placed", { exact: true })).toBeVisible();
  done(hand, 11);
});

test("10: two groups checked against printed lists; a private group; separation locked; marks of one group", async ({
  page,
}) => {
  const hand = await begin(page, "WSH 240");
  for (const section of ["D1", "D2"]) {
    await hand.files(page.locator("input[type=file]").first(), [`demo/rosters/week-1-${section}.csv`]);
    await hand.choose(
      page.getByRole("button", { name: /What to do with this list/ }),
      `Only compare with section ${section}`,
    );
    await expect(page.getByText("Compared; nothing is changed")).toBeVisible();
    await hand.press(button(page, "Put away"));
  }
  await hand.press(station(page, "Placement"));
  await hand.press(button(page, "Group some people"));
  const dialog = dialogOf(page);
  await hand.type(dialog.getByRole("combobox", { name: "Who" }), [20, 21].map(idOf).join(", "), "Enter");
  await hand.type(dialog.getByLabel("Name of the group"), "Quiet corner");
  await hand.press(button(page, "Draft it"));
  await hand.press(station(page, "Reach"));
  await hand.choose(why(page).getByRole("button", { name: /Split items have a thread for/ }), "each group of Sections");
  await hand.tick(page.getByRole("checkbox", { name: /^Locked/ }));
  await publish(hand, "after review");
  await hand.press(station(page, "Gradebook"));
  await hand.choose(page.getByRole("button", { name: /Filter by group/ }), "Quiet corner");
  await expect(page.getByText("2 of 104 students")).toBeVisible();
  done(hand, 10);
});
