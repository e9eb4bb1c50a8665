/**
 * The OneRoster CSV archive (1EdTech, versions 1.1 and 1.2): classes, users, enrollments and roles in, and out
 * again. What comes in is one table, as any other roster is; a row an enrolment.
 */
import type { Unzipped } from "fflate";
import { makeArchive } from "./archive.ts";
import { readTable, refused, type TextTable, type Unreadable, writeCsv } from "./text.ts";

/** The header of the table that an archive gives; its columns are recognised as any other's are. */
export const oneRosterHeader = [
  "sourcedId",
  "username",
  "email",
  "given name",
  "family name",
  "section code",
  "section title",
  "role",
];

type Record_ = Record<string, string>;

/** Rows of one file of the archive by its column titles; null where the file is not there. */
function recordsOf(files: Unzipped, name: string): { line: number; record: Record_ }[] | null {
  const path = Object.keys(files).find((key) => key.toLowerCase().split("/").at(-1) === name);
  if (!path) return null;
  const table = readTable(name, files[path] as Uint8Array);
  if ("unreadable" in table) return [];
  return table.rows.map((cells, row) => ({
    line: table.lines[row] as number,
    record: Object.fromEntries(table.header.map((title, at) => [title, cells[at] ?? ""])),
  }));
}

export const looksLikeOneRoster = (files: Unzipped): boolean =>
  ["enrollments.csv", "users.csv", "classes.csv"].every((name) =>
    Object.keys(files).some((key) => key.toLowerCase().split("/").at(-1) === name),
  );

/** Records that a delta export marks as gone are left out. */
const stands = ({ record }: { record: Record_ }) => record.status?.toLowerCase() !== "tobedeleted";

/**
 * One table, a row an enrolment. A user or class that an enrolment names and the archive lacks leaves its cells
 * blank, so that the row is listed as unreadable with its line, and nothing is dropped in silence.
 */
export function readOneRoster(name: string, files: Unzipped): TextTable | Unreadable {
  const enrollments = (recordsOf(files, "enrollments.csv") ?? []).filter(stands);
  const users = new Map(
    (recordsOf(files, "users.csv") ?? []).filter(stands).map(({ record }) => [record.sourcedId, record]),
  );
  const classes = new Map(
    (recordsOf(files, "classes.csv") ?? []).filter(stands).map(({ record }) => [record.sourcedId, record]),
  );
  const rows = enrollments.map(({ record }) => {
    const user = users.get(record.userSourcedId);
    const group = classes.get(record.classSourcedId);
    return [
      user?.sourcedId ?? "",
      user?.username ?? "",
      user?.email ?? "",
      // 1.2 keeps the name that a person goes by apart.
      user?.preferredFirstName || user?.preferredGivenName || user?.givenName || "",
      user?.preferredLastName || user?.preferredFamilyName || user?.familyName || "",
      group?.classCode || group?.sourcedId || "",
      group?.title ?? "",
      record.role ?? "",
    ];
  });
  if (rows.length === 0)
    return refused(name, `${name} is a OneRoster archive without enrolments. Ask for a full export, and drop it here.`);
  return { name, header: oneRosterHeader, rows, lines: enrollments.map(({ line }) => line) };
}

export interface RosterLine {
  sourcedId: string;
  username: string;
  email: string;
  givenName: string;
  familyName: string;
  sectionCode: string;
  sectionTitle: string;
  role: string;
}

const today = (at: number) => new Date(at).toISOString().slice(0, 10);

/** A OneRoster 1.2 archive of some enrolments of one course. `at` is the moment written into it. */
export function writeOneRoster(
  course: { id: string; code: string; title: string; term: string; termStart: string; termEnd: string },
  lines: RosterLine[],
  at: number,
): Uint8Array<ArrayBuffer> {
  const modified = new Date(at).toISOString();
  const [org, term] = [`org-${course.id}`, `term-${course.id}`];
  const classes = new Map<string, RosterLine>();
  const users = new Map<string, RosterLine>();
  for (const line of lines) {
    if (!classes.has(line.sectionCode)) classes.set(line.sectionCode, line);
    if (!users.has(line.sourcedId)) users.set(line.sourcedId, line);
  }
  const files: Record<string, string> = {};
  const file = (name: string, header: string, rows: string[][]) => {
    files[`${name}.csv`] = writeCsv(header.split(","), rows);
  };
  const present = ["academicSessions", "classes", "courses", "enrollments", "orgs", "roles", "users"];
  file("manifest", "propertyName,value", [
    ["manifest.version", "1.0"],
    ["oneroster.version", "1.2"],
    ...present.map((name) => [`file.${name}`, "bulk"]),
    ["source.systemName", "Amber Weave"],
    ["source.systemCode", today(at)],
  ]);
  file("orgs", "sourcedId,status,dateLastModified,name,type,identifier,parentSourcedId", [
    [org, "active", modified, course.code, "school", course.code, ""],
  ]);
  file(
    "academicSessions",
    "sourcedId,status,dateLastModified,title,type,startDate,endDate,parentSourcedId,schoolYear",
    [[term, "active", modified, course.term, "term", course.termStart, course.termEnd, "", course.termEnd.slice(0, 4)]],
  );
  file(
    "courses",
    "sourcedId,status,dateLastModified,schoolYearSourcedId,title,courseCode,grades,orgSourcedId,subjects,subjectCodes",
    [[course.id, "active", modified, "", course.title, course.code, "", org, "", ""]],
  );
  file(
    "classes",
    "sourcedId,status,dateLastModified,title,grades,courseSourcedId,classCode,classType,location,schoolSourcedId,termSourcedIds,subjects,subjectCodes,periods",
    [...classes.values()].map(({ sectionCode, sectionTitle }) => [
      sectionCode,
      "active",
      modified,
      sectionTitle,
      "",
      course.id,
      sectionCode,
      "scheduled",
      "",
      org,
      term,
      "",
      "",
      "",
    ]),
  );
  file(
    "users",
    "sourcedId,status,dateLastModified,enabledUser,username,userIds,givenName,familyName,middleName,identifier,email,sms,phone,agentSourcedIds,grades,password,userMasterIdentifier,resourceSourcedIds,preferredGivenName,preferredMiddleName,preferredFamilyName,primaryOrgSourcedId,pronouns",
    [...users.values()].map((line) => [
      line.sourcedId,
      "active",
      modified,
      "true",
      line.username,
      "",
      line.givenName,
      line.familyName,
      "",
      line.sourcedId,
      line.email,
      "",
      "",
      "",
      "",
      "",
      "",
      "",
      "",
      "",
      "",
      org,
      "",
    ]),
  );
  const roleOf = (role: string) => (role === "student" ? "student" : "teacher");
  file(
    "roles",
    "sourcedId,status,dateLastModified,userSourcedId,roleType,role,beginDate,endDate,orgSourcedId,userProfileSourcedId",
    [...users.values()].map((line) => [
      `role-${line.sourcedId}`,
      "active",
      modified,
      line.sourcedId,
      "primary",
      roleOf(line.role),
      "",
      "",
      org,
      "",
    ]),
  );
  file(
    "enrollments",
    "sourcedId,status,dateLastModified,classSourcedId,schoolSourcedId,userSourcedId,role,primary,beginDate,endDate",
    lines.map((line) => [
      `${line.sectionCode}-${line.sourcedId}`,
      "active",
      modified,
      line.sectionCode,
      org,
      line.sourcedId,
      roleOf(line.role),
      "",
      "",
      "",
    ]),
  );
  return makeArchive(files);
}
