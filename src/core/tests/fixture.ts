/** Small plans for tests: the demo course's shape, with names that read well in a failure. */
import {
  type Anchor,
  type Audience,
  blankCourse,
  blankGroup,
  blankItem,
  blankLayer,
  emptyPlan,
  type Item,
  type Plan,
  type Section,
  type Target,
} from "../plan/types.ts";

export const zone = "Europe/Dublin";
export const instant = (iso: string) => Date.parse(iso);
/** Wednesday of the ninth week. */
export const t0 = instant("2026-11-25T10:00:00Z");

/** The start of a class meeting, unless said otherwise. */
export const meetingAnchor = (meeting: number, more: Partial<Anchor> = {}): Anchor => ({
  meeting,
  edge: "start",
  days: 0,
  time: null,
  fallback: null,
  ...more,
});

/** The days of a section or group that has nothing but a pattern. */
export const patternOnly = (pattern: Section["pattern"]) => ({ pattern, noClassDays: [], moved: [], added: [] });

export function coursePlan(): Plan {
  return emptyPlan({
    id: "course",
    code: "WSH 240",
    title: "Watershed Field Methods",
    term: "This term",
    termStart: "2026-09-28",
    termEnd: "2027-01-01",
    timeZone: zone,
    ...blankCourse,
    indexes: { discussions: false, files: false, calendar: false, work: false },
  });
}

export function addSection(plan: Plan, code: string): void {
  plan.sections[code] = {
    id: code,
    code,
    title: code,
    studentTitle: code,
    pattern: [],
    noClassDays: [],
    moved: [],
    added: [],
  };
}

/** A student in some sections and groups since long ago. */
export function addStudent(plan: Plan, id: string, sections: string[] = [], groups: string[] = []): void {
  plan.people[id] = {
    id,
    sourcedId: `00${id}`,
    username: id,
    email: `${id}@x.example`,
    givenName: id,
    familyName: "Test",
    attributes: {},
  };
  for (const sectionId of sections.length > 0 ? sections : [null]) {
    const enrolmentId = `${id} in ${sectionId}`;
    plan.enrolments[enrolmentId] = {
      id: enrolmentId,
      personId: id,
      sectionId,
      role: "student",
      since: 0,
      until: null,
      origin: "roster",
      home: false,
    };
  }
  for (const groupId of groups) {
    const placementId = `${id} in ${groupId}`;
    plan.placements[placementId] = {
      id: placementId,
      groupId,
      personId: id,
      since: 0,
      until: null,
      held: false,
    };
  }
}

export function addLayer(plan: Plan, id: string, groups: string[], fields: Partial<Plan["layers"][string]> = {}): void {
  const position = Object.keys(plan.layers).length;
  plan.layers[id] = {
    id,
    position,
    name: id,
    rule: "exactly one",
    ...blankLayer,
    private: false,
    ...fields,
  };
  groups.forEach((name, at) => {
    const stripe = { colour: at % 12, pattern: at % 8, mark: name.slice(0, 3).toUpperCase() };
    plan.groups[name] = {
      id: name,
      layerId: id,
      position: at,
      name,
      label: name,
      stripe,
      ...blankGroup,
    };
  });
}

export const group = (id: string): Target => ({ kind: "group", id });
export const section = (id: string): Target => ({ kind: "section", id });
export const person = (id: string): Target => ({ kind: "person", id });
export const forOnly = (...to: Target[]): Audience => ({ to, minus: [] });

export function addItem(plan: Plan, id: string, fields: Partial<Item> = {}): Item {
  const item: Item = {
    id,
    parentId: null,
    position: Object.keys(plan.items).length,
    kind: "page",
    title: id,
    ...blankItem,
    ...fields,
  };
  plan.items[id] = item;
  return item;
}
