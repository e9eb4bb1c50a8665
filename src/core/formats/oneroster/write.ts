/** The OneRoster CSV archive (1EdTech, version 1.2), out: a whole list of classes, users, roles and enrolments. */
import { collect } from "../../sets/collect.ts";
import { type Line, writeLines } from "./lines.ts";

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

/** The course whose roster goes out; the days are ISO. */
interface RosterCourse {
  id: string;
  code: string;
  title: string;
  term: string;
  termStart: string;
  termEnd: string;
}

/** The columns of each file, in the order of the standard. */
const columns = {
  academicSessions: "sourcedId,status,dateLastModified,title,type,startDate,endDate,parentSourcedId,schoolYear",
  classes:
    "sourcedId,status,dateLastModified,title,grades,courseSourcedId,classCode,classType,location,schoolSourcedId,termSourcedIds,subjects,subjectCodes,periods",
  courses:
    "sourcedId,status,dateLastModified,schoolYearSourcedId,title,courseCode,grades,orgSourcedId,subjects,subjectCodes",
  enrollments:
    "sourcedId,status,dateLastModified,classSourcedId,schoolSourcedId,userSourcedId,role,primary,beginDate,endDate",
  orgs: "sourcedId,status,dateLastModified,name,type,identifier,parentSourcedId",
  roles:
    "sourcedId,status,dateLastModified,userSourcedId,roleType,role,beginDate,endDate,orgSourcedId,userProfileSourcedId",
  users:
    "sourcedId,status,dateLastModified,enabledUser,username,userIds,givenName,familyName,middleName,identifier,email,sms,phone,agentSourcedIds,grades,password,userMasterIdentifier,resourceSourcedIds,preferredGivenName,preferredMiddleName,preferredFamilyName,primaryOrgSourcedId,pronouns",
};
type Name = keyof typeof columns;
const roleOf = (role: string) => (role === "student" ? "student" : "teacher");

/** A line of each class, user and so on of the archive. */
function linesOf(course: RosterCourse, lines: readonly RosterLine[]): Record<Name, Line[]> {
  const [org, term] = [`org-${course.id}`, `term-${course.id}`];
  // The first line of a class or person speaks for it.
  const first = (key: (line: RosterLine) => string) => [...collect(lines, key).values()].flatMap(([one]) => one ?? []);
  const classes = first(({ sectionCode }) => sectionCode);
  const users = first(({ sourcedId }) => sourcedId);
  return {
    academicSessions: [
      {
        sourcedId: term,
        title: course.term,
        type: "term",
        startDate: course.termStart,
        endDate: course.termEnd,
        schoolYear: course.termEnd.slice(0, 4),
      },
    ],
    classes: classes.map(({ sectionCode, sectionTitle }) => ({
      sourcedId: sectionCode,
      title: sectionTitle,
      courseSourcedId: course.id,
      classCode: sectionCode,
      classType: "scheduled",
      schoolSourcedId: org,
      termSourcedIds: term,
    })),
    courses: [{ sourcedId: course.id, title: course.title, courseCode: course.code, orgSourcedId: org }],
    enrollments: lines.map((line) => ({
      sourcedId: `${line.sectionCode}-${line.sourcedId}`,
      classSourcedId: line.sectionCode,
      schoolSourcedId: org,
      userSourcedId: line.sourcedId,
      role: roleOf(line.role),
    })),
    orgs: [{ sourcedId: org, name: course.code, type: "school", identifier: course.code }],
    roles: users.map((line) => ({
      sourcedId: `role-${line.sourcedId}`,
      userSourcedId: line.sourcedId,
      roleType: "primary",
      role: roleOf(line.role),
      orgSourcedId: org,
    })),
    users: users.map(({ sourcedId, username, givenName, familyName, email }) => ({
      ...{ sourcedId, username, givenName, familyName, email },
      enabledUser: "true",
      identifier: sourcedId,
      primaryOrgSourcedId: org,
    })),
  };
}

/** A OneRoster 1.2 archive of some enrolments of one course. `at` is the moment written into it, epoch milliseconds. */
export const writeOneRoster = (course: RosterCourse, lines: RosterLine[], at: number): Uint8Array<ArrayBuffer> =>
  writeLines(columns, linesOf(course, lines), at);
