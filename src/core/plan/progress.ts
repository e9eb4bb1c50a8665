/** What people do in a course: live rows, read by the engines beside the plan. Source: semantics.md sections 5, 7. */

export interface Mark {
  personId: string;
  itemId: string;
  /** Null where nothing but an excuse is recorded. */
  points: number | null;
  excused: boolean;
  /** Epoch milliseconds. */
  at: number;
}
export interface HandIn {
  id: string;
  personId: string;
  itemId: string;
  at: number;
}
export interface Opening {
  personId: string;
  itemId: string;
  at: number;
  /** Marked as read, not only opened. */
  readAt: number | null;
}
export interface Progress {
  marks: Mark[];
  handIns: HandIn[];
  openings: Opening[];
}

export const noProgress: Progress = { marks: [], handIns: [], openings: [] };

export interface ProgressLookup {
  mark(personId: string, itemId: string): Mark | undefined;
  handIns(personId: string, itemId: string): HandIn[];
  opening(personId: string, itemId: string): Opening | undefined;
}

const kept = new WeakMap<Progress, ProgressLookup>();
const noHandIns: HandIn[] = [];

export function progressLookup(progress: Progress): ProgressLookup {
  const ready = kept.get(progress);
  if (ready) return ready;
  // By item, then by person: no key is put together for the questions asked most.
  const byItem = <Row extends { itemId: string; personId: string }>(rows: Row[]) => {
    const found = new Map<string, Map<string, Row[]>>();
    for (const row of rows) {
      let people = found.get(row.itemId);
      if (!people) {
        people = new Map();
        found.set(row.itemId, people);
      }
      const list = people.get(row.personId);
      if (list) list.push(row);
      else people.set(row.personId, [row]);
    }
    return found;
  };
  const [marks, openings, handIns] = [byItem(progress.marks), byItem(progress.openings), byItem(progress.handIns)];
  const made: ProgressLookup = {
    mark: (personId, itemId) => marks.get(itemId)?.get(personId)?.at(-1),
    handIns: (personId, itemId) => handIns.get(itemId)?.get(personId) ?? noHandIns,
    opening: (personId, itemId) => openings.get(itemId)?.get(personId)?.at(-1),
  };
  kept.set(progress, made);
  return made;
}

/** Whether points reach a percentage of the possible, exact to a thousandth of a point and of a percent. */
export const reachesPercent = (points: number, possible: number, percent: number): boolean =>
  Math.round(points * 1e6) * 100 >= Math.round(percent * 1e3) * Math.round(possible * 1e3);

/** A percentage to show: at most one decimal, never rounded up to a threshold that is not met. */
export const showPercent = (points: number, possible: number): string =>
  `${Math.floor((points / possible) * 1000 + 1e-6) / 10} %`;
