/** Whose work stands in the pane, for whom its mark is, and what stands there. */
import { useState } from "react";
import type { Sheet } from "../../../../core/gradebook/sheet.ts";
import { progressByItem, progressLookup } from "../../../../core/plan/progress.ts";
import type { Item } from "../../../../core/plan/types.ts";
import { groupsThen, sharers } from "../../../../core/reach/group-work.ts";
import { useParts, useWorkbench } from "../../../workbench/context.tsx";
import type { Marks } from "../useMarks.ts";
import { useWork } from "./useWork.ts";

/** Goes on in the queue, past some students whose work is marked with this one. */
type Go = (past: string[]) => void;

export interface Unsent {
  typed: string | null;
  comment: string | null;
  note: string | null;
}

export interface WorkPaneProps {
  sheet: Sheet;
  item: Item;
  personId: string;
  marks: Marks;
  /** Where the queue goes on; null at its end. */
  next: Go | null;
  previous: Go | null;
  /** What was typed and could not be stored, by item and student. */
  unsent: Map<string, Unsent>;
}

/** Whose work it is: groups that the student handed it in with, and whose mark stands there. */
function useSharing({ sheet, item, personId }: WorkPaneProps) {
  const { plan, t } = useWorkbench();
  const { scope } = useParts("scope");
  const found = progressLookup(sheet.reach.progress);
  const latest = found.handIns(personId, item.id).reduce((last, { at }) => Math.max(last, at), 0);
  // Within a scope a group is marked together where all of it lies in that.
  const groupIds = (item.split ? groupsThen(plan, item.split.layerId, personId, latest || t) : []).filter(
    (id) => scope === null || scope.own.includes(id),
  );
  const mark = found.mark(personId, item.id);
  return { groupIds, sharedBy: mark?.shared, hasOwn: mark !== undefined && mark.shared === undefined };
}

/** For whom the mark is: the student, or a group that they share the work with; and what stands there. */
export function useHolder(props: WorkPaneProps) {
  const { sheet, item, personId } = props;
  const { plan, t } = useWorkbench();
  const { groupIds, sharedBy, hasOwn } = useSharing(props);
  const shared = sharedBy !== undefined && groupIds.includes(sharedBy) ? sharedBy : undefined;
  // Work of a group is marked for the group, unless this student has a mark of their own.
  const [holderId, setHolder] = useState(shared ?? (hasOwn ? personId : (groupIds[0] ?? personId)));
  const groupId = holderId === personId ? null : holderId;
  const rows = progressByItem(sheet.reach.rawProgress);
  const handIns = rows.handIns.get(item.id) ?? [];
  const groupMark = rows.groupMarks.get(item.id)?.find((one) => one.groupId === groupId);
  const { work, keep } = useWork(item.id, personId, groupId ?? groupIds[0] ?? null, handIns.length);
  const ownMark = sharedBy === undefined ? sheet.cell(item, personId)?.mark : null;
  return {
    groupIds,
    holderId,
    setHolder,
    groupId,
    work,
    keep,
    mark: (groupId ? groupMark : ownMark) ?? null,
    remark: (groupId ? work?.shared : work?.own) ?? null,
    /** Of the group, as of its hand-in. */
    members: groupId ? sharers(plan, item, groupId, handIns, groupMark?.at ?? t) : [],
  };
}

export type Held = ReturnType<typeof useHolder>;
