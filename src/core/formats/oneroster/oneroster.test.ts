/**
 * OneRoster archives as registrars send them. Each archive is written by hand from the published text of the standard
 * (1EdTech OneRoster CSV tables, versions 1.1 and 1.2): manifest.csv, status, dates, terms, enabledUser, roles.csv.
 */
import { strToU8 } from "fflate";
import { describe, expect, test } from "vitest";
import type { TextTable, Unreadable } from "../text-table.ts";
import { familyNameOf, givenNameOf } from "./names.ts";
import { readOneRoster } from "./read.ts";

const on = { today: "2026-11-25", termStart: "2026-09-28", termEnd: "2027-01-15" };
const manifest = (enrollments: string, others = "bulk") =>
  `propertyName,value\nmanifest.version,1.0\noneroster.version,1.2\nfile.enrollments,${enrollments}\nfile.users,${others}\nfile.classes,${others}\nfile.roles,bulk\n`;
const users = `sourcedId,status,dateLastModified,enabledUser,username,givenName,familyName,email
001,active,,true,ada,Ada,Test,
002,active,,true,ben,Ben,Test,
003,active,,false,cas,Cas,Test,
`;
const classes = `sourcedId,status,dateLastModified,title,classCode,termSourcedIds
k1,active,,Day,D1,t1
k2,active,,Evening,EV,t1
`;
const head =
  "sourcedId,status,dateLastModified,classSourcedId,schoolSourcedId,userSourcedId,role,primary,beginDate,endDate\n";
const archive = (files: Record<string, string>) =>
  readOneRoster("r.zip", Object.fromEntries(Object.entries(files).map(([name, text]) => [name, strToU8(text)])), on);
const whole = (enrollments: string, files: Record<string, string> = {}) =>
  archive({
    "manifest.csv": manifest("bulk"),
    "users.csv": users,
    "classes.csv": classes,
    "enrollments.csv": head + enrollments,
    ...files,
  });
const listed = (table: TextTable | Unreadable) => {
  if ("unreadable" in table) return [table.sentence];
  return table.rows.map(([id, , , given, , section, , role]) => `${id} ${given} ${section} ${role}`);
};

describe("a whole list", () => {
  test("an enrolment holds from its beginning to its end; what is left out is counted", () => {
    const read = whole(
      "e1,active,,k1,,001,student,,2026-09-28,2027-01-15\ne2,active,,k2,,001,student,,2026-12-01,\ne3,active,,k1,,002,student,,,2026-11-24\ne4,active,,k1,,003,student,,,\n",
    );
    expect(listed(read)).toEqual(["001 Ada D1 student"]);
    expect((read as TextTable).notes).toEqual([
      "Left out: 1 enrolment, until they begin.",
      "Left out: 1 enrolment, since they ended before today.",
      "Left out: 1 enrolment, of users whom the registrar has switched off.",
    ]);
  });
  test("two classes of one code in two terms are two: the code is that of the course's term", () => {
    const read = whole("e1,active,,k1,,001,student,,,\ne2,active,,k3,,002,student,,,\n", {
      "classes.csv": `${classes}k3,active,,Day,D1,t0\n`,
      "academicSessions.csv":
        "sourcedId,status,dateLastModified,title,type,startDate,endDate\nt0,active,,Spring,term,2026-01-12,2026-05-01\nt1,active,,Autumn,term,2026-09-28,2027-01-15\n",
    });
    expect(listed(read)).toEqual(["001 Ada D1 student", "002 Ben D1 Spring student"]);
  });
  test("a role that an enrolment leaves out is that of roles.csv", () => {
    const read = whole("e1,active,,k1,,001,,,,\n", {
      "roles.csv":
        "sourcedId,status,dateLastModified,userSourcedId,roleType,role\nr1,active,,001,primary,teacher\nr2,tobedeleted,,001,primary,student\n",
    });
    expect(listed(read)).toEqual(["001 Ada D1 teacher"]);
  });
  test("a quotation mark that is not closed is named with its file and line", () => {
    const read = whole("e1,active,,k1,,001,student,,,\n", { "users.csv": `${users}004,active,,true,"dee,Dee,Test,\n` });
    expect(listed(read)[0]).toMatch(/^In r\.zip: users\.csv, line \d+: a quotation mark is opened and never closed/);
  });
  test("a file that the manifest calls absent says nothing, whatever it holds", () => {
    const read = archive({
      "manifest.csv": manifest("absent"),
      "users.csv": users,
      "classes.csv": classes,
      "enrollments.csv": `${head}e1,active,,k1,,001,student,,,\n`,
    });
    expect(listed(read)[0]).toContain("it holds no enrolments");
  });
});

describe("a list of changes", () => {
  const changes = (enrollments: string, files: Record<string, string> = {}) =>
    archive({ "manifest.csv": manifest("delta", "delta"), "enrollments.csv": head + enrollments, ...files });
  test("one row of it takes nobody out: whoever did not change need not be described", () => {
    const read = changes("e1,active,,k1,,001,student,,,\n", { "classes.csv": classes }) as TextTable;
    expect(listed(read)).toEqual(["001  D1 student"]);
    expect(read.changesOnly).toEqual({ ended: [] });
  });
  test("what it marks as gone ends: an enrolment in its section, a user everywhere", () => {
    const read = changes("e1,tobedeleted,,k1,,001,student,,,\ne2,active,,k2,,002,student,,,2026-11-01\n", {
      "classes.csv": classes,
      "users.csv": `${users}009,tobedeleted,,true,gone,Gone,Test,\n`,
    }) as TextTable;
    expect(read.changesOnly?.ended).toEqual([
      { sourcedId: "001", sectionCode: "D1" },
      { sourcedId: "002", sectionCode: "EV" },
      { sourcedId: "009", sectionCode: "" },
    ]);
  });
  test("nothing changed is said", () => {
    expect(listed(changes(""))[0]).toContain("says that nothing did");
  });
});

test("a person is called by the name that they go by, in a file's words and a service's alike", () => {
  const own = { givenName: "Adaline", familyName: "Byron" };
  expect([givenNameOf(own), familyNameOf(own)]).toEqual(["Adaline", "Byron"]);
  for (const said of [
    { ...own, preferredGivenName: "Ada", preferredFamilyName: "Lovelace" },
    { ...own, preferredFirstName: "Ada", preferredLastName: "Lovelace" },
  ])
    expect([givenNameOf(said), familyNameOf(said)]).toEqual(["Ada", "Lovelace"]);
  expect(givenNameOf(undefined)).toBe("");
});
