/** Every look at dates, item by item, so that what is read of one item is read once. Source: semantics.md section 6. */
import type { Item } from "../../../plan/types.ts";
import { dateTable } from "../../../timing/resolving/table.ts";
import type { Reach } from "../../reach.ts";
import type { Finding, FindingKind } from "../finding.ts";
import { type Dated, datedOf } from "./dated.ts";
import { inVain, movedEarlier } from "./draft.ts";
import { comparedGroups, type Dues, noteDues, sameDay, unequalTime } from "./groups.ts";
import { dueBeforeMeeting, dueOnFreeDay, outOfOrder, tooLittleTime, undated } from "./moments.ts";

/** `published`: the plan as people have it, where the one that is asked about is a draft. */
export function dateFindings(
  reach: Reach,
  layerId: string | null,
  published: Reach | null,
  kinds: ReadonlySet<FindingKind>,
): Finding[] {
  const dated = datedOf(reach, layerId);
  const before = published && published.plan !== reach.plan ? dateTable(published, undefined, true) : null;
  const compares = kinds.has("same day") || kinds.has("unequal time");
  const groups = compares ? comparedGroups(dated) : [];
  const dues: Dues = new Map();
  const looks: [FindingKind, (dated: Dated, item: Item) => Finding[]][] = [
    ["dates", outOfOrder],
    ["no date", undated],
    ["too little time", tooLittleTime],
    ["moved earlier", (_, item) => (before ? movedEarlier(dated, item, before) : [])],
    ["before meeting", dueBeforeMeeting],
    ["no-class day", dueOnFreeDay],
    ["unequal time", (_, item) => unequalTime(dated, item, groups)],
    ["vain override", inVain],
  ];
  const asked = looks.filter(([kind]) => kinds.has(kind));
  const found = dated.items.flatMap((item) => {
    if (kinds.has("same day")) noteDues(dated, item, groups, dues);
    return asked.flatMap(([, look]) => look(dated, item));
  });
  return kinds.has("same day") ? [...found, ...sameDay(dated, dues)] : found;
}
