/** What the field of the top rule finds by name: stations, actions, groups, items and people. */
import { fullName, lookup } from "../../core/plan/lookup.ts";
import type { Plan } from "../../core/plan/types.ts";
import type { Findable } from "../kit/Finder.tsx";
import { type Station, stations, type WorkbenchState } from "./state.ts";
import type { Store } from "./store.ts";

export interface Found extends Findable {
  /** More by which it is found. */
  words?: string;
  go(): void;
}

/** What people look for at each station, beside its name. */
const stationWords: Record<Station, string> = {
  intake: "import roster upload file registrar enrol staff invite",
  placement: "groups layers sections teams place split class",
  reach: "content items outline who sees audit leaks folder",
  timing: "dates due calendar meetings extension override allowance extra time",
  gradebook: "marks grades filter totals hand-ins",
  review: "publish draft journal history messages undo new term",
};

export function findable(plan: Plan, store: Store, showShortcuts: () => void): Found[] {
  const to = (station: Station, kind: NonNullable<WorkbenchState["target"]>["kind"], id: string) => () =>
    store.go(station, { kind, id });
  const action = (id: string, name: string, go: () => void): Found => ({ id, name, what: "action", go });
  const found: Found[] = [
    ...stations.map((station) => ({
      id: station,
      name: `${station[0]?.toUpperCase()}${station.slice(1)}`,
      what: "station",
      words: stationWords[station],
      go: () => store.go(station),
    })),
    action("undo", "Undo the last drafted change", () => store.step("undo")),
    action("redo", "Redo", () => store.step("redo")),
    action("now", "Show the present", () => store.setMoment(null)),
    action("keys", "List the shortcuts", showShortcuts),
  ];
  for (const layer of lookup(plan).layers)
    for (const { id, name } of lookup(plan).groupsOfLayer.get(layer.id) ?? [])
      found.push({ id, name, what: `group of ${layer.name}`, go: to("placement", "group", id) });
  for (const { id, title, kind } of Object.values(plan.items))
    found.push({ id, name: title, what: kind, go: to("reach", "item", id) });
  for (const person of Object.values(plan.people))
    found.push({
      id: person.id,
      name: fullName(person),
      what: person.sourcedId,
      words: `${person.username} ${person.email} ${person.givenName} ${person.familyName}`,
      go: to("placement", "person", person.id),
    });
  return found;
}
