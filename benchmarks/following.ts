/** A layer that follows five thousand students through forty rules, beside a bare loop over the same rows. */
import { makeLargeCourse } from "../demo/large.ts";
import { follow } from "../src/core/placement/following.ts";
import { homeEnrolment, lookup, studentsAt } from "../src/core/plan/lookup.ts";
import type { Layer, PlacementRule } from "../src/core/plan/types.ts";
import { fastest, keep, type Row, sized } from "./measure.ts";

export async function followingRows(): Promise<Row[]> {
  const now = Date.UTC(2026, 10, 25, 10);
  const { plan } = makeLargeCourse(
    { students: sized(5000, 200), items: 10, layers: 2, sections: 40 },
    now,
    "6f0e3a52-4a53-4c5c-9a52-0f7f3a1d2b4c",
  );
  const layer = lookup(plan).layers[0] as Layer;
  const groups = lookup(plan).groupsOfLayer.get(layer.id) ?? [];
  // Nobody is placed yet, as after a first intake; every rule asks for a section and an attribute.
  const fresh = { ...plan, placements: {} };
  const rules = Object.values(plan.sections).map(
    ({ id }, at): PlacementRule => ({
      sectionIds: [id],
      attribute: { column: "Year", test: "is between", values: ["0", "9"] },
      groupId: groups[at % groups.length]?.id ?? "",
    }),
  );
  const followed: Layer = { ...layer, following: rules };
  const students = studentsAt(plan, now).map((id) => ({
    id,
    sectionId: homeEnrolment(plan, id, now)?.sectionId ?? null,
    year: plan.people[id]?.attributes.Year ?? "",
  }));
  const best = await fastest({
    ours: () => keep(follow(fresh, followed, now, (personId) => personId).begun.length),
    floor: () => {
      const begun: object[] = [];
      for (const { id, sectionId, year } of students)
        for (const rule of rules)
          if (sectionId !== null && rule.sectionIds.includes(sectionId) && Number(year) >= 0 && Number(year) <= 9) {
            begun.push({ id, groupId: rule.groupId, personId: id, since: now, until: null, held: false });
            break;
          }
      keep(begun.length);
    },
  });
  return [
    {
      name: "Following: 5,000 students through 40 rules",
      ours: best.ours,
      against: [{ name: "a bare loop over the same rows", milliseconds: best.floor, kind: "floor" }],
      note: "nobody placed yet",
    },
  ];
}
