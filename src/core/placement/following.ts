/** Following sections: an ordered list of placement rules, first match wins. Source: semantics.md section 3. */
import { compareText, homeEnrolment, lookup } from "../plan/lookup.ts";
import type { Layer, Person, Placement, PlacementRule, Plan } from "../plan/types.ts";

/** Whether an attribute of a person passes the test of a rule. Text compares without case, numbers as numbers. */
export function attributeMatches(person: Person, attribute: NonNullable<PlacementRule["attribute"]>): boolean {
  const value = person.attributes[attribute.column]?.normalize("NFC");
  if (value === undefined || value === "") return false;
  const [first = "", second = first] = attribute.values;
  if (attribute.test === "is") return compareText(value, first) === 0;
  if (attribute.test === "starts with") return value.toLowerCase().startsWith(first.toLowerCase());
  return compareText(value, first) >= 0 && compareText(value, second) <= 0;
}

/** The group a person falls into, or null. The section asked about is the home section. */
export function ruleFor(plan: Plan, rules: PlacementRule[], personId: string, t: number): string | null {
  const person = plan.people[personId];
  if (!person) return null;
  const sectionId = homeEnrolment(plan, personId, t)?.sectionId ?? null;
  return rules.find((rule) => asksFor(rule, sectionId) && fits(rule, person))?.groupId ?? null;
}
const asksFor = ({ sectionIds }: PlacementRule, sectionId: string | null) =>
  sectionIds.length === 0 || (sectionId !== null && sectionIds.includes(sectionId));
const fits = ({ attribute }: PlacementRule, person: Person) => !attribute || attributeMatches(person, attribute);

/** As `ruleFor`, for many people: the rules of a section are sorted out once, and each value is tested once. */
function groupByRule(plan: Plan, rules: PlacementRule[]) {
  const tested = new Map(rules.map((rule) => [rule, new Map<string, boolean>()]));
  const passes = (rule: PlacementRule, person: Person): boolean => {
    if (!rule.attribute) return true;
    const value = person.attributes[rule.attribute.column] ?? "";
    const known = tested.get(rule)?.get(value) ?? fits(rule, person);
    tested.get(rule)?.set(value, known);
    return known;
  };
  const bySection = new Map<string | null, PlacementRule[]>();
  return (personId: string, sectionId: string | null): string | null => {
    const own = bySection.get(sectionId) ?? rules.filter((rule) => asksFor(rule, sectionId));
    bySection.set(sectionId, own);
    const person = plan.people[personId];
    return person ? (own.find((rule) => passes(rule, person))?.groupId ?? null) : null;
  };
}

export interface Follow {
  ended: Placement[];
  begun: Placement[];
}

/**
 * What following makes of a layer at t: late arrivals land, switchers move, leavers leave, held placements
 * stay. `idFor` names the placement that begins, so that a replay gives the same rows.
 */
export function follow(plan: Plan, layer: Layer, t: number, idFor: (personId: string) => string): Follow {
  const result: Follow = { ended: [], begun: [] };
  if (!layer.following) return result;
  const { groupsOfLayer, placementsOfGroup, enrolmentsOfPerson } = lookup(plan);
  const groupFor = groupByRule(plan, layer.following);
  const current = new Map<string, Placement[]>();
  for (const group of groupsOfLayer.get(layer.id) ?? []) {
    for (const placement of placementsOfGroup.get(group.id) ?? []) {
      if (placement.until !== null) continue;
      const list = current.get(placement.personId);
      if (list) list.push(placement);
      else current.set(placement.personId, [placement]);
    }
  }
  // Whoever was never enrolled is not a student, and stays where somebody put them.
  for (const personId of enrolmentsOfPerson.keys()) {
    const home = homeEnrolment(plan, personId, t);
    const open = current.get(personId) ?? [];
    if (!home) {
      // Staff placed by hand stay; a student whose enrolment ended leaves, held or not.
      const wasStudent = (enrolmentsOfPerson.get(personId) ?? []).some(({ role }) => role === "student");
      if (wasStudent) for (const placement of open) result.ended.push({ ...placement, until: t });
      continue;
    }
    if (open.some(({ held }) => held)) continue;
    const groupId = groupFor(personId, home.sectionId);
    const stays = open.find((placement) => placement.groupId === groupId);
    for (const placement of open) if (placement !== stays) result.ended.push({ ...placement, until: t });
    if (groupId && !stays) {
      result.begun.push({
        id: idFor(personId),
        groupId,
        personId,
        since: t,
        until: null,
        held: false,
      });
    }
  }
  return result;
}

/** How many students each rule takes, and who falls through, in the order of the rules. */
export function countRules(plan: Plan, rules: PlacementRule[], students: readonly string[], t: number) {
  const taken = rules.map(() => 0);
  const through: string[] = [];
  for (const personId of students) {
    const index = rules.findIndex((rule) => ruleFor(plan, [rule], personId, t) !== null);
    if (index >= 0) taken[index] = (taken[index] ?? 0) + 1;
    else through.push(personId);
  }
  return { taken, through };
}
