/** A group's page: what members do on it, who else may look, and the coordinator who gives and takes it. */
import type { Browser, Page } from "@playwright/test";
import { check } from "./accessible.ts";
import {
  application,
  beginWithoutDraft,
  courseId,
  expect,
  openWorkbench,
  pageOf,
  publish,
  send,
  test,
  why,
} from "./helpers.ts";

const code = "WSH 240";
beginWithoutDraft();

interface Team {
  course: string;
  groupId: string;
  label: string;
  usernames: string[];
  addressOf(at?: "course" | "group"): string;
}
/** A river team of a section, with whom it holds. */
async function teamOf(page: Page, name: string): Promise<Team> {
  const course = await courseId(page, code);
  const { plan } = await (await page.request.get(`/api/courses/${course}/plan`)).json();
  const group = Object.values<{ id: string; name: string; label: string }>(plan.groups).find(
    (one) => one.name === name,
  );
  const usernames = Object.values<{ groupId: string; personId: string; until: number | null }>(plan.placements)
    .filter(({ groupId, until }) => groupId === group?.id && until === null)
    .map(({ personId }) => plan.people[personId].username as string)
    .filter((username) => !username.startsWith("student."));
  const groupId = group?.id ?? "";
  const addressOf = (at: "course" | "group" = "course") =>
    at === "course" ? `/course/${course}/group/${groupId}` : `/group/${course}/${groupId}`;
  return { course, groupId, label: group?.label ?? "", usernames, addressOf };
}
/** Two members, each at the group's page. */
async function twoOf(browser: Browser, { usernames, addressOf }: Team): Promise<[Page, Page]> {
  const pages = await Promise.all(usernames.slice(0, 2).map((username) => pageOf(browser, username)));
  for (const page of pages) await page.goto(addressOf());
  return pages as [Page, Page];
}
const opened = async (page: Page, name: string) => {
  await page.locator("summary", { hasText: name }).first().click();
};
const written = (page: Page, name: string) => page.getByRole("textbox", { name, exact: true });

test("two members change the note at once: the second loses nothing; what it said before can be read", async ({
  page,
  browser,
}) => {
  const team = await teamOf(page, "Evening team 2");
  const [one, other] = await twoOf(browser, team);
  for (const each of [one, other]) await opened(each, "Change the note");
  await written(one, "Note").fill("Rope is in the van.");
  await one.getByRole("button", { name: "Keep the note" }).click();
  // One stays where one was: at the form that was kept, which is folded again.
  const folded = (page: Page) => page.locator("summary", { hasText: "Change the note" });
  await expect(folded(one)).toBeFocused();
  await expect(one.getByText("Rope is in the van.")).toBeVisible();
  await written(other, "Note").fill("Rope is in the hut.");
  await other.getByRole("button", { name: "Keep the note" }).click();
  await expect(other.getByRole("alert")).toContainText("Somebody changed it while you wrote.");
  await expect(written(other, "Note")).toHaveText("Rope is in the hut.");
  await expect(other.getByText("Rope is in the van.")).toBeVisible();
  await written(other, "Note").fill("Rope is in the van, the key in the hut.");
  await other.getByRole("button", { name: "Keep the note" }).click();
  await expect(folded(other)).toBeFocused();
  await expect(other.getByText(/the key in the hut/)).toBeVisible();
  await opened(other, "What it said before");
  await expect(other.getByText("Rope is in the van.", { exact: true })).toBeVisible();
  await check(other);
  for (const each of [one, other]) await each.context().close();
});

