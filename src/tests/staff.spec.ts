/** The staff: invited, given groups, withdrawn at once; what they draft within that, propose, publish, and note for one another. */
import type { Page } from "@playwright/test";
import type { Person, Plan } from "../core/plan/types.ts";
import { check } from "./accessible.ts";
import {
  application,
  beginWithoutDraft,
  courseId,
  expect,
  findItem,
  openWorkbench,
  pageOf,
  publish,
  send,
  settled,
  test,
  why,
} from "./helpers.ts";

const code = "WSH 240";
beginWithoutDraft();

interface Account {
  id: string;
  username: string;
}
interface Known {
  course: string;
  extra: string;
  /** A student of the group "Extra time", and one of none of the support people's. */
  member: Account;
  other: Account;
  support: string;
  plan: Plan;
}
async function known(page: Page): Promise<Known> {
  const course = await courseId(page, code);
  const { plan }: { plan: Plan } = await (await page.request.get(`/api/courses/${course}/plan`)).json();
  const extra = Object.values<{ id: string; name: string }>(plan.groups).find(({ name }) => name === "Extra time");
  const members = Object.values(plan.placements)
    .filter(({ groupId, until }) => groupId === extra?.id && until === null)
    .flatMap(({ personId }) => plan.people[personId] ?? [])
    .filter(({ username }) => username && !username.startsWith("su"));
  const ids = new Set(members.map(({ id }) => id));
  const other = Object.values(plan.enrolments)
    .filter(({ role, until, personId }) => role === "student" && until === null && !ids.has(personId))
    .flatMap(({ personId }) => plan.people[personId] ?? [])
    .find(({ username }) => username);
  const support = Object.values(plan.people).find(({ username }) => username === "support.access");
  const accountOf = (person: Person | undefined): Account => ({
    id: person?.id ?? "",
    username: person?.username ?? "",
  });
  const [member, someOther] = [accountOf(members[0]), accountOf(other)];
  return { course, extra: extra?.id ?? "", member, other: someOther, support: support?.id ?? "", plan };
}
/** What support.access is given; they are on the staff again afterwards, with nothing. */
async function give(page: Page, { course, support }: Known, given: object): Promise<void> {
  const body = { change: support, given: { role: "support", sectionIds: [], groupIds: [], may: [], ...given } };
  const answer = await send(page.request, "POST", `/api/courses/${course}/staff`, application().url, body);
  expect(answer.status()).toBe(200);
}
const station = (page: Page, name: string) =>
  page
    .getByRole("navigation", { name: "Stations" })
    .getByRole("link", { name: new RegExp(`^${name}`) })
    .click();
async function newItem(page: Page, title: string): Promise<void> {
  await page.getByRole("button", { name: "New item" }).first().click();
  const dialog = page.getByRole("dialog");
  await dialog.getByRole("radio", { name: "page", exact: true }).click();
  await dialog.getByLabel("Title").fill(title);
  await dialog.getByRole("button", { name: "Draft the page" }).click();
}

