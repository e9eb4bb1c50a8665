/** The views of each station and what can be begun there: stations show them, and the field of the top rule finds them. */
import type { Station } from "./state.ts";

export const views = {
  placement: [
    { value: "flow", label: "Flow" },
    { value: "board", label: "Board" },
    { value: "groups", label: "Groups" },
    { value: "layers", label: "Side by side" },
  ],
  reach: [
    { value: "crossings", label: "Crossings" },
    { value: "audit", label: "Audit" },
    { value: "lattice", label: "Who sees whom" },
  ],
  timing: [
    { value: "dates", label: "Dates" },
    { value: "spans", label: "Spans" },
    { value: "overrides", label: "Overrides" },
    { value: "allowances", label: "Allowances" },
    { value: "meetings", label: "Meetings" },
    { value: "checks", label: "Checks" },
  ],
  gradebook: [
    { value: "grid", label: "Grid" },
    { value: "marking", label: "Marking" },
    { value: "attempts", label: "Attempts" },
    { value: "compare", label: "Comparison" },
  ],
  review: [
    { value: "draft", label: "Draft" },
    { value: "messages", label: "Messages" },
    { value: "journal", label: "Journal" },
    { value: "access", label: "Access log" },
    { value: "course", label: "Course" },
  ],
  intake: [
    { value: "students", label: "Students" },
    { value: "rosters", label: "Rosters" },
    { value: "sections", label: "Sections" },
    { value: "people", label: "People" },
    { value: "staff", label: "Staff" },
  ],
} as const satisfies Record<Station, readonly { value: string; label: string }[]>;
export type ViewOf<S extends Station> = (typeof views)[S][number]["value"];

/** What somebody with a scope does not find there, and what nobody else does. */
const wholeCourseViews: ReadonlySet<string> = new Set(["journal", "access", "course", "rosters", "staff"]);
const scopedViews: ReadonlySet<string> = new Set(["students"]);

/** The views of a station; `isWhole`: for whoever sees all of the course. */
export const viewsOf = <S extends Station>(station: S, isWhole: boolean): (typeof views)[S][number][] => {
  const all: readonly (typeof views)[S][number][] = views[station];
  return all.filter(({ value }) => !(isWhole ? scopedViews : wholeCourseViews).has(value));
};

/** What can be begun at a station; the words are those of its buttons. `whole`: by the coordinator alone. */
export const actions = [
  { id: "new item", station: "reach", name: "New item", words: "create add", whole: false },
  { id: "look", station: "reach", name: "Look through somebody's eyes", words: "preview as student", whole: true },
  { id: "outline", station: "reach", name: "Outline in and out", words: "import export archive", whole: true },
  { id: "new layer", station: "placement", name: "New layer", words: "create grouping", whole: true },
  { id: "new group", station: "placement", name: "New group", words: "create add team", whole: true },
  { id: "form", station: "placement", name: "Form groups", words: "teams random balanced", whole: true },
  { id: "paste people", station: "placement", name: "Paste a list of people", words: "bulk", whole: true },
  { id: "group files", station: "placement", name: "Groups in and out as files", words: "import export", whole: true },
  { id: "date rules", station: "timing", name: "How dates are decided", words: "policy order", whole: true },
  { id: "date table", station: "timing", name: "Table of dates in and out", words: "import export", whole: true },
  { id: "calendars", station: "timing", name: "Calendars", words: "holidays ical", whole: true },
  { id: "totals", station: "gradebook", name: "How totals are made", words: "weights categories", whole: true },
  { id: "mark files", station: "gradebook", name: "Marks in and out", words: "import export csv", whole: false },
  { id: "columns", station: "gradebook", name: "Columns of the gradebook", words: "hide show order", whole: false },
] as const satisfies readonly { id: string; station: Station; name: string; words: string; whole: boolean }[];
export type ActionId = (typeof actions)[number]["id"];
