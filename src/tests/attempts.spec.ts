/** Quizzes as students take them and staff run them, on the real pages. Source: semantics.md section 7, attempts. */
import type { Browser, Page } from "@playwright/test";
import { v7 } from "uuid";
import { newQuestion, withQuestion } from "../core/attempts/editing.ts";
import { blankQuiz, type Question, type Quiz } from "../core/plan/questions.ts";
import { blankItem, type DateFields, type Item, type Plan } from "../core/plan/types.ts";
import { closeDatabase, run } from "../server/store/database.ts";
import { check } from "./accessible.ts";
import { application, choose, courseId, expect, pageOf, publish, send, signIn, test } from "./helpers.ts";

const code = "WSH 240";
const choices = ["beside the weir", "under the weir"].map((text) => ({ id: v7(), text }));
const where: Question = {
  id: v7(),
  kind: "one",
  text: "<p>Where is the gauge?</p>",
  points: 4,
  choices,
  right: choices[0]?.id as string,
};
const howMuch: Question = {
  ...(newQuestion("number", v7) as Extract<Question, { kind: "number" }>),
  text: "<p>How much is that?</p>",
  points: 2,
  right: 12.5,
  unit: "m/s",
  withoutUnit: 50,
};
const why: Question = { ...newQuestion("long", v7), text: "<p>Why there?</p>", points: 4 };
const quizOf = (...questions: Question[]): Quiz =>
  questions.reduce((quiz: Quiz | null, question) => withQuestion(quiz, question, v7), null) ?? blankQuiz;

/** What a test published goes again: what the audit finds in the course is what other files count. */
const made: { course: string; item: string }[] = [];
test.afterEach(async ({ browser }) => {
  const page = made.length > 0 ? await pageOf(browser, "coordinator") : null;
  for (const { course, item } of made.splice(0)) {
    const { origin } = new URL((page as Page).url());
    const ask = (method: string, path: string, data?: unknown) =>
      send((page as Page).request, method, `/api/courses/${course}/${path}`, origin, data);
    const removal = { id: v7(), kind: "items.remove", itemIds: [item] };
    const { version } = await (await ask("POST", "draft", { commands: [removal] })).json();
    const { revision } = await (await ask("GET", "plan")).json();
    const published = await ask("POST", "publish", { publicationId: v7(), revision, version });
    expect(published.ok(), await published.text()).toBe(true);
  }
});

/** Publishes a quiz for everyone, as the coordinator who is signed in on the page. */
async function newQuiz(
  page: Page,
  title: string,
  dates: DateFields,
  fields: Partial<Item> = {},
): Promise<{ course: string; item: string }> {
  await signIn(page, "coordinator");
  const course = await courseId(page, code);
  const { origin } = new URL(page.url());
  const id = v7();
  const item = {
    ...blankItem,
    id,
    parentId: null,
    position: 999,
    kind: "quiz",
    title,
    points: 10,
    dates,
    quiz: quizOf(where, howMuch, why),
    ...fields,
  };
  const answer = await send(page.request, "POST", `/api/courses/${course}/draft`, origin, {
    commands: [{ id: v7(), kind: "item.add", item }],
  });
  expect(answer.ok(), await answer.text()).toBe(true);
  await page.goto(`/workbench/${course}/reach`);
  await publish(page);
  made.push({ course, item: id });
  return { course, item: id };
}
const planOf = async (page: Page, course: string): Promise<Plan> =>
  (await (await page.request.get(`/api/courses/${course}/plan`)).json()).plan;
/** Signs in as somebody of the course who has no password yet. */
async function pageOfPerson(browser: Browser, plan: Plan, personId: string): Promise<Page> {
  const person = plan.people[personId];
  process.env.AMBER_DATABASE_URL = application().databaseUrl;
  await run(
    `UPDATE accounts a JOIN accounts b ON b.username = 'student.day' SET a.password_hash = b.password_hash
     WHERE a.sourced_id = ?`,
    [person?.sourcedId ?? ""],
  );
  await closeDatabase();
  return pageOf(browser, person?.username ?? "");
}
const saved = (page: Page) => expect(page.getByText("Everything is saved.")).toBeVisible();
const answerLong = (page: Page, words: string) => page.getByRole("textbox", { name: "Your text" }).fill(words);

