/** Intake beyond the first file: any kind of file, comparing, questions, undoing. */
import { readFileSync } from "node:fs";
import { strToU8, zipSync } from "fflate";
import Papa from "papaparse";
import { choose, expect, openWorkbench, signIn, test } from "./helpers.ts";
import { csv, drop, header, lines, rows, storeEmptyCourse, toggle } from "./rosters.ts";

test.describe.configure({ mode: "serial" });
const code = "WSH 242";
test.beforeAll(() => storeEmptyCourse(code));
test.beforeEach(async ({ page }) => {
  await signIn(page, "coordinator");
});

test("a workbook: the sheet with the roster is chosen, another can be, and it is applied", async ({ page }) => {
  await openWorkbench(page, code, "intake");
  const { Workbook } = (await import("exceljs")).default;
  const workbook = new Workbook();
  workbook.addWorksheet("Cover").addRows([
    ["Note", "By"],
    ["Autumn list", "Registry"],
  ]);
  workbook.addWorksheet("Students").addRows(lines);
  await drop(page, "autumn.xlsx", new Uint8Array(await workbook.xlsx.writeBuffer()));
  await expect(page.getByText("103 rows read, nothing changed yet")).toBeVisible();
  await page.getByText(/^Columns recognised/).click();
  await choose(page, "Sheet", "Cover");
  await expect(page.getByRole("alert")).toContainText("No column holds the registrar's id");
  await choose(page, "Sheet", "Students");
  await expect(page.getByText("103 rows read, nothing changed yet")).toBeVisible();
  await page.getByRole("button", { name: "Apply" }).click();
  await expect(page.getByText("103 placed", { exact: true })).toBeVisible();
});

test("a OneRoster archive of the same people brings nothing new; leavers, a switcher and what follows are shown first", async ({
  page,
}) => {
  await openWorkbench(page, code, "intake");
  const people = rows.filter((_, at) => at !== 50);
  const moved = people.map((row, at) => (at === 3 ? row.with(5, "EV") : row));
  const files = {
    "classes.csv": csv(
      [...new Set(moved.map((row) => row[5] as string))].map((section) => [section, "active", section, section]),
      ["sourcedId", "status", "title", "classCode"],
    ),
    "users.csv": csv(
      people.map((row) => [row[0], "active", row[4], row[2], row[1], row[3]] as string[]),
      ["sourcedId", "status", "username", "givenName", "familyName", "email"],
    ),
    "enrollments.csv": csv(
      moved.map((row, at) => [String(at), "active", row[5], row[0], "student"] as string[]),
      ["sourcedId", "status", "classSourcedId", "userSourcedId", "role"],
    ),
  };
  await drop(
    page,
    "export.zip",
    zipSync(Object.fromEntries(Object.entries(files).map(([name, text]) => [name, strToU8(text)]))),
  );
  await expect(page.getByText("102 rows read, nothing changed yet")).toBeVisible();
  await expect(toggle(page, "same 101")).toBeVisible();
  await expect(toggle(page, "moved 1")).toBeVisible();
  await expect(toggle(page, "missing from roster 1")).toBeVisible();
  const why = page.getByRole("region", { name: "What it will do" });
  await expect(why).toContainText(/loses 1: /);
  await expect(why).toContainText(/gains 1: /);
  await page.getByRole("button", { name: "Put away" }).click();
});

test("bad files are told what is wrong with each, and nothing is lost", async ({ page }) => {
  await openWorkbench(page, code, "intake");
  const zip = (path: string) => zipSync({ [path]: strToU8("x") });
  await page.locator("input[type=file]").setInputFiles([
    { name: "empty.csv", mimeType: "", buffer: Buffer.from("") },
    { name: "photo.csv", mimeType: "", buffer: Buffer.from([0x89, 0x50, 0x4e, 0x47, 0, 0, 0, 13]) },
    { name: "climbing.zip", mimeType: "", buffer: Buffer.from(zip("../../roster.csv")) },
  ]);
  await expect(page.getByText(/^empty\.csv is empty\./)).toBeVisible();
  await expect(page.getByText(/^photo\.csv is not a text file\./)).toBeVisible();
  await expect(page.getByText(/^climbing\.zip was not opened: .*leaves its folder/)).toBeVisible();
  await drop(page, "bad.csv", csv(rows.slice(0, 3).map((row) => row.with(0, ""))));
  await expect(page.getByText(/^No row of this can be used/)).toBeVisible();
  await expect(page.getByRole("button", { name: "Apply" })).toBeDisabled();
  const download = page.waitForEvent("download");
  await page.getByRole("button", { name: "Save the 3 rows not used" }).click();
  const saved = readFileSync(await (await download).path(), "utf8");
  expect(Papa.parse<string[]>(saved.trim()).data.map((row) => row.at(-1))).toEqual([
    "Reason",
    ...Array(3).fill("Student No: no id"),
  ]);
  await page.getByRole("button", { name: "Put away" }).click();
});