test("somebody is given a group at Intake, sees its students and nobody else, and is out at once when withdrawn", async ({
  page,
  browser,
}) => {
  const { course, member, other, plan } = await known(page);
  await openWorkbench(page, code, "intake");
  await page.getByRole("tab", { name: "Staff" }).click();
  await check(page);
  const person = Object.values(plan.people).find(({ username }) => username === "support.access");
  const name = `${person?.familyName}, ${person?.givenName}`;
  await page.getByRole("button", { name: `Change what ${name} is given` }).click();
  const dialog = page.getByRole("dialog");
  await dialog.getByRole("button", { name: "Give this" }).click();
  await expect(dialog.getByRole("alert")).toContainText("Give them at least one section or group");
  await dialog.getByRole("combobox", { name: "Sections and groups" }).fill("Extra time");
  await page.getByRole("option", { name: /Extra time/ }).click();
  await dialog.getByRole("checkbox", { name: "May publish what touches nobody else" }).press("Space");
  await dialog.getByRole("button", { name: "Give this" }).click();
  await expect(page.getByText(`Changed what ${name} is given. It holds at once.`)).toBeVisible();

  const support = await pageOf(browser, "support.access");
  await support.getByRole("link", { name: /WSH 240/ }).click();
  for (const each of ["Students", "Placement", "Reach", "Timing", "Gradebook", "Review"]) {
    await station(support, each);
    await expect(support.getByRole("heading", { name: each, level: 2 })).toBeVisible();
  }
  // What only the coordinator changes is shown, and not offered.
  await station(support, "Timing");
  for (const [view, heading, offer] of [
    ["Allowances", "Allowances", /^(New|Change the|Remove the) allowance/],
    ["Meetings", /^(No sections of yours|D1|D2|DL|EV)$/, /^(Add a meeting|Meeting \d+ of .* falls out or moves)$/],
  ] as const) {
    for (const one of [page, support]) {
      if (one === page) await station(page, "Timing");
      await one
        .getByRole("radio", { name: view })
        .or(one.getByRole("button", { name: view, exact: true }))
        .click();
    }
    await expect(page.getByRole("button", { name: offer }).first()).toBeVisible();
    await expect(support.getByRole("heading", { name: heading }).first()).toBeVisible();
    await expect(support.getByRole("button", { name: offer })).toHaveCount(0);
  }
  await station(page, "Intake");
  await page.getByRole("tab", { name: "Staff" }).click();
  const given = await (await support.request.get(`/api/courses/${course}/plan`)).text();
  expect([given.includes(member.id), given.includes(other.id)]).toEqual([true, false]);
  for (const address of ["journal", "intake", "directory?find=an", "audit", "plan-file"])
    expect((await support.request.get(`/api/courses/${course}/${address}`)).status()).toBe(404);

  await page.getByRole("button", { name: `Withdraw ${name}` }).click();
  await page.getByRole("dialog").getByRole("button", { name: "Withdraw now" }).click();
  await expect(page.getByText(/What they wrote and marked stays\./)).toBeVisible();
  await expect(support.getByRole("heading", { name: "Your courses" })).toBeVisible();
  expect((await support.request.get(`/api/courses/${course}/plan`)).status()).toBe(404);

  await page.getByRole("button", { name: "Invite" }).click();
  await dialog.getByRole("button", { name: "Type somebody who is not in the directory" }).click();
  await dialog.getByLabel("Registrar's id").fill(person?.sourcedId ?? "");
  await dialog.getByLabel("Family name").fill(person?.familyName ?? "");
  await dialog.getByRole("button", { name: /Role$/ }).click();
  await page.getByRole("option", { name: "Support", exact: true }).click();
  await dialog.getByRole("combobox", { name: "Sections and groups" }).fill("Extra time");
  await page.getByRole("option", { name: /Extra time/ }).click();
  await dialog.getByRole("button", { name: "Invite" }).click();
  await expect(page.getByText(/^Invited /)).toBeVisible();
  expect((await support.request.get(`/api/courses/${course}/plan`)).status()).toBe(200);
  const journal = await (await page.request.get(`/api/courses/${course}/journal?kind=staff`)).json();
  expect(journal.lines.map(({ says }: { says: string }) => says.split(" ")[0])).toEqual(
    expect.arrayContaining(["Invited", "Withdrew", "Changed"]),
  );
  await give(page, await known(page), {});
  await support.context().close();
});