test("a quiz is taken and marked: the word, answers that wait for the network, a look over, marks of a person", async ({
  page,
  browser,
}) => {
  const { course, item } = await newQuiz(page, "Gauge quiz", { minutes: 20, attempts: 2, accessWord: "sluice" });
  const student = await pageOf(browser, "student.day");
  await student.goto(`/course/${course}/item/${item}`);
  for (const fact of ["3 questions", "20 minutes, counted from Begin", "2 attempts left"])
    await expect(student.getByText(fact)).toBeVisible();
  await check(student);
  // Staff look at what it would ask, and nothing begins by it.
  const personId = Object.values((await planOf(page, course)).people).find((one) => one.username === "student.day")?.id;
  const look = `/look/${course}/${personId}/item/${item}`;
  await page.goto(look);
  await page.getByRole("link", { name: "What it would ask" }).click();
  await expect(page.getByLabel("beside the weir")).toBeDisabled();
  await expect(page.getByText(/Nothing begins by looking\./)).toBeVisible();
  await check(page);
  await student.reload();
  await student.getByLabel("Password for it").fill("weir");
  await student.getByRole("button", { name: "Begin" }).click();
  await expect(student.getByRole("alert")).toHaveText("That is not its password. Capitals count. Nothing has begun.");
  await student.getByLabel("Password for it").fill("sluice");
  await student.getByRole("button", { name: "Begin" }).click();
  await expect(student.getByText("20 minutes left")).toBeVisible();
  // Nothing of what is right is on its way to the browser.
  expect(await (await student.request.get(student.url())).text()).not.toMatch(/12\.5|"right"/);
  await check(student);
  await student.getByRole("button", { name: "Hide the clock" }).click();
  await expect(student.getByText("20 minutes left")).toBeHidden();
  await student.getByLabel("beside the weir").check();
  await saved(student);
  // Without a network what is written waits, also over a reload, and is sent when there is one again.
  await student.context().setOffline(true);
  await student.getByRole("textbox", { name: "Your number" }).fill("12,5");
  await expect(student.getByText(/^No connection\./)).toBeVisible();
  // Whoever signs out is told first what would be thrown away.
  await student.getByRole("button", { name: "Sign out" }).click();
  await expect(student.getByText(/Not sent yet: .*answers of an attempt\. Sign out again/)).toBeVisible();
  await page.goto(look);
  await page.getByRole("link", { name: "What it asks" }).click();
  await expect(page.getByLabel("beside the weir")).toBeChecked();
  await expect(page.getByLabel("beside the weir")).toBeDisabled();
  await answerLong(student, "Because the water is slow there.");
  await student.context().setOffline(false);
  await saved(student);
  await student.reload();
  await expect(student.getByLabel("beside the weir")).toBeChecked();
  await expect(student.getByRole("textbox", { name: "Your number" })).toHaveValue("12,5");
  await expect(student.getByRole("textbox", { name: "Your text" })).toHaveValue("Because the water is slow there.");
  await expect(student.getByText("Every question is answered.")).toBeVisible();
  await student.getByRole("textbox", { name: "Your number" }).fill("");
  await student.getByText("1 question is unanswered").getByRole("link", { name: "2" }).click();
  await student.getByRole("textbox", { name: "Your number" }).fill("12.5 m/s");
  await student.getByRole("button", { name: "Hand in" }).click();
  await expect(student.getByText("Received.")).toBeVisible();
  await expect(student.getByText("6 of 10 so far, the rest is to be marked")).toBeVisible();

  await page.goto(`/workbench/${course}/gradebook`);
  await page.getByRole("radio", { name: "Attempts", exact: true }).click();
  await choose(page, "Quiz", "Gauge quiz");
  await expect(page.getByText("1 to be marked")).toBeVisible();
  await page.getByRole("radio", { name: "Questions", exact: true }).click();
  await page.getByRole("button", { name: /Why there\?/ }).click();
  await page.getByLabel(/^Points for/).fill("3");
  await page.getByRole("button", { name: "Store" }).click();
  await expect(page.getByText("3 of 4, by hand")).toBeVisible();
  await check(page);
  await student.reload();
  await expect(student.getByRole("strong").getByText("9 of 10")).toBeVisible();
  await student.getByRole("link", { name: "Attempt 1" }).click();
  await expect(student.getByText("Because the water is slow there.")).toBeVisible();
  await check(student);
  await page.goto(look);
  await page.getByRole("link", { name: "Attempt 1" }).click();
  await expect(page.getByText("Because the water is slow there.")).toBeVisible();
  for (const path of ["", `/${v7()}`]) expect((await student.request.get(`${look}/attempt${path}`)).status()).toBe(404);
  // To anybody else it is not there, to be read or to be saved in.
  const other = await pageOf(browser, "student.evening");
  const attemptId = student.url().split("/").at(-1) as string;
  expect((await other.request.get(student.url())).status()).toBe(404);
  const { origin } = new URL(student.url());
  const save = `${origin}/course/${course}/item/${item}/attempt/save`;
  expect((await send(other.request, "POST", save, origin, { attemptId, answers: [] })).status()).toBe(404);
  // A file is sent itself: whoever names one, of anybody's, has nothing of it taken.
  const named = { id: v7(), name: "theirs.pdf", size: 1 };
  const forged = { attemptId, answers: [{ questionId: why.id, answer: named, sequence: 1 }] };
  expect((await send(student.request, "POST", save, origin, forged)).status()).toBe(400);
  expect((await other.request.get(`/course/${course}/item/${item}/attempt`, { maxRedirects: 0 })).status()).toBe(303);
  const never = `/course/${course}/item/${v7()}/attempt`;
  expect((await other.request.get(never)).status()).toBe(404);
});

