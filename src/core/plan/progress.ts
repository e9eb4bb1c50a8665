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

/** Rows by item: no key is put together for the questions asked most. */
interface ByItem {
  marks: Map<string, Mark[]>;
  handIns: Map<string, HandIn[]>;
  openings: Map<string, Opening[]>;
}

function collect<Row extends { itemId: string }>(rows: Row[]): Map<string, Row[]> {
  const found = new Map<string, Row[]>();
  for (const row of rows) {
    const list = found.get(row.itemId);
    if (list) list.push(row);
    else found.set(row.itemId, [row]);
  }
  return found;
}

const grouped = new WeakMap<Progress, ByItem>();

/** The rows of progress, an item at a time. */
export function progressByItem(progress: Progress): ByItem {
  const ready = grouped.get(progress);
  if (ready) return ready;
  const made: ByItem = {
    marks: collect(progress.marks),
    handIns: collect(progress.handIns),
    openings: collect(progress.openings),
  };
  grouped.set(progress, made);
  return made;
}

const kept = new WeakMap<Progress, ProgressLookup>();
const noHandIns: HandIn[] = [];

export function progressLookup(progress: Progress): ProgressLookup {
  const ready = kept.get(progress);
  if (ready) return ready;
  const rows = progressByItem(progress);
  /** An item's rows by person, put together when the item is first asked about. */
  const byPerson = <Row extends { personId: string }>(items: Map<string, Row[]>) => {
    const known = new Map<string, Map<string, Row[]>>();
    return (itemId: string, personId: string): Row[] | undefined => {
      let people = known.get(itemId);
      if (!people) {
        people = new Map();
        for (const row of items.get(itemId) ?? []) {
          const list = people.get(row.personId);
          if (list) list.push(row);
          else people.set(row.personId, [row]);
        }
        known.set(itemId, people);
      }
      return people.get(personId);
    };
  };
  const [marks, openings, handIns] = [byPerson(rows.marks), byPerson(rows.openings), byPerson(rows.handIns)];
  const made: ProgressLookup = {
    mark: (personId, itemId) => marks(itemId, personId)?.at(-1),
    handIns: (personId, itemId) => handIns(itemId, personId) ?? noHandIns,
    opening: (personId, itemId) => openings(itemId, personId)?.at(-1),
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