test("of three hundred columns a few are drawn, those that say who somebody is among them; a book in a cell is cut", async ({
  page,
}) => {
  await openWorkbench(page, code, "intake");
  const extra = Array.from({ length: 280 }, (_, at) => `Extra ${at}`);
  const body = rows.slice(0, 20).map((row) => [...extra.map(() => "read ".repeat(200)), ...row]);
  await drop(page, "wide.csv", csv(body, [...extra, ...header]));
  await expect(page.getByText("20 rows read, nothing changed yet")).toBeVisible();
  const columns = page.locator("details", { hasText: "Columns recognised" });
  await expect(columns.locator("summary")).toContainText(/and \d+ more$/);
  await expect(columns.getByRole("columnheader")).toHaveCount(0);
  await columns.locator("summary").click();
  const shown = await columns.getByRole("columnheader").count();
  expect(shown).toBeGreaterThan(24);
  expect(shown).toBeLessThan(40);
  await expect(columns.getByRole("button", { name: /Registrar's id/ })).toBeVisible();
  for (const cell of await columns.getByRole("cell").allTextContents()) expect(cell.length).toBeLessThan(70);
  await columns.getByRole("button", { name: /^Show 24 of/ }).click();
  await expect(columns.getByRole("columnheader")).toHaveCount(shown + 24);
  await page.getByRole("button", { name: "Put away" }).click();
});

test("a list is only compared: in both, only on the list, only here; nothing is changed", async ({ page }) => {
  await openWorkbench(page, code, "intake");
  const own = rows.filter((row) => row[5] === "D1");
  const names = own.slice(2).map((row) => [`${row[1]}, ${row[2]}`]);
  await drop(page, "door list.csv", csv([...names, ["Stranger, Some"]], ["Name"]));
  await choose(page, "What to do with this list", "Only compare with section D1");
  await expect(toggle(page, `in both ${own.length - 2}`)).toBeVisible();
  await expect(toggle(page, "only on the list 1")).toBeVisible();
  await expect(page.getByText("Stranger, Some").first()).toBeVisible();
  await toggle(page, "only here 2").click();
  await expect(page.getByText(`${own[0]?.[1]}, ${own[0]?.[2]}`)).toBeVisible();
  await page.getByRole("button", { name: "Put away" }).click();
  await expect(page.getByText("Nothing is drafted.", { exact: false })).toBeVisible();
});

test("possible same people are asked before anything is applied", async ({ page }) => {
  await openWorkbench(page, code, "intake");
  const titles = [...header, "Birthday"];
  const first = rows.slice(0, 2).map((row) => [...row, "2004-05-06"]);
  await drop(page, "birthdays.csv", csv(first, titles));
  await page.getByText("Part of a roster: nobody is missing").click();
  await page.getByRole("button", { name: "Apply" }).click();
  await expect(page.getByText(/^Applied\./)).toBeVisible();
  await drop(page, "renumbered.csv", csv([(first[0] as string[]).with(0, "99999").with(3, "").with(4, "")], titles));
  await expect(page.getByText(/the same person as .* They have the same name and birthday/)).toBeVisible();
  await page.getByText("Part of a roster: nobody is missing").click();
  await expect(page.getByRole("button", { name: "Answer first" })).toBeDisabled();
  await page.getByRole("button", { name: "Same person" }).click();
  await expect(toggle(page, "changed 1")).toBeVisible();
  await expect(page.getByText(/id: \d+ to 99999/)).toBeVisible();
  await page.getByRole("button", { name: "Put away" }).click();
});

test("a list of changes takes out whom it names, and nobody else", async ({ page }) => {
  await openWorkbench(page, code, "intake");
  const [one = [], two = []] = rows;
  const files = {
    "manifest.csv": "propertyName,value\nmanifest.version,1.0\noneroster.version,1.2\nfile.enrollments,delta\n",
    "classes.csv": csv([["k1", "active", "Day", one[5] as string]], ["sourcedId", "status", "title", "classCode"]),
    "enrollments.csv": csv(
      [
        ["e1", "active", "k1", one[0] as string, "student"],
        ["e2", "tobedeleted", "k1", two[0] as string, "student"],
      ],
      ["sourcedId", "status", "classSourcedId", "userSourcedId", "role"],
    ),
  };
  const zip = zipSync(Object.fromEntries(Object.entries(files).map(([name, text]) => [name, strToU8(text)])));
  await drop(page, "changes.zip", zip);
  await expect(page.getByText("It lists only what changed: whoever it does not name stays.")).toBeVisible();
  await expect(toggle(page, "missing from roster 1")).toBeVisible();
  await page.getByRole("button", { name: "Apply" }).click();
  await expect(page.getByText("0 new, 0 moved, 0 changed, 1 left")).toBeVisible();
  await page.getByRole("button", { name: "Take back the intake of changes.zip" }).click();
  await expect(page.getByText("Taken back: the course is as it was before changes.zip.")).toBeVisible();
});

test("ids that lost their zeros in a spreadsheet are mended by one press, and nobody is missing or new", async ({
  page,
}) => {
  await openWorkbench(page, code, "intake");
  const spoiled = rows.map((row) => row.with(0, String(Number(row[0]))));
  await drop(page, "from a spreadsheet.csv", csv(spoiled));
  const questions = page.getByRole("region", { name: "Questions" });
  await expect(questions).toContainText(/\d+ ids lost their leading zeros\./);
  await expect(toggle(page, "missing from roster 0")).toBeVisible();
  await questions.getByRole("button", { name: /^Mend \d+$/ }).click();
  await expect(questions).toHaveCount(0);
  await expect(toggle(page, "new 0")).toBeVisible();
  await expect(toggle(page, `same ${rows.length}`)).toBeVisible();
  await page.getByRole("button", { name: "Put away" }).click();
});

test("a roster that would take many out of a section asks first", async ({ page }) => {
  await openWorkbench(page, code, "intake");
  await drop(page, "half a list.csv", csv(rows.filter((_, at) => at % 2 === 0)));
  const asked = page.getByRole("alert", { name: "Many would leave" });
  await expect(asked).toContainText(/\d+ of \d+ in D1/);
  await expect(page.getByRole("button", { name: "Answer first" })).toBeDisabled();
  await asked.getByRole("button", { name: "They leave" }).click();
  await expect(page.getByRole("button", { name: "Apply" })).toBeEnabled();
  await page.getByRole("button", { name: "Put away" }).click();
  await drop(page, "half a list.csv", csv(rows.filter((_, at) => at % 2 === 0)));
  await asked.getByRole("button", { name: "It is a part: nobody is missing" }).click();
  await expect(toggle(page, "missing from roster 0")).toBeVisible();
  await expect(page.getByRole("button", { name: "Apply" })).toBeEnabled();
  await page.getByRole("button", { name: "Put away" }).click();
});

test("an intake is opened again, taken back whole, and kept while something depends on it", async ({ page }) => {
  await openWorkbench(page, code, "intake");
  const past = page.getByRole("region", { name: "Earlier intakes" });
  await past.getByRole("button", { name: "Open the intake of birthdays.csv" }).click();
  await expect(page.getByRole("dialog")).toContainText("Birthday: nothing to 2004-05-06");
  await page.keyboard.press("Escape");
  await past.getByRole("button", { name: "Take back the intake of autumn.xlsx" }).click();
  await expect(past.getByRole("alert")).toContainText("later changes depend on it: The record of");
  await past.getByRole("button", { name: "Take back the intake of birthdays.csv" }).click();
  await expect(page.getByText(/^Taken back: the course is as it was/)).toBeVisible();
  await expect(past.getByText(/taken back by/)).toHaveCount(2);
  await past.getByRole("button", { name: "Take back the intake of autumn.xlsx" }).click();
  await expect(page.getByText("This course is empty.", { exact: false })).toBeVisible();
});

test("a hundred thousand rows are read with progress, and can be cancelled", async ({ page }) => {
  await openWorkbench(page, code, "intake");
  const many = Array.from(
    { length: 100_000 },
    (_, at) => `00${1_000_000 + at},Family ${at},Given,f${at}@x.example,f${at},D1,D1,,2,,`,
  );
  await drop(page, "many.csv", `${header.join(",")}\n${many.join("\n")}`);
  // The longer part: the button stays in its place while it is pressed.
  await expect(page.getByRole("status").filter({ hasText: "Reconciling" })).toBeVisible();
  await expect(page.getByRole("progressbar", { name: "Reconciling" })).toBeVisible();
  await page.getByRole("button", { name: "Cancel" }).click();
  await expect(page.getByText("Drop the registrar's rosters here")).toBeVisible();
  await drop(page, "many.csv", `${header.join(",")}\n${many.join("\n")}`);
  await expect(page.getByText("100,000 rows read, nothing changed yet")).toBeVisible({ timeout: 180_000 });
  await expect(toggle(page, "new 100000")).toBeVisible();
});