test("another device goes on where one was; an answer that was given elsewhere stands, and one's own can be put in", async ({
  page,
  browser,
}) => {
  const { course, item } = await newQuiz(page, "Two devices", {});
  const address = `/course/${course}/item/${item}`;
  const desktop = await pageOf(browser, "student.day");
  await desktop.goto(address);
  await desktop.getByRole("button", { name: "Begin" }).click();
  await answerLong(desktop, "From the desktop.");
  await saved(desktop);
  const phone = await pageOf(browser, "student.day");
  await phone.goto(address);
  await phone.getByRole("link", { name: "Go on" }).click();
  await expect(phone.getByRole("textbox", { name: "Your text" })).toHaveValue("From the desktop.");
  await answerLong(phone, "From the phone.");
  await saved(phone);
  await answerLong(desktop, "From the desktop again.");
  await expect(desktop.getByText("This was answered elsewhere meanwhile, and that answer stands.")).toBeVisible();
  await expect(desktop.getByRole("textbox", { name: "Your text" })).toHaveValue("From the phone.");
  await desktop.getByRole("button", { name: "Put in what I wrote here" }).click();
  await saved(desktop);
  await phone.reload();
  await expect(phone.getByRole("textbox", { name: "Your text" })).toHaveValue("From the desktop again.");
});

test("what is answered before the page's script has come is saved all the same", async ({ page, browser }) => {
  const { course, item } = await newQuiz(page, "Slow scripts", {});
  const student = await pageOf(browser, "student.day");
  await student.goto(`/course/${course}/item/${item}`);
  // The page stands, and none of its scripts has run yet.
  await student.addInitScript(() => {
    document.addEventListener("readystatechange", () => {
      const text = document.querySelector<HTMLTextAreaElement>("[data-question] textarea");
      if (document.readyState !== "interactive" || !text) return;
      document.querySelector<HTMLInputElement>("[data-question] input[type=radio]")?.click();
      text.focus();
      document.execCommand("insertText", false, "Before any script.");
    });
  });
  await student.getByRole("button", { name: "Begin" }).click();
  await saved(student);
  const elsewhere = await pageOf(browser, "student.day");
  await elsewhere.goto(`/course/${course}/item/${item}/attempt`);
  await expect(elsewhere.getByRole("radio").first()).toBeChecked();
  await expect(elsewhere.getByRole("textbox", { name: "Your text" })).toHaveValue("Before any script.");
});

