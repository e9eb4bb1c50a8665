/** What students write to those who teach them, what they get in writing, and where they are signed in. */
import type { Page } from "@playwright/test";
import { closeDatabase, run } from "../server/store/database.ts";
import { application, expect, letters, openWorkbench, pageOf, publish, studentWith, test, why } from "./helpers.ts";

const code = "WSH 240";
test("a student asks their instructor about an item, stays, and finds it as sent; the instructor is told", async ({
  page,
  browser,
}) => {
  const { course, student, address } = await studentWith(page, browser, {
    code,
    title: "Choosing a site",
    username: "student.day",
  });
  await student.goto(address);
  await student.getByRole("link", { name: "Ask your instructors about this" }).click();
  await expect(student.getByLabel("Subject")).toHaveValue("Choosing a site: ");
  await student.getByLabel("Subject").press("End");
  await student.keyboard.type("by train?");
  // Written, left, and still there.
  await student.getByLabel("Text").fill("Is the bridge near the station?");
  await student.reload();
  await expect(student.getByLabel("Text")).toHaveValue("Is the bridge near the station?");
  await student.getByRole("button", { name: "Send" }).dblclick();
  await expect(student.getByText(/^It is sent/)).toBeFocused();
  await expect(student.getByLabel("Text")).toHaveValue("");
  await student.getByRole("main").getByRole("link", { name: "Notices" }).click();
  const subject = "Choosing a site: by train?";
  await expect(student.getByText(subject)).toHaveCount(1);
  await expect(student.getByText(/to 1 person/).first()).toBeVisible();
  const instructor = await pageOf(browser, "instructor.d1");
  await instructor.goto(`/course/${course}/notices`);
  await expect(instructor.getByRole("heading", { name: subject })).toHaveCount(1);
  await expect(instructor.getByText("Is the bridge near the station?")).toBeVisible();
  await expect.poll(async () => (await letters(subject)).length).toBe(1);
  const [letter] = await letters(subject);
  expect(letter?.text).toContain(`${application().url}/course/${course}/notices`);
  // Where the course does not allow it, there is nothing.
  await openWorkbench(page, code, "reach");
  await page.getByText("Students may write to their instructors").click();
  await publish(page);
  await student.goto(`/course/${course}`);
  await expect(student.getByRole("link", { name: "Write", exact: true })).toHaveCount(0);
  expect((await student.goto(`/course/${course}/write`))?.status()).toBe(404);
  await openWorkbench(page, code, "reach");
  await page.getByText("Students may write to their instructors").click();
  await publish(page);
  for (const one of [student, instructor]) await one.context().close();
});

test("whoever wants it has a receipt of each hand-in, in the course and by mail; and no mail, if they like", async ({
  page,
  browser,
}) => {
  const { course, student, address } = await studentWith(page, browser, {
    code,
    title: "Lab 4: Rating the weir",
    username: "student.evening",
  });
  const keep = async (name: RegExp) => {
    await student.goto("/self");
    await student.getByRole("checkbox", { name }).click();
    await student.getByRole("form", { name: "Letters" }).getByRole("button", { name: "Keep" }).click();
    await expect(student.getByText("Kept. It holds from now on.")).toBeVisible();
  };
  await keep(/^A receipt in writing/);
  await student.goto(address);
  await student.getByLabel("Your text").fill("The sketch, from the left bank");
  await student.getByRole("button", { name: "Hand in" }).click();
  await expect(student.locator("#sent")).toBeVisible();
  await student.goto(`/course/${course}/notices`);
  const receipt = student.getByRole("article").filter({ hasText: "Handed in: Lab 4: Rating the weir" });
  await expect(receipt).toContainText("The sketch, from the left bank");
  await expect(receipt.getByRole("link", { name: "Lab 4: Rating the weir" })).toBeVisible();
  await expect.poll(async () => (await letters("Handed in: Lab 4: Rating the weir")).length).toBe(1);
  await keep(/^What I am written comes by mail/);
  await expect(student.getByRole("checkbox", { name: /^What I am written/ })).not.toBeChecked();
  // As it was: other tests write to them.
  await keep(/^What I am written comes by mail/);
  await keep(/^A receipt in writing/);
  await expect(student.getByRole("checkbox", { name: /^What I am written/ })).toBeChecked();
  await student.context().close();
});

