/** Time zones as calendar files name them: of the standard's table, with a prefix, as Windows calls them, or defined within. */
import ICAL from "ical.js";
import { findIana } from "windows-iana";
import { instantOf, isTimeZone } from "../../clock/local-time.ts";

export interface Zone {
  /** Epoch milliseconds of a local time, `2026-10-05T09:00`. */
  instantOf(wall: string): number;
}

export const zoneNamed = (timeZone: string): Zone => ({ instantOf: (wall) => instantOf(wall, timeZone) });

/** The name of the standard's table that is meant; null where none is. A prefix (/x.example/2005_1/Europe/Dublin) is passed over. */
function nameOf(tzid: string): string | null {
  const parts = tzid.split("/").filter((part) => part !== "");
  for (let at = 0; at < parts.length; at++) {
    const name = parts.slice(at).join("/");
    if (isTimeZone(name)) return name;
  }
  return findIana(tzid)[0] ?? null;
}

function definedZone(component: ICAL.Component): Zone {
  const zone = new ICAL.Timezone(component);
  return {
    instantOf(wall) {
      const time = ICAL.Time.fromDateTimeString(`${wall}:00`);
      time.zone = zone;
      return time.toUnixTime() * 1000;
    },
  };
}

export interface Zones {
  /** The zone of a name; the course's where nobody knows it. */
  of(tzid: string | null): Zone;
  /** Names that nobody knows. */
  unknown: ReadonlySet<string>;
}

/** The zones of some calendars: names of the table go before what a file says of them, since its rules may be old. */
export function zonesIn(calendars: ICAL.Component[], courseZone: string): Zones {
  const defined = new Map<string, ICAL.Component>();
  for (const calendar of calendars)
    for (const component of calendar.getAllSubcomponents("vtimezone")) {
      const tzid = component.getFirstPropertyValue("tzid");
      if (typeof tzid === "string") defined.set(tzid, component);
    }
  const known = new Map<string | null, Zone>();
  const unknown = new Set<string>();
  const find = (tzid: string | null): Zone => {
    if (tzid === null) return zoneNamed(courseZone);
    if (isTimeZone(tzid)) return zoneNamed(tzid);
    const component = defined.get(tzid);
    if (component) return definedZone(component);
    const name = nameOf(tzid);
    if (name) return zoneNamed(name);
    unknown.add(tzid);
    return zoneNamed(courseZone);
  };
  return {
    unknown,
    of(tzid) {
      const zone = known.get(tzid) ?? find(tzid);
      known.set(tzid, zone);
      return zone;
    },
  };
}
