import { useCallback, useState } from "react";
import * as api from "../../../../api/gradebook.ts";
import { useEffectWhen } from "../../../kit/when.ts";
import { useWorkbench } from "../../../workbench/context.tsx";
import { ask, isFailure } from "../../../workbench/fetch.ts";

export type { Remark, StoredRemark as WrittenRemark, Work } from "../../../../api/gradebook.ts";

/**
 * What was handed in and written about it; null until it is there. It is fetched again whenever the item has another
 * hand-in, and what was there stands meanwhile.
 */
export function useWork(itemId: string, personId: string, groupId: string | null, handIns: number) {
  const { store } = useWorkbench();
  const [work, setWork] = useState<{ key: string; work: api.Work } | null>(null);
  const key = `${itemId}/${personId}/${groupId}`;
  // Another hand-in is fetched.
  useEffectWhen([store, itemId, personId, groupId, key, handIns], () => {
    let isLatest = true;
    const query = { item: itemId, person: personId, group: groupId ?? "" };
    void ask(store.address, api.readWork, { query }).then((answer) => {
      if (!isLatest) return;
      if (isFailure(answer)) store.tell("wrong", answer.detail);
      else setWork({ key, work: answer });
    });
    return () => {
      isLatest = false;
    };
  });
  const keep = useCallback(
    async (holderId: string, remark: api.Remark, seen: api.Remark | null): Promise<"kept" | api.Remark | null> => {
      const answer = await ask(store.address, api.writeRemark, { body: { itemId, holderId, ...remark, seen } });
      const field = holderId === personId ? "own" : "shared";
      const take = (written: api.StoredRemark | null) =>
        setWork((before) => before && { ...before, work: { ...before.work, [field]: written } });
      if (!isFailure(answer)) {
        take(answer);
        return "kept";
      }
      store.tell("wrong", answer.detail);
      const newer = answer.body.newer as api.Remark | null | undefined;
      if (answer.status !== 409) return null;
      take(newer ? { ...newer, at: 0, by: "somebody else" } : null);
      return newer ?? { comment: "", note: "" };
    },
    [store, itemId, personId],
  );
  return { work: work?.key === key ? work.work : null, keep };
}
