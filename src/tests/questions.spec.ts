/** Questions of a quiz as they are written, taken in, and tried out. Source: semantics.md section 7, attempts. */
import { check } from "./accessible.ts";
import { choose, drafted, expect, findItem, openWorkbench, pageOf, signIn, test } from "./helpers.ts";

const code = "WSH 240";

test("questions are written in the card of a quiz; points go with them, and what is not whole is not drafted", async ({
  page,
}) => {
  await signIn(page, "coordinator");
  await openWorkbench(page, code, "reach");
  await page.getByRole("button", { name: "New item" }).click();
  const card = page.getByRole("dialog");
  await card.getByRole("radio", { name: "quiz", exact: true }).click();
  await card.getByLabel("Title").fill("Written here");
  await choose(page, "Add a question", "one of several");
  await expect(card.getByLabel("Points").first()).toHaveValue("1");
  await card.getByLabel("Choice 2", { exact: true }).fill("");
  await expect(card.getByRole("button", { name: "Draft the quiz" })).toBeDisabled();
  await card.getByLabel("Choice 2", { exact: true }).fill("second");
  await card.getByRole("checkbox", { name: "Choice 2 is right" }).press("Space");
  await choose(page, "Add a question", "a short text");
  await card.getByLabel("Accepted, one a line").fill("weir\nsluice");
  await expect(card.getByText("2 questions, 2 points in an attempt")).toBeVisible();
  // A sheet stands behind what is there; what cannot be read of it is said with its line.
  const sheet = "Question,Points,Right,Choice 1,Choice 2\nWhere?,3,b,here,there\nWhich?,1,c,here,there\n";
  const file = { name: "more.csv", mimeType: "text/csv", buffer: Buffer.from(sheet) };
  await card.getByTestId("questions-file").setInputFiles(file);
  await expect(card.getByText("1 question taken from more.csv; 1 to look at.")).toBeVisible();
  await expect(card.getByText("Line 3: The question calls “c” right, which is none of its choices.")).toBeVisible();
  await expect(card.getByText("3 questions, 5 points in an attempt")).toBeVisible();
  await check(page);
  await card.getByRole("button", { name: "Draft the quiz" }).click();
  await expect(drafted(page)).toContainText("New quiz Written here");
  await findItem(page, "Written here", "quiz");
  const id = new URL(page.url()).pathname.split("/")[2];
  const { origin } = new URL(page.url());
  expect(
    (await page.request.post(`/api/courses/${id}/draft`, { headers: { origin }, data: { step: "undo all" } })).ok(),
  ).toBe(true);
});

test("staff try a quiz out as it is drafted, and nothing of it is kept; to a student the page is not there", async ({
  page,
  browser,
}) => {
  await signIn(page, "coordinator");
  await openWorkbench(page, code, "reach");
  await findItem(page, "Safety check", "quiz");
  const [tried] = await Promise.all([
    page.waitForEvent("popup"),
    page.getByRole("link", { name: "Try it out" }).click(),
  ]);
  await tried.getByLabel("to the knee").check();
  await tried.getByRole("textbox", { name: "Your number" }).fill("1 m/s");
  await check(tried);
  await tried.getByRole("button", { name: "See what it earns" }).click();
  await expect(tried.getByRole("status")).toHaveText("2 of 10 points.");
  await expect(tried.getByText("your answer, right")).toBeVisible();
  await check(tried);
  const [, , course, item] = new URL(tried.url()).pathname.split("/");
  const { attempts } = await (await page.request.get(`/api/courses/${course}/attempts/${item}`)).json();
  const { plan } = await (await page.request.get(`/api/courses/${course}/plan`)).json();
  expect(
    attempts.every(({ holderId }: { holderId: string }) => plan.people[holderId]?.username !== "coordinator"),
  ).toBe(true);
  const student = await pageOf(browser, "student.day");
  expect((await student.request.get(tried.url())).status()).toBe(404);
});