test("a notice, a thread and a file reach the members, and nobody else: not by page, form or file", async ({
  page,
  browser,
}) => {
  const team = await teamOf(page, "Evening team 2");
  const [one, other] = await twoOf(browser, team);
  await opened(one, "Post a notice");
  await one.getByRole("button", { name: "Post the notice" }).click();
  await expect(one.getByRole("alert")).toContainText("It needs a title.");
  await one.getByLabel("Title").last().fill("Boots");
  await written(one, "Notice").last().fill("Bring <b>two</b> pairs.");
  await one.getByRole("button", { name: "Post the notice" }).click();
  await expect(one.getByRole("heading", { name: "Boots" })).toBeVisible();
  await opened(one, "Begin a thread");
  await one.getByLabel("What it is about").fill("Who drives");
  await one.getByRole("button", { name: "Begin it" }).click();
  await opened(one, "Who drives");
  const driving = one.locator("details", { has: one.locator("summary", { hasText: "Who drives" }) });
  await driving.getByRole("textbox", { name: "Write" }).fill("I can take four.");
  await driving.getByRole("button", { name: "Post", exact: true }).click();
  await opened(one, "Share a file");
  await one
    .getByLabel("A file")
    .last()
    .setInputFiles({ name: "run.exe", mimeType: "text/plain", buffer: Buffer.from("x") });
  await one.getByRole("button", { name: "Share it" }).click();
  await expect(one.getByRole("alert")).toContainText('files ending in "exe" are not taken');
  await one
    .getByLabel("A file")
    .last()
    .setInputFiles({ name: "levels.csv", mimeType: "text/csv", buffer: Buffer.from("a,b\n1,2\n") });
  await one.getByRole("button", { name: "Share it" }).click();
  const file = (await one.getByRole("link", { name: "levels.csv" }).getAttribute("href")) ?? "";

  await other.reload();
  await expect(other.getByText("Bring <b>two</b> pairs.")).toBeVisible();
  await opened(other, "Who drives");
  await expect(other.getByText("I can take four.")).toBeVisible();
  expect(await (await other.request.get(file)).text()).toBe("a,b\n1,2\n");
  await other.goto(`/course/${team.course}/notices`);
  await expect(other.getByRole("heading", { name: `${team.label}: Boots` })).toBeVisible();
  // A notice stands in the course alone: nothing is mailed.
  const letters = await (await fetch(`${application().postUrl}/letters.json`)).json();
  expect(letters.filter(({ subject }: { subject: string }) => subject.endsWith(": Boots"))).toEqual([]);

  const stranger = await pageOf(browser, "student.evening");
  const nowhere = "00000000-0000-7000-8000-000000000000";
  const { url: origin } = application();
  for (const [username, address] of [
    ["student.evening", team.addressOf()],
    ["student.evening", file],
    ["support.access", team.addressOf("group")],
    ["instructor.d1", team.addressOf("group")],
  ] as const) {
    const asker = username === "student.evening" ? stranger : await pageOf(browser, username);
    const answers = await Promise.all(
      [address, address.replace(team.groupId, nowhere)].map((path) => asker.request.get(path)),
    );
    expect([address, answers.map((answer) => answer.status())]).toEqual([address, [404, 404]]);
    const [given, never] = await Promise.all(answers.map((answer) => answer.text()));
    expect(given).toBe(never);
    if (asker !== stranger) await asker.context().close();
  }
  const form = { do: "notice", title: "Mine", body: "Not for me to say", message: nowhere };
  const sent = await stranger.request.post(team.addressOf(), { headers: { origin }, multipart: form });
  expect(sent.status()).toBe(404);
  // Members may not do what the coordinator did not allow, whatever is sent.
  const page2 = { do: "page", title: "Mine", body: "A page" };
  expect((await one.request.post(team.addressOf(), { headers: { origin }, multipart: page2 })).status()).toBe(404);
  await page.goto(team.addressOf("group"));
  await expect(page.getByRole("heading", { name: "Boots" })).toBeVisible();
  expect(await (await page.request.get(file.replace(/^.*\//, `/api/courses/${team.course}/attachments/`))).text()).toBe(
    "a,b\n1,2\n",
  );
  await check(page);
  for (const each of [one, other, stranger]) await each.context().close();
});

test("members rename their group for students, and write to one another without an address", async ({
  page,
  browser,
}) => {
  const team = await teamOf(page, "Day 2 team 3");
  const [one, other] = await twoOf(browser, team);
  await opened(one, "Rename it");
  await one.getByLabel("What it is called").fill("Day 2 team 4");
  await one.getByRole("button", { name: "Rename" }).click();
  await expect(one.getByRole("alert")).toContainText("Another group is called Day 2 team 4 already.");
  await one.getByLabel("What it is called").fill("The herons");
  await one.getByRole("button", { name: "Rename" }).click();
  await expect(one.getByRole("heading", { name: "The herons", level: 1 })).toBeVisible();
  await other.goto(`/course/${team.course}`);
  await expect(other.getByRole("link", { name: "The herons" })).toBeVisible();
  const { plan } = await (await page.request.get(`/api/courses/${team.course}/plan`)).json();
  expect(plan.groups[team.groupId]).toMatchObject({ name: "Day 2 team 3", label: "The herons" });
  const journal = await (await page.request.get(`/api/courses/${team.course}/journal?kind=members`)).json();
  expect(journal.lines[0].says).toContain("renamed Day 2 team 3 to The herons");

  await opened(one, "Write to the others");
  await one.getByLabel("Subject").fill("Thursday");
  await written(one, "Message").fill("Half past seven, {name}?");
  await one.getByRole("button", { name: "Send" }).click();
  await expect(one.getByText("Sent. They find it among their notices.")).toBeFocused();
  await other.goto(`/course/${team.course}/notices`);
  await expect(other.getByRole("heading", { name: "The herons: Thursday" })).toBeVisible();
  await expect(other.getByText("Half past seven, {name}?")).toBeVisible();
  const found = async () =>
    (await (await fetch(`${application().postUrl}/letters.json`)).json()).filter(
      ({ subject }: { subject: string }) => subject === "The herons: Thursday",
    );
  await expect.poll(async () => (await found()).length, { timeout: 120_000 }).toBeGreaterThan(0);
  for (const letter of await found()) expect(JSON.stringify(letter)).not.toContain(`${team.usernames[0]}@`);
  await opened(one, "Rename it");
  await one.getByLabel("What it is called").fill(team.label);
  await one.getByRole("button", { name: "Rename" }).click();
  await expect(one.getByRole("heading", { name: team.label, level: 1 })).toBeVisible();
  for (const each of [one, other]) await each.context().close();
});

test("the coordinator gives groups a page and takes it away: what members may do follows", async ({
  page,
  browser,
}) => {
  const course = await openWorkbench(page, code, "placement");
  await page.getByRole("tab", { name: /^Gauge kits/ }).click();
  await page.getByRole("button", { name: "Groups", exact: true }).click();
  await page.getByRole("checkbox", { name: "Select Kit alder" }).press("Space");
  await page.getByRole("checkbox", { name: "Select Kit birch" }).press("Space");
  await page.getByRole("button", { name: "Pages", exact: true }).click();
  const dialog = page.getByRole("dialog", { name: "The pages of 2 groups" });
  await expect(dialog).toContainText(/\d+ students meet there, each in their own group; nobody else does\./);
  await dialog.getByRole("checkbox", { name: "write pages" }).press("Space");
  await dialog.getByRole("button", { name: "Draft the pages" }).click();
  await publish(page);
  const { plan } = await (await page.request.get(`/api/courses/${course}/plan`)).json();
  const kit = Object.values<{ id: string; name: string }>(plan.groups).find(({ name }) => name === "Kit alder");
  const member = Object.values<{ groupId: string; personId: string }>(plan.placements).find(
    ({ groupId }) => groupId === kit?.id,
  );
  const student = await pageOf(browser, plan.people[member?.personId ?? ""].username);
  await student.goto(`/course/${course}`);
  await student.getByRole("link", { name: "Kit alder" }).click();
  await opened(student, "Write a page");
  await student.getByLabel("Title").last().fill("Calibration");
  await written(student, "Page").fill("Zero it in still water.");
  await student.getByRole("button", { name: "Keep the page" }).click();
  await opened(student, "Calibration");
  await expect(student.getByText("Zero it in still water.")).toBeVisible();
  // Through their eyes what they may do is there to be seen, and nothing can be done in their name.
  await page.goto(`/look/${course}/${member?.personId}/group/${kit?.id}`);
  await expect(page.getByRole("heading", { name: "Kit alder", level: 1 })).toBeVisible();
  await opened(page, "Write a page");
  await expect(page.getByRole("button", { name: "Keep the page" }).last()).toBeDisabled();

  await openWorkbench(page, code, "placement");
  await page.keyboard.press("Control+k");
  await page.keyboard.type("Kit alder");
  await page.getByRole("option", { name: "Kit alder group of Gauge kits" }).click();
  await expect(why(page)).toContainText("Its page has who is in it");
  await why(page).getByRole("button", { name: "Change its page" }).click();
  await page.getByRole("button", { name: "No page" }).click();
  await publish(page);
  expect((await student.request.get(`/course/${course}/group/${kit?.id}`)).status()).toBe(404);
  const birch = Object.values<{ id: string; name: string }>(plan.groups).find(({ name }) => name === "Kit birch");
  const origin = application().url;
  const commands = [{ id: crypto.randomUUID(), kind: "group.page", groupIds: [birch?.id], page: null }];
  await send(page.request, "POST", `/api/courses/${course}/draft`, origin, { commands });
  await page.reload();
  await publish(page);
  await student.context().close();
});

test("what members may not do, the page does not offer and the server refuses: each permission taken away alone, and all", async ({
  page,
  browser,
}) => {
  const team = await teamOf(page, "Day 2 team 5");
  const origin = application().url;
  const every = ["post", "note", "file", "rename", "notices", "pages", "threads", "write", "meeting link"];
  const give = async (may: string[]) => {
    const has = ["members", "items", "thread", "files", "note"];
    const commands = [{ id: crypto.randomUUID(), kind: "group.page", groupIds: [team.groupId], page: { has, may } }];
    await send(page.request, "POST", `/api/courses/${team.course}/draft`, origin, { commands });
    await openWorkbench(page, code, "placement");
    await publish(page);
  };
  const [member] = await twoOf(browser, team);
  /** What is on the page, by its forms; and what the server says to each form, sent by hand. */
  const offers: Record<string, () => ReturnType<Page["locator"]>> = {
    post: () => member.getByRole("textbox", { name: /^Write/ }),
    note: () => member.locator("summary", { hasText: /the note$/ }),
    file: () => member.locator("input[type=file]").and(member.locator("[name=file]")).last(),
    rename: () => member.locator("summary", { hasText: "Rename" }),
    notices: () => member.locator("summary", { hasText: "Post a notice" }),
    pages: () => member.locator("summary", { hasText: "Write a page" }),
    threads: () => member.locator("summary", { hasText: "Begin a thread" }),
  };
  const sent: Record<string, Record<string, string>> = {
    post: { post: "<p>Hello</p>", place: team.groupId, thread: team.groupId },
    note: { do: "note", body: "<p>Ours</p>", version: "0" },
    rename: { do: "rename", title: "Otters" },
    notices: { do: "notice", title: "Notice", body: "<p>Read</p>" },
    pages: { do: "page", title: "Page", body: "<p>Text</p>" },
    threads: { do: "begin", title: "Thread" },
    write: { do: "write", title: "Subject", body: "<p>Text</p>" },
    "meeting link": { do: "link", title: "https://meet.example/otters" },
  };
  const post = async (form: Record<string, string>) =>
    (await member.request.post(team.addressOf(), { headers: { origin }, form, maxRedirects: 0 })).status();
  await give([]);
  await member.reload();
  for (const [what, offer] of Object.entries(offers)) {
    if (what === "file") continue;
    expect([what, await offer().count()]).toEqual([what, 0]);
  }
  expect(await member.locator("main form[method=post] button").count()).toBe(0);
  for (const [what, form] of Object.entries(sent)) expect([what, await post(form)]).toEqual([what, 404]);
  for (const without of ["post", "note", "pages"]) {
    await give(every.filter((one) => one !== without));
    await member.reload();
    expect([without, await (offers[without] as () => ReturnType<Page["locator"]>)().count()]).toEqual([without, 0]);
    expect([without, await post(sent[without] as Record<string, string>)]).toEqual([without, 404]);
  }
  await member.context().close();
});
