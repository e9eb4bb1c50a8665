/** The worst mistakes at the desk, and what keeps them from being made. In the demo course. */
import {
  choose,
  courseId,
  expect,
  filterText,
  openWorkbench,
  publish,
  send,
  settled,
  signIn,
  test,
} from "./helpers.ts";

const code = "WSH 240";

test("the demo holds its honest mistakes, and the spine counts them", async ({ page }) => {
  await signIn(page, "coordinator");
  await openWorkbench(page, code, "reach");
  const spine = page.getByRole("navigation", { name: "Stations" });
  for (const words of [
    "1 double-enrolled",
    "2 unplaced, 1 in two groups or kept apart and together",
    "13 findings",
    "11 findings about dates",
  ]) {
    await expect(spine.getByText(words)).toHaveCount(1);
  }
  await choose(page, "Show", "only problems");
  await page.getByRole("button", { name: /North bank notes, Evening: leak: 22 of 22/ }).click();
  await expect(page.getByText("It is a leak: its folder North bank is for Day 1, Day 2.")).toBeVisible();
});

test("sealing the folder ends the leak: the tray counts it before anyone is touched, undo puts it back", async ({
  page,
}) => {
  await signIn(page, "coordinator");
  await openWorkbench(page, code, "reach");
  await page.getByLabel("Find any student, group, item or action").fill("North bank");
  await page.getByRole("option", { name: "North bank folder" }).click();
  await page.getByRole("button", { name: "Seal it" }).click();
  await expect(page.getByTestId("touched")).toHaveText("touches 39 students");
  await expect(page.getByText("39 students lose something")).toBeVisible();
  await expect(
    page.getByRole("navigation", { name: "Stations" }).getByText("12 findings", { exact: true }),
  ).toHaveCount(1);
  await page.keyboard.press("Alt+6");
  await expect(page.getByText("can no longer open North bank notes")).toBeVisible();
  await expect(page.getByRole("row", { name: /Evening.*North bank notes/ })).toBeVisible();
  await page.keyboard.press("Control+z");
  await expect(page.getByText("Nothing is drafted", { exact: true })).toBeVisible();
  await settled(page);
});

test("a date moved earlier is a warning, for whom it moves", async ({ page }) => {
  await signIn(page, "coordinator");
  await openWorkbench(page, code, "timing");
  await page.getByRole("textbox", { name: "Find an item" }).fill("Final report");
  await page.getByRole("button", { name: "Final report", exact: true }).click();
  await page.getByRole("button", { name: /^due for Day 1/ }).click();
  await page.keyboard.type("11 dec 17:00");
  await page.keyboard.press("Enter");
  await expect(page.getByText("due earlier, or less allowed, for 34 students")).toBeVisible();
  await page.getByRole("button", { name: "Undo" }).click();
  await settled(page);
});

test("published in another window, it is so in this one at once, and nothing is left to publish twice", async ({
  page,
  browser,
}) => {
  await signIn(page, "coordinator");
  const id = await openWorkbench(page, code, "placement");
  await page.getByRole("tab", { name: /River teams/ }).click();
  await page.getByRole("button", { name: "New group" }).click();
  await page.getByLabel("Names, a line each").fill("Late team");
  await page.getByRole("button", { name: "Draft the group" }).click();
  await expect(page.getByText("1 change drafted")).toBeVisible();
  await settled(page);
  // The same coordinator in another window publishes what is drafted.
  const other = await (await browser.newContext({ storageState: await page.context().storageState() })).newPage();
  await other.goto(`/workbench/${id}/review`);
  await settled(other);
  await other.getByRole("button", { name: /^Publish/ }).click();
  await expect(other.getByText("Published.")).toBeVisible();
  await expect(page.getByText(/ changed the course: /)).toBeVisible();
  await expect(page.getByText("Nothing is drafted. Changes you make wait here")).toBeVisible();
  await expect(page.getByText(/no longer appl/)).toBeHidden();
  await expect(page.getByRole("main").getByText("Late team").first()).toBeVisible();
  await other.context().close();
});

