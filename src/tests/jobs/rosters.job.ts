/** Jobs that begin with rosters; the fourth goes on from what the first applied, done in the real interface and counted. See docs/jobs.md. */
import { expect, openWorkbench, test, why } from "../helpers.ts";
import { begin, button, dialogOf, done, idOf, publish, station } from "./steps.ts";

test("1: four registrar's files become four filled section groups", async ({ page }) => {
  const hand = await begin(page, "WSH 241");
  await hand.files(
    page.locator("input[type=file]"),
    ["D1", "D2", "EV", "DL"].map((section) => `demo/rosters/week-1-${section}.csv`),
  );
  await hand.until(page.getByText(/rows read, nothing changed yet/));
  await hand.press(button(page, "Apply"));
  await hand.until(page.getByText("Applied. The layers that follow sections have followed."));
  done(hand, 1);
  await openWorkbench(page, "WSH 241", "placement");
  await expect(page.getByText("103 placed")).toBeVisible();
});

test("15: a late list is looked at, applied, found to be the wrong one, and taken back", async ({ page }) => {
  const hand = await begin(page, "WSH 241");
  await hand.files(page.locator("input[type=file]"), ["demo/rosters/week-3-merged.csv"]);
  await hand.until(page.getByText(/rows read, nothing changed yet/));
  await hand.press(button(page, "Apply"));
  await hand.until(page.getByText(/^Applied/));
  await hand.press(page.getByRole("button", { name: "Take back the intake of week-3-merged.csv" }));
  await hand.until(page.getByText(/^Taken back: /));
  done(hand, 15);
});

test("4: groups of about four inside each section, two swapped, on the wall before anybody is told", async ({
  page,
}) => {
  const hand = await begin(page, "WSH 241");
  await hand.press(station(page, "Placement"));
  await hand.press(button(page, "Form groups"));
  await hand.press(button(page, "Form the groups"));
  const draft = page.getByRole("button", { name: /^Draft \d+ groups/ });
  await hand.until(draft);
  const formed = page.getByRole("region", { name: "Formed groups" }).getByRole("button");
  await hand.press(formed.nth(0));
  await hand.press(formed.nth(6));
  await expect(page.getByText(/changed places\.$/)).toBeVisible();
  await expect(page.getByText(/team 1$/).first()).toBeVisible();
  await hand.press(draft);
  const [sheet] = await Promise.all([
    page.waitForEvent("popup"),
    hand.press(page.getByRole("link", { name: "Wall sheet, as drafted" })),
  ]);
  await expect(sheet.getByText(/team 1/).first()).toBeVisible();
  await sheet.close();
  await publish(hand);
  done(hand, 4);
});

test("10: two groups checked against printed lists; a private group; separation locked; marks of one group", async ({
  page,
}) => {
  const hand = await begin(page, "WSH 240");
  await hand.files(
    page.locator("input[type=file]"),
    ["D1", "D2"].map((section) => `demo/rosters/week-1-${section}.csv`),
  );
  // What differs from the lists is seen before anything is taken in.
  await expect(page.getByRole("radio", { name: /^same \d+/ })).toBeVisible();
  await expect(page.getByRole("radio", { name: /^missing from roster \d+/ })).toBeVisible();
  await hand.press(button(page, "Put away"));
  await hand.press(station(page, "Placement"));
  await hand.press(why(page).getByRole("radio", { name: "locked" }));
  await hand.press(button(page, "Group some people"));
  const dialog = dialogOf(page);
  await hand.type(dialog.getByRole("combobox", { name: "Who" }), [20, 21].map(idOf).join(", "), "Enter");
  await hand.type(dialog.getByLabel("Name of the group"), "Quiet corner");
  await hand.files(dialog.locator("input[type=file]"), ["demo/rosters/week-1-D1.csv"]);
  await hand.press(button(page, "Draft it"));
  await publish(hand);
  await hand.press(why(page).getByRole("button", { name: "Their gradebook" }));
  await expect(page.getByText("2 of 104 students")).toBeVisible();
  done(hand, 10);
});
