/** Why an item stands as it does for one student: whether they can open it, and each of their dates. */
import { useState } from "react";
import type { Item } from "../../../../core/plan/types.ts";
import { explain } from "../../../../core/reach/explain.ts";
import { isSetAnywhere } from "../../../../core/timing/resolving/chain.ts";
import { dateFields } from "../../../../core/timing/resolving/resolve.ts";
import { useReach, useWorkbench } from "../../../workbench/context.tsx";
import { Person } from "../../Person.tsx";
import { Steps } from "../../Steps.tsx";
import { Chain } from "../../timing/dates/Chain.tsx";
import { fieldTitle } from "../../timing/sayValue.ts";
import styles from "../reach.module.css";

export function WhyFor({ item }: { item: Item }) {
  const { store, plan } = useWorkbench();
  const reach = useReach();
  const [personId, setPersonId] = useState<string | null>(null);
  const explanation = personId ? explain(reach, item, personId) : null;
  return (
    <>
      <Person label="Why, for" personId={personId} onChange={setPersonId} />
      {personId && explanation && (
        <>
          <Steps steps={explanation.steps} />
          {dateFields
            .filter((field) => isSetAnywhere(plan, item, field))
            .map((field) => (
              <div key={field}>
                <h4 className={styles.waysTitle}>{fieldTitle(field, item.kind)}</h4>
                <Chain item={item} field={field} personId={personId} />
              </div>
            ))}
          <p>
            <a href={`/look/${store.courseId}/${personId}?draft=1`} target="_blank" rel="noreferrer">
              Look as them
            </a>
          </p>
        </>
      )}
    </>
  );
}