test("late arrivals are placed by hand; a group that is full says so", async ({ page }) => {
  await signIn(page, "coordinator");
  await openWorkbench(page, code, "placement");
  await page.getByRole("tab", { name: /River teams/ }).click();
  await page
    .getByRole("main")
    .getByRole("button", { name: /unplaced/ })
    .first()
    .click();
  await page.getByText("Select people to move them").click();
  await expect(page.getByText("2 selected")).toBeVisible();
  await choose(page, "Move to", /Late team/);
  await expect(page.getByText("0 unplaced", { exact: true })).toBeVisible();
  await publish(page);
  // The course is left as the other tests expect it: this team is of two sections, which others keep apart.
  const id = new URL(page.url()).pathname.split("/")[2];
  const { plan } = await (await page.request.get(`/api/courses/${id}/plan`)).json();
  const team = Object.values<{ id: string; name: string }>(plan.groups).find(({ name }) => name === "Late team");
  const commands = [{ id: crypto.randomUUID(), kind: "group.remove", groupId: team?.id }];
  const answer = await send(page.request, "POST", `/api/courses/${id}/draft`, new URL(page.url()).origin, { commands });
  expect(answer.ok()).toBe(true);
  await page.reload();
  await publish(page);
});

test("someone else's newer mark is never overwritten unseen", async ({ page }) => {
  await signIn(page, "coordinator");
  const id = await openWorkbench(page, code, "gradebook");
  const cell = page.getByRole("button", { name: /, Lab 1: Float gauging: / }).first();
  const name = (await cell.getAttribute("aria-label")) ?? "";
  const { plan } = await (await page.request.get(`/api/courses/${id}/plan`)).json();
  const [family, given] = (name.split(", Lab 1")[0] ?? "").split(", ");
  const person = Object.values<{ id: string; familyName: string; givenName: string }>(plan.people).find(
    (one) => one.familyName === family && one.givenName === given,
  );
  const item = Object.values<{ id: string; title: string }>(plan.items).find(
    ({ title }) => title === "Lab 1: Float gauging",
  );
  const { marks } = await (await page.request.get(`/api/courses/${id}/progress`)).json();
  const mark = marks.find(
    (one: { itemId: string; personId: string }) => one.itemId === item?.id && one.personId === person?.id,
  );
  const seen = mark ? { points: mark.points, excused: mark.excused } : null;
  const origin = new URL(page.url()).origin;
  const stored = await send(page.request, "POST", `/api/courses/${id}/marks`, origin, {
    marks: [{ itemId: item?.id, personId: person?.id, points: 3, excused: false, seen }],
  });
  expect(stored.status()).toBe(200);
  await cell.click();
  await page.keyboard.type("19");
  await page.keyboard.press("Enter");
  await expect(page.getByText(/Theirs: 3\. Yours: 19\./)).toBeVisible();
  await expect(page.getByRole("button", { name: `${family}, ${given}, Lab 1: Float gauging: 3 of 20` })).toBeVisible();
});

test("what is not a mark is told, and what was there stays", async ({ page }) => {
  await signIn(page, "coordinator");
  await openWorkbench(page, code, "gradebook");
  const cell = page.getByRole("button", { name: /, Safety check: [\d.]+ of 10/ }).first();
  const before = await cell.getAttribute("aria-label");
  await cell.click();
  await page.keyboard.type("1.2.3");
  await page.keyboard.press("Enter");
  await expect(
    page.getByText('"1.2.3" is not a mark. Write points such as 14.5, 85 %, x to excuse, or none to take a mark away.'),
  ).toBeVisible();
  await page.keyboard.press("Escape");
  await expect(page.getByRole("button", { name: before ?? "" })).toBeVisible();
});

test("a filter's mistake is told with its position, and the last good filter stays", async ({ page }) => {
  await signIn(page, "coordinator");
  await openWorkbench(page, code, "gradebook");
  await filterText(page).fill("section:EV");
  await expect(page.getByText("23 of 104 students")).toBeVisible();
  await filterText(page).fill("section:EV (late or");
  await expect(page.getByText(/At character 20: a term such as group:D1 or a name was expected/)).toBeVisible();
  await expect(page.getByText("23 of 104 students")).toBeVisible();
  await filterText(page).fill("group:Nowhere");
  await expect(page.getByText('no group is called "Nowhere"')).toBeVisible();
});

