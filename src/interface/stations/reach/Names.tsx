import { nameOf } from "../../../core/reach/explain.ts";
import { sayNumber } from "../../../core/text/locale.ts";
import { useWorkbench } from "../../workbench/context.tsx";
import base from "../station.module.css";
import { WithPeople } from "../WithPeople.tsx";
import styles from "./reach.module.css";

/** The first of some students, each a way to look through their eyes as drafted, and all of them into a group. */
export function Names({ personIds, most }: { personIds: string[]; most: number }) {
  const { store, plan, t } = useWorkbench();
  return (
    <>
      <p className={styles.names}>
        {personIds.slice(0, most).map((personId) => (
          <a
            key={personId}
            href={`/look/${store.courseId}/${personId}?draft=1&at=${t}`}
            target="_blank"
            rel="noreferrer"
            title="Look through their eyes"
          >
            {nameOf(plan, personId)}
          </a>
        ))}
        {personIds.length > most && <span className={base.soft}>and {sayNumber(personIds.length - most)} more</span>}
      </p>
      <WithPeople quiet personIds={personIds} />
    </>
  );
}
