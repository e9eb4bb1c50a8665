/**
 * A course of any size, for the bench and for looking at screens: `npm run demo:large -- --students 5000`.
 * The same sizes give the same course.
 */
import { parse, v5, v7 } from "uuid";
import { nextStripe } from "../src/core/placement/stripes.ts";
import type { Progress } from "../src/core/plan/progress.ts";
import {
  blankCourse,
  blankGroup,
  blankItem,
  blankLayer,
  type Course,
  emptyPlan,
  type Item,
  type ItemKind,
  type Plan,
  type Target,
} from "../src/core/plan/types.ts";
import { familyNames, givenNames } from "./names.ts";
import { random } from "./random.ts";
import { makeTerm, timeZone } from "./term.ts";

export interface Sizes {
  students: number;
  items: number;
  layers: number;
  sections: number;
}
export const usualSizes: Sizes = { students: 5000, items: 400, layers: 20, sections: 40 };

export function makeLargeCourse(sizes: Sizes, now: number, namespace: string): { plan: Plan; progress: Progress } {
  const chance = random(5000);
  const term = makeTerm(now);
  // As ids of rows are, which begin with when they were made; otherwise by their names.
  const id = (name: string) => v7({ msecs: term.instant(1, 1, "07:30"), random: parse(v5(name, namespace)) });
  const course: Course = {
    id: id("large course"),
    code: `WSH ${sizes.students}`,
    title: "A large course",
    term: "This term",
    termStart: term.start,
    termEnd: term.end,
    timeZone,
    ...blankCourse,
  };
  const plan = emptyPlan(course);
  const since = term.instant(1, 1, "07:30");
  const sectionIds = Array.from({ length: sizes.sections }, (_, at) => {
    const code = `S${String(at + 1).padStart(2, "0")}`;
    const pattern = [{ weekday: 1 + (at % 5), start: "09:00", end: "10:00", place: "" }];
    plan.sections[id(code)] = {
      id: id(code),
      code,
      title: `Section ${at + 1}`,
      studentTitle: `Section ${at + 1}`,
      pattern,
      noClassDays: [],
      moved: [],
      added: [],
    };
    return id(code);
  });
  const personIds = Array.from({ length: sizes.students }, (_, at) => {
    const sourcedId = `0${900_000 + at}`;
    const personId = id(sourcedId);
    const [givenName, familyName] = [chance.pick(givenNames), chance.pick(familyNames)];
    plan.people[personId] = {
      id: personId,
      sourcedId,
      username: `large.${at}`,
      email: null,
      givenName,
      familyName,
      attributes: { Year: chance.pick(["1", "2", "3"]), "Entry score": String(41 + ((at * 37) % 59)) },
    };
    const enrolmentId = id(`enrolment ${at}`);
    const sectionId = sectionIds[at % sectionIds.length] as string;
    plan.enrolments[enrolmentId] = {
      id: enrolmentId,
      personId,
      sectionId,
      role: "student",
      since,
      until: null,
      origin: "roster",
      home: false,
    };
    return personId;
  });
  const groups: Target[] = [];
  for (let at = 0; at < sizes.layers; at++) {
    const layerId = id(`layer ${at}`);
    const count = at === 0 ? sizes.sections : 4 + chance.below(20);
    plan.layers[layerId] = {
      id: layerId,
      position: at,
      name: at === 0 ? "Sections" : `Layer ${at}`,
      rule: "exactly one",
      ...blankLayer,
      private: at % 5 === 4,
    };
    const made = Array.from({ length: count }, (_, place) => {
      const name = at === 0 ? `Section ${place + 1}` : `Layer ${at} group ${place + 1}`;
      const others = Object.values(plan.groups).filter((group) => group.layerId === layerId);
      const groupId = id(name);
      plan.groups[groupId] = {
        id: groupId,
        layerId,
        position: place,
        name,
        label: name,
        stripe: nextStripe(name, others),
        ...blankGroup,
      };
      groups.push({ kind: "group", id: groupId });
      return groupId;
    });
    if (at === 0) {
      const layer = plan.layers[layerId];
      if (layer)
        layer.following = sectionIds.map((sectionId, place) => ({
          sectionIds: [sectionId],
          attribute: null,
          groupId: made[place] as string,
        }));
    }
    for (const [place, personId] of personIds.entries()) {
      const groupId = (at === 0 ? made[place % sectionIds.length] : chance.pick(made)) as string;
      const placementId = id(`placement ${at} ${place}`);
      plan.placements[placementId] = {
        id: placementId,
        groupId,
        personId,
        since,
        until: null,
        held: false,
      };
    }
  }
  const progress = addItems(plan, sizes, groups, personIds, term, chance, id);
  return { plan, progress };
}

function addItems(
  plan: Plan,
  sizes: Sizes,
  groups: Target[],
  personIds: string[],
  term: ReturnType<typeof makeTerm>,
  chance: ReturnType<typeof random>,
  id: (name: string) => string,
): Progress {
  const progress: Progress = { marks: [], handIns: [], openings: [], groupMarks: [] };
  const kinds: ItemKind[] = ["folder", "page", "page", "discussion", "assignment", "quiz", "page", "event"];
  const folders: string[] = [];
  let marked: Item | null = null;
  for (let at = 0; at < sizes.items; at++) {
    const kind = kinds[at % kinds.length] as ItemKind;
    const itemId = id(`item ${at}`);
    const due = term.wall(2 + (at % 11), 5, "17:00");
    const item: Item = {
      id: itemId,
      parentId: folders.length > 0 && chance.next() < 0.8 ? chance.pick(folders.slice(-6)) : null,
      position: at,
      kind,
      title: `${kind} ${at + 1}`,
      ...blankItem,
      published: chance.next() < 0.97,
      seals: chance.next() < 0.6,
      audience: {
        to: chance.next() < 0.6 ? "everyone" : [chance.pick(groups), chance.pick(groups), chance.pick(groups)],
        minus: chance.next() < 0.1 ? [chance.pick(groups)] : [],
      },
      points: kind === "assignment" || kind === "quiz" ? 20 : null,
      dates: kind === "folder" || kind === "page" ? {} : { opens: term.wall(1 + (at % 10), 1, "08:00"), due },
    };
    if (marked && chance.next() < 0.15) item.condition = { kind: "atLeast", itemId: marked.id, percent: 60 };
    plan.items[itemId] = item;
    if (kind === "folder") folders.push(itemId);
    if (item.points !== null) {
      if (chance.next() < 0.3) {
        const overrideId = id(`override ${at}`);
        plan.overrides[overrideId] = {
          id: overrideId,
          itemId,
          target: chance.pick(groups),
          dates: { due: term.wall(3 + (at % 11), 3, "18:00") },
        };
      }
      // Marks on a part of the columns: enough for conditions, and not a gradebook of half a million rows.
      if (at % 4 === 0 || marked === null) {
        const markedAt = term.instant(1, 2, "12:00");
        for (const personId of personIds)
          if (chance.next() < 0.8)
            progress.marks.push({
              personId,
              itemId,
              points: chance.below(21),
              excused: false,
              at: markedAt,
            });
        marked = item;
      }
    }
  }
  return progress;
}
