/** What the field of the top rule finds by name: stations, actions, groups, items and people. */
import { fullName, lookup } from "../../core/plan/lookup.ts";
import type { Plan } from "../../core/plan/types.ts";
import type { Findable } from "../kit/Finder.tsx";
import { stationName } from "./names.ts";
import { type Station, stations, type WorkbenchState } from "./state.ts";
import type { Store } from "./store.ts";
import { actions, viewsOf } from "./views.ts";

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
  review: "publish draft journal history access log looks exports messages undo new term",
};

export function findable(plan: Plan, store: Store, showShortcuts: () => void): Found[] {
  const to = (station: Station, kind: NonNullable<WorkbenchState["target"]>["kind"], id: string) => () =>
    store.go(station, { kind, id });
  const isWhole = store.course().scope === null;
  const shownViews = stations.flatMap((station) => viewsOf(station, isWhole).map((view) => ({ station, ...view })));
  const begun = actions.filter(({ whole }) => isWhole || !whole);
  const action = (id: string, name: string, go: () => void): Found => ({ id, name, what: "action", go });
  const found: Found[] = [
    ...stations.map((station) => ({
      id: station,
      name: stationName(station, isWhole),
      what: "station",
      words: stationWords[station],
      go: () => store.go(station),
    })),
    ...shownViews.map(({ station, value, label }) => ({
      id: `${station} ${value}`,
      name: label,
      what: `view of ${stationName(station, isWhole)}`,
      go() {
        store.setPlace(`${station}.view`, value);
        store.go(station);
      },
    })),
    ...begun.map(({ id, station, name, words }) => ({
      id,
      name,
      what: `action at ${stationName(station, isWhole)}`,
      words,
      go: () => store.go(station, { kind: "action", id }),
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
