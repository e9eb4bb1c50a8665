import { useCallback, useEffect, useState } from "react";
import { useWorkbench } from "../../../workbench/context.tsx";
import { getJson, isFailure, postJson } from "../../../workbench/fetch.ts";

export interface Remark {
  comment: string;
  note: string;
}
export interface WrittenRemark extends Remark {
  at: number;
  by: string;
}
export interface Work {
  handIns: {
    id: string;
    at: number;
    body: string;
    link: string | null;
    file: { id: string; name: string } | null;
    by: string | null;
  }[];
  own: WrittenRemark | null;
  shared: WrittenRemark | null;
}

/**
 * What was handed in and written about it; null until it is there. It is fetched again whenever the item has another
 * hand-in, and what was there stands meanwhile.
 */
export function useWork(itemId: string, personId: string, groupId: string | null, handIns: number) {
  const { store } = useWorkbench();
  const [work, setWork] = useState<{ key: string; work: Work } | null>(null);
  const key = `${itemId}/${personId}/${groupId}`;
  // biome-ignore lint/correctness/useExhaustiveDependencies: another hand-in is fetched
  useEffect(() => {
    let isLatest = true;
    const search = new URLSearchParams({ item: itemId, person: personId, ...(groupId ? { group: groupId } : {}) });
    void getJson<Work>(`${store.address}/work?${search}`).then((answer) => {
      if (!isLatest) return;
      if (isFailure(answer)) store.tell("wrong", answer.detail);
      else setWork({ key, work: answer });
    });
    return () => {
      isLatest = false;
    };
  }, [store, itemId, personId, groupId, key, handIns]);
  const keep = useCallback(
    async (holderId: string, remark: Remark, seen: Remark | null): Promise<"kept" | Remark | null> => {
      const answer = await postJson<WrittenRemark>(`${store.address}/work`, { itemId, holderId, ...remark, seen });
      const field = holderId === personId ? "own" : "shared";
      const take = (written: WrittenRemark | null) =>
        setWork((before) => before && { ...before, work: { ...before.work, [field]: written } });
      if (!isFailure(answer)) {
        take(answer);
        return "kept";
      }
      store.tell("wrong", answer.detail);
      const newer = answer.body.newer as Remark | null | undefined;
      if (answer.status !== 409) return null;
      take(newer ? { ...newer, at: 0, by: "somebody else" } : null);
      return newer ?? { comment: "", note: "" };
    },
    [store, itemId, personId],
  );
  return { work: work?.key === key ? work.work : null, keep };
}