test("somebody with extra time has it, also given on the spot; one who is voided begins another", async ({
  page,
  browser,
}) => {
  const { course, item } = await newQuiz(page, "Half as long again", { minutes: 20, attempts: 1 });
  const plan = await planOf(page, course);
  const extra = Object.values(plan.groups).find(({ name }) => name === "Extra time");
  const placed = Object.values(plan.placements).find(({ groupId, until }) => groupId === extra?.id && until === null);
  const student = await pageOfPerson(browser, plan, placed?.personId as string);
  await student.goto(`/course/${course}/item/${item}`);
  await expect(student.getByText("30 minutes, counted from Begin")).toBeVisible();
  await student.getByRole("button", { name: "Begin" }).click();
  await expect(student.getByText("30 minutes left")).toBeVisible();
  await page.goto(`/workbench/${course}/gradebook`);
  await page.getByRole("radio", { name: "Attempts", exact: true }).click();
  await choose(page, "Quiz", "Half as long again");
  await expect(page.getByText("30 min left")).toBeVisible();
  await page.getByRole("button", { name: "More time", exact: true }).last().click();
  await page.getByRole("dialog").getByLabel("Minutes").fill("15");
  await page.getByRole("button", { name: "Give the time" }).click();
  await expect(page.getByText("45 min left, 15 min given")).toBeVisible();
  await expect(student.getByText("45 minutes left")).toBeVisible({ timeout: 20_000 });
  await page.getByRole("checkbox", { name: /^Attempt 1 of/ }).check();
  await page.getByRole("button", { name: "Make void" }).click();
  await page.getByLabel(/^Why; whoever/).fill("The fire alarm");
  await page.getByRole("button", { name: "Make them void" }).click();
  await expect(page.getByText(/^void .*: The fire alarm$/)).toBeVisible();
  // What it was is over, and says so; another is theirs.
  await expect(student.getByRole("button", { name: "Begin" })).toBeVisible({ timeout: 20_000 });
});

test("a group works on one attempt, whoever of it begins, and it is handed in once for all", async ({
  page,
  browser,
}) => {
  await signIn(page, "coordinator");
  const plan = await planOf(page, await courseId(page, code));
  const layer = Object.values(plan.layers).find(({ name }) => name === "River teams");
  const membersOf = (id: string) =>
    Object.values(plan.placements).flatMap((row) => (row.groupId === id && row.until === null ? [row.personId] : []));
  const team = Object.values(plan.groups).find(({ id, layerId }) => layerId === layer?.id && membersOf(id).length > 2);
  const [a, b] = membersOf(team?.id as string) as [string, string];
  const split = { layerId: layer?.id as string, between: "sealed" as const };
  const { course, item } = await newQuiz(page, "Team quiz", { attempts: 1 }, { split });
  const [one, other] = [await pageOfPerson(browser, plan, a), await pageOfPerson(browser, plan, b)];
  for (const member of [one, other]) await member.goto(`/course/${course}/item/${item}`);
  await one.getByRole("button", { name: "Begin" }).click();
  await one.getByLabel("beside the weir").check();
  await saved(one);
  await other.getByRole("button", { name: "Begin" }).click();
  await expect(other.getByLabel("beside the weir")).toBeChecked();
  await answerLong(other, "We all say so.");
  await saved(other);
  await other.getByRole("button", { name: "Hand in" }).click();
  await expect(other.getByText("Received.")).toBeVisible();
  await one.goto(`/course/${course}/item/${item}`);
  await expect(one.getByText("Your group has used 1 of 1 attempt.")).toBeVisible();
  await one.getByRole("link", { name: "Attempt 1" }).click();
  await expect(one.getByText("We all say so.")).toBeVisible();
});
