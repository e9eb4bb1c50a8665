/** What just happened or went wrong: said once, kept until the next, until closed, or until one goes on. */
import { useEffect, useRef } from "react";
import { Button } from "../kit/Button.tsx";
import { useParts, useWorkbench } from "./context.tsx";
import styles from "./notice.module.css";

export function NoticeLine() {
  const { store } = useWorkbench();
  const { notice, draft, station } = useParts("notice", "draft", "station");
  const about = `${station} ${draft.commands.at(-1)?.id}`;
  useEffect(() => {
    if (notice?.tone !== "done") return;
    const timer = setTimeout(store.dismiss, 6000);
    return () => clearTimeout(timer);
  }, [notice, store]);
  // A refusal goes with what it was about: once something else is drafted, or somewhere else is looked at.
  const before = useRef(about);
  useEffect(() => {
    if (before.current !== about && notice?.tone === "wrong") store.dismiss();
    before.current = about;
  }, [about, notice, store]);
  return (
    <div className={styles.notices} aria-live="polite">
      {notice && (
        <div className={styles.notice} data-tone={notice.tone} role={notice.tone === "wrong" ? "alert" : undefined}>
          <span>{notice.says}</span>
          <Button quiet onPress={store.dismiss}>
            Close
          </Button>
        </div>
      )}
    </div>
  );
}