test("what a support person drafts is proposed; the coordinator takes part of it, and the rest is theirs again", async ({
  page,
  browser,
}) => {
  const found = await known(page);
  const { course, extra, member, other } = found;
  await give(page, found, { groupIds: [extra] });
  const support = await pageOf(browser, "support.access");
  await openWorkbench(support, code, "reach");
  await findItem(support, "Kit list", "page");
  await expect(why(support)).toContainText("It is the coordinator's, who alone may change it.");
  await expect(why(support).getByRole("button", { name: "Change", exact: true })).toHaveCount(0);
  await newItem(support, "Quiet room hours");
  await newItem(support, "Reading aloud");
  await settled(support);
  await support.getByRole("button", { name: "Review", exact: true }).click();
  await expect(support.getByRole("button", { name: /^Publish/ })).toHaveCount(0);
  await support.getByRole("button", { name: "Propose to the coordinator" }).click();
  await expect(support.getByRole("region", { name: "Proposals" })).toContainText("waits for the coordinator");
  await check(support);

  await openWorkbench(page, code, "review");
  const proposal = page.getByRole("region", { name: "Proposals" });
  await expect(proposal).toContainText("New page Quiet room hours, for Extra time");
  await proposal.getByRole("checkbox", { name: /Reading aloud/ }).press("Space");
  await proposal.getByLabel("A word to them").fill("Please say when.");
  await proposal.getByRole("button", { name: "Take 1, hand back 1" }).click();
  await expect(page.getByText(/1 change of .* in your draft/)).toBeVisible();
  await expect(support.getByRole("region", { name: "Proposals" })).toContainText("“Please say when.”");
  await expect(support.getByRole("region", { name: "Draft", exact: true })).toContainText("1 change drafted");
  await settled(page);
  await page.getByRole("button", { name: /^Publish/ }).click();
  await expect(page.getByText("Published. Everyone sees it now.")).toBeVisible();
  // Its author is told to the end, where it was proposed and among their notices.
  await expect(support.getByRole("region", { name: "Proposals" })).toContainText("Published on Wed 25 Nov, 10:00.");
  await support.reload();
  await support.getByRole("link", { name: "Notices 2" }).click();
  await expect(support.getByRole("article").first()).toContainText("What you proposed is published: 1 change");
  await expect(support.getByRole("article").nth(1)).toContainText("“Please say when.”");
  await support.getByRole("button", { name: "Mark all 2 as read" }).click();
  await support.goBack();
  await support.goto(`/workbench/${course}/review`);
  await expect(support.getByRole("link", { name: "Notices", exact: true })).toBeVisible();
  await findItem(page, "Quiet room hours", "page");
  await expect(why(page)).toContainText(/Owned by .*, who may change it, as the coordinator may\./);

  const { plan } = await (await page.request.get(`/api/courses/${course}/plan`)).json();
  const item = Object.values<{ id: string; title: string }>(plan.items).find(
    ({ title }) => title === "Quiet room hours",
  );
  for (const [username, status] of [
    [member.username, 200],
    [other.username, 404],
  ] as const) {
    const student = await pageOf(browser, username);
    expect([username, (await student.request.get(`/course/${course}/item/${item?.id}`)).status()]).toEqual([
      username,
      status,
    ]);
    await student.context().close();
  }
  await support.getByRole("button", { name: "Undo all" }).click();
  await settled(support);
  const origin = application().url;
  const commands = [{ id: crypto.randomUUID(), kind: "item.remove", itemId: item?.id }];
  await send(page.request, "POST", `/api/courses/${course}/draft`, origin, { commands });
  await page.reload();
  await publish(page);
  await support.context().close();
});

