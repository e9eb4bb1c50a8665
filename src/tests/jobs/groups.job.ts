/** Jobs about groups and who is in them, done in the real interface and counted. See docs/jobs.md. */
import { expect, filterText, pageOf, test, why } from "../helpers.ts";
import { Hand } from "./hand.ts";
import { begin, button, dialogOf, done, idOf, publish, station } from "./steps.ts";

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
  await hand.press(page.getByRole("button", { name: "Board" }));
  const of = (group: string) => page.getByRole("listbox", { name: new RegExp(`^${group},`) });
  const wrongly = of("Evening").getByRole("option", { name: /Castellano, Mahmoud/ });
  await hand.drag(wrongly, of("Day 1"));
  await expect(of("Day 1").getByRole("option", { name: /Castellano, Mahmoud/ })).toBeVisible();
  await publish(hand);
  await expect(page.getByText("104 placed", { exact: true })).toBeVisible();
  done(hand, 11);
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
