import { useCallback, useState } from "react";
import { Fetched } from "../../kit/fetched.tsx";
import { messageDialog } from "../../messages/messageDialog.ts";
import { useWorkbench } from "../../workbench/context.tsx";
import { MoreTimeDialog } from "../MoreTime.tsx";
import type { WithChosen } from "./grid/editing.ts";

/** What a key begins with the students of the chosen cells. */
export function useWithChosen() {
  const { store } = useWorkbench();
  const [open, setOpen] = useState<{ what: "more time" | "message"; personIds: string[]; itemId: string } | null>(null);
  const onClose = () => setOpen(null);
  const begin = useCallback(
    (what: WithChosen, personIds: string[], itemId: string) => {
      if (what !== "look") return setOpen({ what, personIds, itemId });
      window.open(`/look/${store.courseId}/${personIds[0]}`, "_blank", "noreferrer");
    },
    [store.courseId],
  );
  const to = open?.personIds.map((id) => ({ kind: "person" as const, id }));
  const dialog =
    open?.what === "more time" ? (
      <MoreTimeDialog {...open} onClose={onClose} />
    ) : open && to ? (
      <Fetched part={messageDialog} props={{ start: { to, itemId: open.itemId }, onClose }} />
    ) : null;
  return { begin, dialog };
}