test("what touches only their own they publish where they may; anything else is refused, however it is sent", async ({
  page,
  browser,
}) => {
  const found = await known(page);
  const { course, extra, other, plan } = found;
  const origin = application().url;
  const kit = Object.values<{ id: string; title: string }>(plan.items).find(({ title }) => title === "Kit list");
  const lab = Object.values<{ id: string; title: string }>(plan.items).find(
    ({ title }) => title === "Lab 4: Rating the weir",
  );
  await give(page, found, { groupIds: [extra], may: ["publish"] });
  const support = await pageOf(browser, "support.access");
  const drafts = (commands: object[]) =>
    send(support.request, "POST", `/api/courses/${course}/draft`, origin, {
      commands: commands.map((one) => ({ id: crypto.randomUUID(), ...one })),
    });
  const set = (target: object) => ({ kind: "override.set", itemIds: [lab?.id], target, dates: { attempts: 7 } });
  for (const command of [
    { kind: "item.change", itemId: kit?.id, fields: { title: "Mine" } },
    { kind: "course.classList", classList: { to: "nobody" } },
    { kind: "placement.remove", groupId: extra, personIds: [found.member.id] },
    set({ kind: "person", id: other.id }),
  ]) {
    const answer = await drafts([command]);
    expect([command.kind, answer.status(), (await answer.json()).code]).toEqual([
      command.kind,
      409,
      expect.stringMatching(/^scope\./),
    ]);
  }
  const whole = { courseId: course, messages: [] };
  expect((await send(support.request, "POST", `/api/courses/${course}/draft`, origin, whole)).status()).toBe(409);
  expect((await drafts([set({ kind: "group", id: extra })])).status()).toBe(200);
  await openWorkbench(support, code, "review");
  await settled(support);
  await support.getByRole("button", { name: /^Publish to/ }).click();
  await expect(support.getByText("Published. Everyone sees it now.")).toBeVisible();
  // What was drafted while it was theirs is not published after it was taken from them.
  await drafts([{ ...set({ kind: "group", id: extra }), dates: { attempts: null } }]);
  await give(page, found, { groupIds: [extra] });
  await support.reload();
  const draft = await (await support.request.get(`/api/courses/${course}/draft`)).json();
  const { revision } = await (await support.request.get(`/api/courses/${course}/plan`)).json();
  const tried = await send(support.request, "POST", `/api/courses/${course}/publish`, origin, {
    publicationId: crypto.randomUUID(),
    revision,
    version: draft.version,
  });
  expect([tried.status(), (await tried.json()).code]).toEqual([409, "scope.publish"]);
  await give(page, found, { groupIds: [extra], may: ["publish"] });
  await support.reload();
  await settled(support);
  await support.getByRole("button", { name: /^Publish/ }).click();
  await expect(support.getByText("Published. Everyone sees it now.")).toBeVisible();
  await give(page, found, {});
  await support.context().close();
});

test("staff leave notes on a student, an item and a group that no student and nobody outside the scope gets", async ({
  page,
  browser,
}) => {
  const found = await known(page);
  const { course, extra, member, plan } = found;
  await give(page, found, { groupIds: [extra] });
  const support = await pageOf(browser, "support.access");
  await openWorkbench(support, code, "placement");
  await support.keyboard.press("Control+k");
  await support.keyboard.type(plan.people[member.id]?.familyName ?? "");
  await support.getByRole("option", { name: new RegExp(plan.people[member.id]?.sourcedId ?? "nobody") }).click();
  await why(support).getByRole("button", { name: "Leave a note for staff" }).click();
  await support.getByLabel("Note, for staff only").fill("Prefers to sit near the door.");
  await support.getByRole("button", { name: "Keep the note" }).click();
  await expect(why(support)).toContainText("Prefers to sit near the door.");
  const about = `/api/courses/${course}/staff-notes?kind=person&id=${member.id}`;
  expect(await (await page.request.get(about)).text()).toContain("near the door");
  await page.goto(`/group/${course}/${extra}`);
  await page.getByLabel("A note that only staff read").fill("Room 12 is booked.");
  await page.getByRole("button", { name: "Keep the note" }).click();
  await expect(page.getByText("Room 12 is booked.")).toBeVisible();
  await support.goto(`/group/${course}/${extra}`);
  await expect(support.getByText("Room 12 is booked.")).toBeVisible();
  const student = await pageOf(browser, member.username);
  expect((await student.request.get(about)).status()).toBe(404);
  const home = await (await student.request.get(`/course/${course}`)).text();
  expect(home).not.toContain("near the door");
  // Whoever teaches a section without them knows neither them nor what is noted.
  const sections = Object.values(plan.enrolments)
    .filter(({ personId, until }) => personId === member.id && until === null)
    .map(({ sectionId }) => plan.sections[sectionId ?? ""]?.code);
  const teacher = await pageOf(browser, sections.includes("D1") ? "instructor.d2" : "instructor.d1");
  expect((await teacher.request.get(about)).status()).toBe(404);
  expect((await teacher.request.get(`/group/${course}/${extra}`)).status()).toBe(404);
  for (const each of [support, student, teacher]) await each.context().close();
  await give(page, found, {});
});
