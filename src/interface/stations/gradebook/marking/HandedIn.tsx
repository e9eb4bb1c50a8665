import { isInAttemptsForSome } from "../../../../core/attempts/beginning.ts";
import { sayInstant } from "../../../../core/clock/local-time.ts";
import { sayLate } from "../../../../core/gradebook/cells.ts";
import { fullName } from "../../../../core/plan/lookup.ts";
import type { Item } from "../../../../core/plan/types.ts";
import { useWorkbench } from "../../../workbench/context.tsx";
import base from "../../station.module.css";
import { AnswersOf } from "../attempts/Answers.tsx";
import styles from "./marking.module.css";
import type { Held } from "./useHolder.ts";

export const useNames = () => {
  const { plan } = useWorkbench();
  return (id: string) => {
    const one = plan.people[id];
    return one ? fullName(one) : "somebody";
  };
};

export function HandedIn({
  item,
  held: { work, groupIds, holderId },
  due,
}: {
  item: Item;
  held: Held;
  due: number | null;
}) {
  const { plan, store } = useWorkbench();
  const nameOf = useNames();
  return (
    <section className={styles.work} aria-label="What was handed in">
      {!work && <p className={base.soft}>Fetching the work</p>}
      {item.kind === "discussion" && (
        <a href={`/threads/${store.courseId}/${item.id}${groupIds[0] ? `?group=${groupIds[0]}` : ""}`}>
          Read and answer the thread
        </a>
      )}
      {isInAttemptsForSome(plan, item) && <AnswersOf item={item} holderId={holderId} />}
      {work?.handIns.length === 0 && <p className={base.soft}>Nothing has been handed in.</p>}
      {work?.handIns.map(({ id, at, body, link, file, by }, order) => (
        <details key={id} open={order === 0}>
          <summary>
            {order === 0 ? "Handed in" : "Earlier,"} {sayInstant(at, plan.course.timeZone)}
            {by !== null && ` by ${nameOf(by)} for the group`}
            {due !== null && at > due && <span className={base.wrong}>, {sayLate(at - due)} late</span>}
          </summary>
          {(body || (!link && !file && item.quiz === null)) && <p className={styles.body}>{body || "No text."}</p>}
          {link && (
            <p>
              <a href={link} target="_blank" rel="noreferrer">
                {link}
              </a>
            </p>
          )}
          {file && (
            <p>
              <a href={`${store.address}/attachments/${file.id}`} target="_blank" rel="noreferrer">
                {file.name}
              </a>
            </p>
          )}
        </details>
      ))}
    </section>
  );
}