test("files that are no rosters are told apart, and nothing changes", async ({ page }) => {
  await signIn(page, "coordinator");
  await openWorkbench(page, code, "intake");
  await page.locator("input[type=file]").setInputFiles([
    {
      name: "picture.csv",
      mimeType: "text/csv",
      buffer: Buffer.from([0x89, 0x50, 0x4e, 0x47, 0, 0, 0, 13]),
    },
    { name: "empty.csv", mimeType: "text/csv", buffer: Buffer.from("") },
  ]);
  await expect(
    page.getByText("picture.csv is not a text file. Export the roster as CSV or XLSX and drop that."),
  ).toBeVisible();
  await expect(page.getByText("empty.csv is empty. Export the roster again and drop it here.")).toBeVisible();
});

test("a column matched by hand is remembered for the next file with the same header", async ({ page }) => {
  await signIn(page, "coordinator");
  await openWorkbench(page, code, "intake");
  const roster = {
    name: "odd.csv",
    mimeType: "text/csv",
    buffer: Buffer.from("Who,Where,Called\n00240037,D1,Jay\n00240074,D1,Geth\n"),
  };
  await page.locator("input[type=file]").setInputFiles(roster);
  await page.getByText("Part of a roster: nobody is missing").click();
  await page.getByText("Columns recognised").click();
  await choose(page, "Called", "Given name");
  await expect(page.getByText(/givenName: \w+ to Jay/)).toBeVisible();
  await page.getByRole("button", { name: "Apply" }).click();
  await expect(page.getByText("Applied.")).toBeVisible();
  await page.locator("input[type=file]").setInputFiles(roster);
  // Without the memory, "Called" would be kept as an attribute, and both rows would be changed again.
  await expect(page.getByRole("radio", { name: "same 2" })).toBeVisible();
  // Other tests of this application know these two by their names.
  await page.getByRole("button", { name: "Put away" }).click();
  await page.getByRole("button", { name: "Take back the intake of odd.csv" }).click();
  await expect(page.getByText("Taken back: the course is as it was before odd.csv.")).toBeVisible();
});

test("choosing the home of a double-enrolled student is drafted", async ({ page }) => {
  await signIn(page, "coordinator");
  await openWorkbench(page, code, "intake");
  await page.getByRole("button", { name: "Home is EV" }).click();
  await expect(page.getByText(/Home section of .*: EV/)).toBeVisible();
  await expect(page.getByTestId("touched")).toHaveText("touches 1 student");
  await page.getByRole("button", { name: "Undo" }).click();
  await settled(page);
});

test("a request sent twice publishes once, and a command that cannot be is refused with the reason", async ({
  page,
}) => {
  await signIn(page, "coordinator");
  const id = await courseId(page, code);
  const origin = new URL(page.url()).origin;
  const post = async (path: string, data: object) => {
    const response = await send(page.request, "POST", `/api/courses/${id}/${path}`, origin, data);
    return { status: response.status(), body: await response.json() };
  };
  const uuid = (digit: string) => `0190a000-0000-7000-8000-00000000000${digit}`;
  const indexes = { discussions: true, files: true, calendar: false, work: true };
  const command = { id: uuid("1"), kind: "course.indexes", indexes };
  const draft = await post("draft", { commands: [command] });
  expect((await post("draft", { commands: [command] })).body.commands).toHaveLength(draft.body.commands.length);
  const refused = await post("draft", {
    commands: [{ id: uuid("2"), kind: "group.remove", groupId: "gone" }],
  });
  expect(refused).toMatchObject({
    status: 409,
    body: { code: "group.gone", detail: "The group is no longer there." },
  });
  const { revision } = await (await page.request.get(`/api/courses/${id}/plan`)).json();
  const { version } = await (await page.request.get(`/api/courses/${id}/draft`)).json();
  const publication = { publicationId: uuid("3"), revision, version };
  expect(await post("publish", publication)).toMatchObject({
    status: 200,
    body: { published: true, revision: revision + 1 },
  });
  expect(await post("publish", publication)).toMatchObject({
    status: 200,
    body: { published: true, revision: revision + 1 },
  });
  expect(await post("publish", { ...publication, publicationId: uuid("4") })).toMatchObject({
    status: 409,
  });
  expect((await post("draft", { commands: [{ id: uuid("5"), kind: "nothing" }] })).status).toBe(400);
  // The course is left as it was found: other files read the calendar.
  const before = await post("draft", {
    commands: [{ ...command, id: uuid("6"), indexes: { ...indexes, calendar: true } }],
  });
  const again = { publicationId: uuid("7"), revision: revision + 1, version: before.body.version };
  expect(await post("publish", again)).toMatchObject({ status: 200, body: { published: true } });
});
