/**
 * The OneRoster CSV archive (1EdTech, versions 1.1 and 1.2), in: one table, as any other roster is; a row an enrolment. It
 * is read by its manifest. docs/formats.md says what of it counts.
 */
import type { Unzipped } from "fflate";
import { collect } from "../../sets/collect.ts";
import { fold } from "../../text/caseless.ts";
import { plural } from "../../text/plural.ts";
import { readTable } from "../text.ts";
import { refused, type TextTable, type Unreadable } from "../text-table.ts";
import { familyNameOf, givenNameOf } from "./names.ts";

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

interface Line {
  line: number;
  /** Cells by their column titles; empty where the file has no such column. */
  cells: Record<string, string>;
}
type FileName = "manifest" | "enrollments" | "users" | "classes" | "academicSessions" | "roles";

const pathOf = (files: Unzipped, name: FileName): string | undefined =>
  Object.keys(files).find((key) => key.toLowerCase().split("/").at(-1) === `${name.toLowerCase()}.csv`);

export const looksLikeOneRoster = (files: Unzipped): boolean =>
  (["enrollments", "users", "classes"] as const).every((name) => pathOf(files, name)) ||
  Boolean(pathOf(files, "manifest") && pathOf(files, "enrollments"));

/** The files of an archive as their manifest declares them. */
class Archive {
  private readonly declared: Map<string, string>;
  /** The first file that cannot be read, and why. */
  unreadable: Unreadable | null = null;
  constructor(
    private readonly name: string,
    private readonly files: Unzipped,
  ) {
    this.declared = new Map();
    for (const { cells } of this.lines("manifest"))
      this.declared.set((cells.propertyName ?? "").toLowerCase(), (cells.value ?? "").toLowerCase());
  }
  /** `bulk`: everybody; `delta`: what changed; `absent`: nothing, whatever the file holds. An archive without a manifest is whole. */
  mode(name: FileName): "bulk" | "delta" | "absent" {
    const said = this.declared.get(`file.${name.toLowerCase()}`);
    return said === "delta" || said === "absent" ? said : "bulk";
  }
  private readonly kept = new Map<FileName, Line[]>();
  /** The lines of a file; none where it is not there, or the manifest says that it says nothing. */
  lines(name: FileName): Line[] {
    const lines = this.kept.get(name) ?? this.read(name);
    this.kept.set(name, lines);
    return lines;
  }
  private read(name: FileName): Line[] {
    const path = pathOf(this.files, name);
    if (!path || (name !== "manifest" && this.mode(name) === "absent")) return [];
    const content = this.files[path] as Uint8Array;
    const table = readTable(path, content, { isInterchange: true });
    if ("unreadable" in table) {
      // A file with a header alone says that there is nothing.
      if (!table.isBare)
        this.unreadable ??= { ...table, name: this.name, sentence: `In ${this.name}: ${table.sentence}` };
      return [];
    }
    return table.rows.map((row, at) => ({
      line: table.lines[at] as number,
      cells: Object.fromEntries(table.header.map((title, column) => [title, row[column] ?? ""])),
    }));
  }
}

const isGone = ({ cells }: Line): boolean => cells.status?.toLowerCase() === "tobedeleted";
const byId = (lines: Line[]): Map<string, Line["cells"]> =>
  new Map(lines.map(({ cells }) => [cells.sourcedId ?? "", cells]));

/** When a roster is read: the day, and the term of the course that it is for, as ISO days. */
export interface ReadOn {
  today: string;
  termStart: string;
  termEnd: string;
}

/**
 * The section code of each class. Two classes of one code, in two terms, are two: the one of the course's term has the
 * code, others the code with their term.
 */
function codesOf(classes: Map<string, Line["cells"]>, terms: Map<string, Line["cells"]>, term: ReadOn | null) {
  const termsOf = (cells: Line["cells"]): Line["cells"][] =>
    (cells.termSourcedIds ?? "").split(",").flatMap((id) => {
      const session = terms.get(id.trim());
      return session ? [session] : [];
    });
  const isNow = (cells: Line["cells"]) =>
    term !== null &&
    termsOf(cells).some(({ startDate = "", endDate = "" }) => startDate < term.termEnd && endDate > term.termStart);
  const usual = (id: string, cells: Line["cells"]) => cells.classCode || id;
  const sharing = collect([...classes], ([id, cells]) => fold(usual(id, cells)));
  const found = new Map<string, string>();
  for (const same of sharing.values()) {
    const first = same.find(([, cells]) => isNow(cells)) ?? same[0];
    for (const one of same) {
      const [id, cells] = one;
      const title = termsOf(cells)[0]?.title || id;
      found.set(id, one === first ? usual(id, cells) : `${usual(id, cells)} ${title}`);
    }
  }
  return found;
}

