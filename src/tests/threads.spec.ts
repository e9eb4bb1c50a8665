/** Hand-ins, threads and the clock on a student's pages; staff read and answer all threads side by side. */
import { randomUUID } from "node:crypto";
import { application, expect, pageOf, studentWith, test } from "./helpers.ts";

const code = "WSH 240";

test("a text, a link and a file are handed in; what is wrong says so and keeps the text; the marker finds all of it", async ({
  page,
  browser,
}) => {
  const { course, item, student } = await studentWith(page, browser, {
    code,
    title: "Lab 4: Rating the weir",
    username: "student.evening",
  });
  await student.goto(`/course/${course}/item/${item}`);
  await student.getByRole("button", { name: "Hand in" }).click();
  await expect(student.getByRole("alert")).toContainText("There is nothing to hand in.");
  await student.getByLabel("Your text").fill("Read at the weir.");
  await student
    .getByLabel("A file")
    .setInputFiles({ name: "run.exe", mimeType: "text/plain", buffer: Buffer.from("x") });
  await student.getByRole("button", { name: "Hand in" }).click();
  await expect(student.getByRole("alert")).toContainText('files ending in "exe" are not taken');
  await expect(student.getByLabel("Your text")).toHaveValue("Read at the weir.");
  await student.getByLabel("A link").fill("https://levels.example/weir");
  await student
    .getByLabel("A file")
    .setInputFiles({ name: "levels.csv", mimeType: "text/csv", buffer: Buffer.from("a,b\n1,2\n") });
  await student.getByRole("button", { name: "Hand in" }).click();
  await expect(student.getByText(/^Handed in /)).toBeVisible();
  const address = (await student.getByRole("link", { name: "levels.csv" }).getAttribute("href")) ?? "";
  expect(await (await student.request.get(address)).text()).toBe("a,b\n1,2\n");
  // Whoever does not see the hand-in gets what does not exist.
  const other = await pageOf(browser, "student.day");
  expect((await other.request.get(address)).status()).toBe(404);
  const file = address.split("/").at(-1);
  const staff = `/api/courses/${course}/attachments/${file}`;
  expect((await page.request.get(staff)).status()).toBe(200);
  const instructor = await pageOf(browser, "instructor.d1");
  expect((await instructor.request.get(staff)).status()).toBe(404);
  const { plan } = await (await page.request.get(`/api/courses/${course}/plan`)).json();
  const me = Object.values<{ id: string; username: string }>(plan.people).find(
    ({ username }) => username === "student.evening",
  );
  const work = await (await page.request.get(`/api/courses/${course}/work?item=${item}&person=${me?.id}`)).json();
  expect(work.handIns[0]).toMatchObject({
    body: "Read at the weir.",
    link: "https://levels.example/weir",
    file: { name: "levels.csv" },
  });
  for (const one of [student, other, instructor]) await one.context().close();
});

test("posts are rich, answered, edited with what they said kept, and read by their own group and by staff", async ({
  page,
  browser,
}) => {
  const { course, item, student } = await studentWith(page, browser, {
    code,
    title: "The café by the weir",
    username: "student.evening",
  });
  // Words of this run alone: whatever another test or an earlier try wrote in the thread stays there.
  const run = randomUUID().slice(0, 8);
  const asks = `Who brings rope ${run}?`;
  const edits = `Who brings the long rope ${run}?`;
  const answers = `It is in van ${run}.`;
  await student.goto(`/course/${course}/item/${item}`);
  await student.getByRole("textbox", { name: /^Write/ }).fill(asks);
  await student.getByRole("textbox", { name: /^Write/ }).press("Control+a");
  await student.getByRole("button", { name: "Bold" }).click();
  await student.getByRole("button", { name: "Post", exact: true }).click();
  await expect(student.locator("strong", { hasText: asks })).toBeVisible();
  const own = student.locator("[id^='post-']", { hasText: asks });
  await own.getByRole("link", { name: "Edit your post" }).click();
  await student.getByRole("textbox", { name: "Edit your post" }).fill(edits);
  await student.getByRole("button", { name: "Keep the change" }).click();
  const edited = student.locator("[id^='post-']", { hasText: edits });
  await expect(edited.getByText(/, edited /)).toBeVisible();
  await page.goto(`/threads/${course}/${item}`);
  const asked = page.locator("[id^='post-']", { hasText: edits });
  await expect(asked).toBeVisible();
  await page.getByRole("region").filter({ has: asked }).getByText("What was edited").click();
  await expect(page.getByText(asks)).toBeVisible();
  await asked.getByRole("link", { name: /^Answer/ }).click();
  await page.getByRole("textbox", { name: /^Answer/ }).fill(answers);
  await page.getByRole("button", { name: "Post", exact: true }).click();
  // Somebody else looks only once it is there for whoever wrote it: before that it may still be on its way.
  await expect(page.locator("[data-answer]", { hasText: answers })).toBeVisible();
  await student.goto(`/course/${course}/item/${item}`);
  await expect(student.locator("[data-answer]", { hasText: answers })).toBeVisible();
  // What runs in a browser is taken out, whoever sends it.
  const origin = application().url;
  const form = { thread: "", post: `<p onclick="x()">Plain ${run} <script>alert(1)</script></p>` };
  await student.request.post(`/course/${course}/item/${item}`, { headers: { origin }, multipart: form });
  await student.goto(`/course/${course}/item/${item}`);
  await expect(student.getByText(`Plain ${run}`)).toBeVisible();
  expect(await student.locator("main [onclick], main script:not([src])").filter({ hasText: "alert" }).count()).toBe(0);
  const nobody = await student.request.get(`/threads/${course}/${item}`);
  expect(nobody.status()).toBe(404);
  await student.context().close();
});
