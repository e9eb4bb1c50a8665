/** After a publication: who sees it now, what went out, and the ways on. */

import { Button } from "../../kit/Button.tsx";
import { byPlace } from "../../kit/places.ts";
import { plural } from "../../kit/words.ts";
import { useParts, usePlace, useWorkbench } from "../../workbench/context.tsx";
import { stationName } from "../../workbench/names.ts";
import type { Published } from "../../workbench/state.ts";
import type { ViewOf } from "../../workbench/views.ts";
import base from "../station.module.css";

/** More lines than these are read in the journal. */
const most = 12;

export function JustPublished({ touched, says }: Published) {
  const { store } = useWorkbench();
  const { scope } = useParts("scope");
  const [, setView] = usePlace<ViewOf<"review">>("review.view", "draft");
  const from = store.cameFrom();
  return (
    <section className={base.empty} aria-label="What was published">
      <h3>
        {touched === 0
          ? "It is published; nobody sees a difference"
          : `${plural(touched, "student")} ${touched === 1 ? "sees" : "see"} it now`}
      </h3>
      <ul>
        {byPlace(says.slice(0, most)).map(({ key, one }) => (
          <li key={key}>{one}</li>
        ))}
        {says.length > most && <li>and {says.length - most} more</li>}
      </ul>
      <div className={base.bar}>
        {from && (
          <Button strong onPress={() => store.goBack()}>
            Back to {stationName(from, scope === null)}
          </Button>
        )}
        {scope === null && <Button onPress={() => setView("journal")}>See it in the journal, or revert it</Button>}
      </div>
    </section>
  );
}
