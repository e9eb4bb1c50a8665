/** What axe finds on the review's views, messages, threads and notices, in light and in dark: nothing. */
import { check } from "./accessible.ts";
import { beginWithoutDraft, expect, findItem, openWorkbench, pageOf, send, test } from "./helpers.ts";

const code = "WSH 240";
beginWithoutDraft();

for (const scheme of ["light", "dark"] as const)
  test.describe(scheme, () => {
    test.use({ colorScheme: scheme });
    test("the review: a draft with its messages, what was written, the journal, the course", async ({ page }) => {
      await openWorkbench(page, code, "reach");
      await findItem(page, "North bank", "folder");
      await page.getByRole("button", { name: "Seal it" }).click();
      await page.getByRole("button", { name: "Review", exact: true }).click();
      await page.getByRole("region", { name: "Effects on people" }).getByRole("button").first().click();
      await check(page, scheme);
      await page.getByRole("button", { name: "At a moment" }).click();
      await expect(page.getByRole("dialog")).toContainText("1 change, 39 students touched");
      await check(page, scheme);
      await page.keyboard.press("Escape");
      await page.getByRole("button", { name: "Write to the 39 touched" }).click();
      await check(page, scheme);
      await page.keyboard.press("Escape");
      for (const view of ["Messages", "Journal", "Course"]) {
        await page.getByRole("radio", { name: view }).click();
        await check(page, scheme);
      }
    });
    test("threads side by side, a thread with its field, and notices", async ({ page, browser }) => {
      const course = await openWorkbench(page, code, "reach");
      const { plan } = await (await page.request.get(`/api/courses/${course}/plan`)).json();
      const talk = Object.values<{ id: string; title: string }>(plan.items).find(
        ({ title }) => title === "Questions for your instructor",
      );
      const student = await pageOf(browser, "student.evening");
      await student.emulateMedia({ colorScheme: scheme });
      await student.goto(`/course/${course}/item/${talk?.id}`);
      await expect(student.getByRole("textbox", { name: /^Write/ })).toBeVisible();
      await check(student, scheme);
      await student.goto(`/course/${course}/notices`);
      await check(student, scheme);
      await student.context().close();
      await page.goto(`/threads/${course}/${talk?.id}`);
      await check(page, scheme);
      await page.goto(`/workbench/${course}/reach`);
      await expect(page.getByRole("navigation", { name: "Stations" })).toBeVisible();
    });
  });

test("an instructor writes to their own students alone, and reads what they wrote and no more", async ({
  page,
  browser,
}) => {
  const course = await openWorkbench(page, code, "gradebook");
  const { plan } = await (await page.request.get(`/api/courses/${course}/plan`)).json();
  const instructor = await pageOf(browser, "instructor.d1");
  const within = (await (await instructor.request.get(`/api/courses/${course}/plan`)).json()).plan;
  const outside = Object.values<{ id: string }>(plan.people).find(({ id }) => !within.people[id]);
  const [own] = Object.values<{ personId: string; role: string }>(within.enrolments).filter(
    ({ role }) => role === "student",
  );
  const origin = new URL(page.url()).origin;
  const write = (subject: string, ids: string[]) =>
    send(instructor.request, "POST", `/api/courses/${course}/messages`, origin, {
      id: crypto.randomUUID(),
      subject,
      body: "Hello",
      to: ids.map((id) => ({ kind: "person", id })),
      unplacedIn: [],
      withStaff: false,
    });
  const both = await write("To mine", [own?.personId ?? "", outside?.id ?? ""]);
  expect(await both.json()).toMatchObject({ recipients: 1 });
  const none = await write("To others", [outside?.id ?? ""]);
  expect(none.status()).toBe(409);
  expect(await none.text()).not.toContain(outside?.id ?? "");
  const theirs = await (await instructor.request.get(`/api/courses/${course}/messages`)).json();
  expect(theirs.map(({ subject }: { subject: string }) => subject)).toEqual(["To mine"]);
  // A date of an item that is not theirs to know of is no more told to them than one that never was.
  const foreign = Object.values<{ id: string; title: string }>(plan.items).find(({ id }) => !within.items[id]);
  if (foreign) {
    const asked = (title: string) =>
      send(instructor.request, "POST", `/api/courses/${course}/messages`, origin, {
        id: crypto.randomUUID(),
        subject: "s",
        body: `{due of ${title}}`,
        to: [{ kind: "person", id: own?.personId }],
        unplacedIn: [],
        withStaff: false,
      });
    const [hidden, never] = [await asked(foreign.title), await asked("x".repeat(foreign.title.length))];
    expect(hidden.status()).toBe(never.status());
    expect((await hidden.text()).replace(foreign.title, "")).toBe((await never.text()).replace(/x{3,}/, ""));
  }
  await instructor.context().close();
});