/** Whether an enrolment holds on a day, by its own dates and whether its user is enabled. */
function heldBack(
  { beginDate = "", endDate = "" }: Line["cells"],
  user: Line["cells"] | undefined,
  on: ReadOn | null,
): (typeof heldBackKinds)[number] | null {
  if (on && beginDate !== "" && beginDate.slice(0, 10) > on.today) return "begins later";
  if (on && endDate !== "" && endDate.slice(0, 10) < on.today) return "ended";
  return user?.enabledUser?.toLowerCase() === "false" ? "not enabled" : null;
}
const heldBackKinds = ["begins later", "ended", "not enabled"] as const;
const heldBackSays: Record<(typeof heldBackKinds)[number], string> = {
  "begins later": "until they begin",
  ended: "since they ended before today",
  "not enabled": "of users whom the registrar has switched off",
};

/** What an archive says, as it is needed for its enrolments. */
interface Contents {
  isDelta: boolean;
  users: Map<string, Line["cells"]>;
  classes: Map<string, Line["cells"]>;
  /** Roles of users that their enrolments leave out. */
  roles: Map<string, string>;
  codeOf(enrolment: Line): string;
}

function contentsOf(archive: Archive, on: ReadOn | null): Contents {
  const isDelta = archive.mode("enrollments") === "delta";
  const stand = (name: FileName) => archive.lines(name).filter((one) => !isGone(one));
  // Of what is gone a list of changes still says where it was.
  const codes = codesOf(
    byId(isDelta ? archive.lines("classes") : stand("classes")),
    byId(archive.lines("academicSessions")),
    on,
  );
  return {
    isDelta,
    users: byId(stand("users")),
    classes: byId(stand("classes")),
    roles: new Map(stand("roles").map(({ cells }) => [cells.userSourcedId ?? "", cells.role ?? ""])),
    codeOf({ cells: { classSourcedId = "" } }) {
      // A class that did not change need not be in a list of changes: it goes by its id.
      return codes.get(classSourcedId) ?? (isDelta ? classSourcedId : "");
    },
  };
}

function rowOf(enrolment: Line, { users, classes, roles, isDelta, codeOf }: Contents): string[] {
  const { userSourcedId = "", classSourcedId = "", role } = enrolment.cells;
  const user = users.get(userSourcedId);
  return [
    user?.sourcedId ?? (isDelta ? userSourcedId : ""),
    user?.username ?? "",
    user?.email ?? "",
    givenNameOf(user),
    familyNameOf(user),
    codeOf(enrolment),
    classes.get(classSourcedId)?.title ?? "",
    role || (roles.get(userSourcedId) ?? ""),
  ];
}

/**
 * One table, a row an enrolment, read by the archive's manifest. Of a whole list, a user or class that an enrolment names
 * and the archive lacks leaves its cells blank, so that the row is listed as unreadable with its line. Of a list of
 * changes, whoever did not change need not be described again; what it marks as gone is what ends. `on`: null where
 * days do not matter.
 */
export function readOneRoster(name: string, files: Unzipped, on: ReadOn | null): TextTable | Unreadable {
  const archive = new Archive(name, files);
  const contents = contentsOf(archive, on);
  const all = archive.lines("enrollments");
  if (archive.unreadable) return archive.unreadable;
  if (archive.mode("enrollments") === "absent")
    return refused(name, `The manifest of ${name} says that it holds no enrolments. Ask for an export with them.`);
  const byWhy = collect(
    all.filter((one) => !isGone(one)),
    ({ cells }) => heldBack(cells, contents.users.get(cells.userSourcedId ?? ""), on),
  );
  const used = byWhy.get(null) ?? [];
  const notes = heldBackKinds.flatMap((why) => {
    const count = byWhy.get(why)?.length ?? 0;
    return count > 0 ? [`Left out: ${plural(count, "enrolment")}, ${heldBackSays[why]}.`] : [];
  });
  const table: TextTable = {
    name,
    header: oneRosterHeader,
    rows: used.map((one) => rowOf(one, contents)),
    lines: used.map(({ line }) => line),
    notes,
  };
  if (contents.isDelta) {
    const gone = [...all.filter(isGone), ...(byWhy.get("ended") ?? []), ...(byWhy.get("not enabled") ?? [])];
    return withEnded(table, gone, archive.lines("users").filter(isGone), contents);
  }
  return used.length > 0
    ? table
    : refused(
        name,
        `${[`${name} is a OneRoster archive without enrolments.`, ...notes].join(" ")} Ask for a full export, and drop it here.`,
      );
}

/** A list of changes with whom it names as gone: from a section, or, where the user is gone, from all. */
function withEnded(table: TextTable, gone: Line[], goneUsers: Line[], { codeOf }: Contents): TextTable | Unreadable {
  const ended = [
    ...gone.map((one) => ({ sourcedId: one.cells.userSourcedId ?? "", sectionCode: codeOf(one) })),
    ...goneUsers.map(({ cells }) => ({ sourcedId: cells.sourcedId ?? "", sectionCode: "" })),
  ];
  return table.rows.length + ended.length > 0
    ? { ...table, changesOnly: { ended } }
    : refused(table.name, `${table.name} lists what changed, and says that nothing did. There is nothing to take in.`);
}
