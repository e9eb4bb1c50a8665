import { useState } from "react";
import { Views } from "../../kit/Views.tsx";
import { useDraftReview, useParts, usePlace, Why } from "../../workbench/context.tsx";
import { type ViewOf, viewsOf } from "../../workbench/views.ts";
import base from "../station.module.css";
import { ByGroup } from "./ByGroup.tsx";
import { CourseView } from "./CourseView.tsx";
import { Drafted } from "./Drafted.tsx";
import { Effects, People } from "./Effects.tsx";
import { JustPublished } from "./JustPublished.tsx";
import { AccessLogView } from "./journal/AccessLogView.tsx";
import { JournalView } from "./journal/JournalView.tsx";
import { MessagesView } from "./MessagesView.tsx";
import { Proposals } from "./Proposals.tsx";
import styles from "./review.module.css";
import { Warnings } from "./Warnings.tsx";

/** What the draft does to people, before anyone is touched; and what was done. */
export function ReviewStation() {
  const state = useParts("scope");
  const { review, parted } = useDraftReview();
  const [view, setView] = usePlace<ViewOf<"review">>("review.view", "draft");
  return (
    <div className={base.station}>
      <div className={base.head}>
        <h2>Review</h2>
        <Views
          followsArrows
          label="View"
          value={view}
          onChange={setView}
          options={viewsOf("review", state.scope === null)}
        />
        {view === "draft" && parted.taken.applied.length > 0 && review.isKnown && (
          <div className={base.figures}>
            <span>
              <strong>{review.touched}</strong> {review.touched === 1 ? "student" : "students"} touched
            </span>
            {(
              [
                [review.losingWork, "loses work they did", "lose work they did"],
                [review.earlier, "with something due earlier or less allowed"],
                [review.pressing, "with a due passed or within a day"],
                [review.leaksAdded, "in a new leak"],
                [review.losing, "loses something", "lose something"],
              ] as const
            ).map(([count, one, many = one]) => (
              <span key={one} className={count > 0 ? base.wrong : ""}>
                <strong>{count}</strong> {count === 1 ? one : many}
              </span>
            ))}
          </div>
        )}
      </div>
      {view === "draft" ? (
        <DraftView />
      ) : view === "messages" ? (
        <MessagesView />
      ) : view === "journal" ? (
        <JournalView />
      ) : view === "access" ? (
        <AccessLogView />
      ) : (
        <CourseView />
      )}
    </div>
  );
}

function DraftView() {
  const state = useParts("drafted", "draft", "proposals", "justPublished");
  const { review } = useDraftReview();
  const [line, setLine] = useState<number | null>(null);
  const [cause, setCause] = useState<string | null>(null);
  const { applied, refused } = state.drafted;
  if (applied.length === 0 && refused.length === 0 && state.draft.planned.length === 0) {
    return (
      <>
        <Proposals />
        {state.justPublished ? (
          <JustPublished {...state.justPublished} />
        ) : (
          state.proposals.length === 0 && <NothingDrafted />
        )}
      </>
    );
  }
  const only = cause === null ? null : (review.causes.get(cause)?.lines ?? new Set<number>());
  const shown = [...review.lines.keys()].filter((at) => only?.has(at) ?? true);
  const chosen = line === null ? null : (review.lines[line] ?? null);
  const says = applied.find(({ command }) => command.id === cause)?.says;
  return (
    <>
      <Proposals />
      <Warnings />
      <ByGroup />
      <div className={styles.halves}>
        <section aria-label="Effects on people" className={base.scroll}>
          <h3>{says ? `Effects of: ${says}` : "Effects on people"}</h3>
          <Effects shown={shown} chosen={line} choose={setLine} />
        </section>
        <Drafted cause={cause} setCause={setCause} />
      </div>
      <Why>
        {chosen ? (
          <People line={chosen} />
        ) : (
          <p className={base.soft}>
            Press a line to see whom it is about, and a change to see its effects alone. What you untick stays drafted;
            Publish, at the bottom, makes the rest so at once.
          </p>
        )}
      </Why>
    </>
  );
}

const NothingDrafted = () => (
  <div className={base.empty}>
    <h3>Nothing is drafted</h3>
    <p className={base.soft}>
      What you change on the stations is drafted. Before it is published, its effect on people is shown here.
    </p>
  </div>
);
