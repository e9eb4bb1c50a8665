/**
 * Where one is on the workbench: what is looked at and selected at each station. The address says it, so that back, a
 * reload and a link to a colleague lead there again.
 */
import { type Place, type Station, stations } from "./state.ts";

/** What all stations share: the item that is selected on Reach is the one that Timing opens. */
const shared = ["layer", "item", "group", "person"];
/** What each station has of its own. */
const own = ["view", "filter"];

/** The place that an address names; what other stations have of their own stays. */
export function readPlace(search: string, station: Station, before: Place = {}): Place {
  const query = new URLSearchParams(search);
  const place: Record<string, string> = {};
  for (const [name, value] of Object.entries(before))
    if (name.includes(".") && !name.startsWith(`${station}.`)) place[name] = value;
  for (const name of shared) {
    const value = query.get(name);
    if (value) place[name] = value;
  }
  for (const name of own) {
    const value = query.get(name);
    if (value) place[`${station}.${name}`] = value;
  }
  return place;
}

/** The moment that an address names, in epoch milliseconds; null: the present. */
export function readMomentOf(search: string): number | null {
  const at = Number(new URLSearchParams(search).get("at") ?? Number.NaN);
  return Number.isSafeInteger(at) ? at : null;
}

export interface Whereabouts {
  courseId: string;
  station: Station;
  place: Place;
  moment: number | null;
}

/** The address of a place. */
export function addressOfPlace({ courseId, station, place, moment }: Whereabouts): string {
  const query = new URLSearchParams();
  for (const name of shared) if (place[name]) query.set(name, place[name]);
  for (const name of own) {
    const value = place[`${station}.${name}`];
    if (value) query.set(name, value);
  }
  if (moment !== null) query.set("at", String(moment));
  const asked = query.toString();
  return `/workbench/${courseId}/${station}${asked && `?${asked}`}`;
}

const lastKey = (courseId: string) => `amber station ${courseId}`;

/** The station at which somebody was last in a course, in this browser; null where it is new to them. */
export function lastStation(courseId: string): Station | null {
  const kept = localStorage.getItem(lastKey(courseId));
  return stations.find((name) => name === kept) ?? null;
}
export const keepLastStation = (courseId: string, station: Station): void =>
  localStorage.setItem(lastKey(courseId), station);

/** Where somebody was last on any workbench, for their first page: a key in this browser. */
export const lastPlaceKey = "amber last place";
export const keepLastPlace = (address: string): void => localStorage.setItem(lastPlaceKey, address);