test("what somebody says of themselves stands behind their name for whoever reads it, as they wrote it, until they take it away", async ({
  page,
  browser,
}) => {
  const { course, student } = await studentWith(page, browser, {
    code,
    title: "Lab 4: Rating the weir",
    username: "student.evening",
  });
  const { plan } = await (await page.request.get(`/api/courses/${course}/plan`)).json();
  const self = Object.values<{ id: string; username: string; familyName: string; givenName: string }>(plan.people).find(
    ({ username }) => username === "student.evening",
  );
  const say = async (pronouns: string) => {
    await student.goto("/self");
    const form = student.getByRole("form", { name: "How you are spoken of" });
    await form.getByLabel("Pronouns, if you like to say").fill(pronouns);
    await form.getByRole("button", { name: "Keep" }).press("Enter");
    await expect(student.getByRole("status").filter({ hasText: "Kept." })).toBeFocused();
  };
  const name = `${self?.givenName} ${self?.familyName}`;
  await say("  they / <b>them</b> ");
  await student.goto(`/course/${course}/people`);
  await expect(student.getByText(`${name} (they / <b>them</b>)`)).toBeVisible();
  await openWorkbench(page, code, `intake?view=people&person=${self?.id}`);
  await page.getByRole("textbox", { name: "Find people" }).fill(self?.familyName ?? "");
  await page
    .getByRole("region", { name: "People of the course" })
    .getByRole("button", { name: `${self?.familyName}, ${self?.givenName}` })
    .click();
  await expect(why(page).getByRole("heading", { name: "(they / <b>them</b>)" })).toBeVisible();
  // Whoever was given nobody, or others, reads of nobody else.
  const support = await pageOf(browser, "support.access");
  expect(await (await support.request.get(`/api/courses/${course}/pronouns`)).json()).toEqual({ people: [] });
  await support.context().close();
  await say("");
  await student.goto(`/course/${course}/people`);
  await expect(student.getByRole("main").getByText(name)).toBeVisible();
  await expect(student.getByText(`${name} (`)).toHaveCount(0);
  await student.context().close();
});

test("one sees where one is signed in, signs out there, and nobody ends a session of somebody else", async ({
  browser,
}) => {
  const here = await pageOf(browser, "support.access");
  const [there, elsewhere] = [await pageOf(browser, "support.access"), await pageOf(browser, "support.access")];
  const asksToSignIn = (one: Page) => expect(one.getByRole("heading", { name: "Amber Weave" })).toBeVisible();
  await here.goto("/self");
  const others = here.getByRole("button", { name: /^Sign out of/ });
  const before = await others.count();
  expect(before).toBeGreaterThanOrEqual(2);
  const stranger = await pageOf(browser, "student.evening");
  const session = await here.locator('input[name="session"]').first().getAttribute("value");
  const headers = { origin: application().url };
  const answer = await stranger.request.post("/self", { headers, form: { session: session ?? "" }, maxRedirects: 0 });
  expect(answer.status()).toBe(404);
  // How long ago is said of one that was not used for a while.
  process.env.AMBER_DATABASE_URL = application().databaseUrl;
  await run("UPDATE sessions SET used_at = used_at - 7200000 WHERE id = ?", [session ?? ""]);
  await closeDatabase();
  await here.reload();
  await expect(here.getByText(/last used 2 hours ago/).first()).toBeVisible();
  await others.first().click();
  await expect(here.getByText("Signed out there.")).toBeVisible();
  await expect(others).toHaveCount(before - 1);
  await here.getByRole("button", { name: "Sign out everywhere else" }).click();
  await expect(others).toHaveCount(0);
  for (const one of [there, elsewhere]) {
    await one.goto("/");
    await asksToSignIn(one);
  }
  await here.goto("/");
  await expect(here.getByRole("heading", { name: "Your courses" })).toBeVisible();
  for (const one of [here, there, elsewhere, stranger]) await one.context().close();
});
