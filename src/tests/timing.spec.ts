/** Timing: every override with what it changes, and allowances. In the demo course; what is drafted goes again. */
import { beginWithoutDraft, drafted, expect, openBench, test, why } from "./helpers.ts";

const code = "WSH 240";
beginWithoutDraft();

test("overrides are found by item, group and student; what holds without them is shown before they go", async ({
  page,
}) => {
  await openBench(page, code, "timing");
  await page.getByRole("radio", { name: "Overrides" }).click();
  const table = page.getByRole("region", { name: "Overrides" });
  const find = page.getByLabel("Item, group, section or student");
  await find.fill("Lab 1 evening");
  await expect(table.getByRole("row")).toHaveCount(2);
  await expect(table.getByRole("row").last()).toContainText("22 students, otherwise");
  // A student is found with every override that they are in.
  await find.fill("Farrokhzad, Thandiwe".split(", ").join(" "));
  await expect(table.getByRole("row", { name: /Report draft/ })).toContainText("Evening");
  await expect(table.getByText("Distance")).toHaveCount(0);
  await find.fill("Report draft");
  await table.getByRole("checkbox", { name: "Select Report draft for Evening" }).click();
  await expect(why(page)).toContainText(/Due Wed 2 Dec, 18:00 becomes .* for 22 students/);
  await page.getByRole("button", { name: "Remove 1 override" }).click();
  await expect(drafted(page)).toContainText("Report draft for Evening: as for everyone");
  await expect(drafted(page)).toContainText("due earlier for 22 students");
});

test("an allowance follows a group everywhere; bad numbers say what is wanted", async ({ page }) => {
  await openBench(page, code, "timing");
  await page.getByRole("radio", { name: "Allowances" }).click();
  await expect(page.getByRole("region", { name: "Allowances" }).getByRole("row", { name: /Extra time/ })).toContainText(
    "minutes ×",
  );
  await page.getByRole("button", { name: "New allowance" }).click();
  const dialog = page.getByRole("dialog");
  await dialog.getByLabel("For groups, sections or students").fill("Distance");
  await page
    .getByRole("option", { name: /Distance/ })
    .first()
    .click();
  await dialog.getByLabel("Minutes, times").fill("half");
  await expect(dialog).toContainText("A factor is a number above 1, such as 1.5.");
  await expect(dialog.getByRole("button", { name: "Draft the allowance" })).toBeDisabled();
  await dialog.getByLabel("Minutes, times").fill("1,25");
  await dialog.getByLabel("Days more").fill("2");
  await dialog.getByRole("button", { name: "Draft the allowance" }).click();
  await expect(drafted(page)).toContainText("Allowance for Distance: minutes × 1.25, 2 days more");
  await page.getByRole("button", { name: "Change the allowance for Distance" }).click();
  await dialog.getByLabel("Days more").fill("3");
  await dialog.getByRole("button", { name: "Draft the allowance" }).click();
  await expect(page.getByRole("row", { name: /Distance/ })).toContainText("3 days more");
  await page.getByRole("button", { name: "Remove the allowance for Distance" }).click();
  await expect(page.getByRole("row", { name: /Distance/ })).toHaveCount(0);
});
