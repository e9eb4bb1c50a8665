import { sayInstant } from "../../../core/clock/local-time.ts";
import { fullName } from "../../../core/plan/lookup.ts";
import type { Plan } from "../../../core/plan/types.ts";
import { type EffectLine, weightOf } from "../../../core/review/effect.ts";
import { plural } from "../../kit/words.ts";
import { useDraftReview, useParts, useWorkbench } from "../../workbench/context.tsx";
import base from "../station.module.css";
import { WithPeople } from "../WithPeople.tsx";
import styles from "./review.module.css";
import { effectWords } from "./words.ts";

/** Lines shown; past them every line is about a student or two. */
const most = 200;

interface EffectsProps {
  /** Places in the review's lines, of those that are shown. */
  shown: number[];
  chosen: number | null;
  choose(line: number | null): void;
}

/** Students with the same effects, a line each; warnings first. */
export function Effects({ shown, chosen, choose }: EffectsProps) {
  const state = useParts("draft");
  const { review, parted, isParted } = useDraftReview();
  const isAllLeft = isParted && state.draft.commands.length > 0 && parted.taken.applied.length === 0;
  return (
    <>
      {!review.isKnown && (
        <p className={review.failure ? base.wrong : base.soft} role="status">
          {review.failure ?? "Counting whom the draft touches"}
        </p>
      )}
      {review.isKnown && isParted && shown.length === 0 && (
        <p className={base.soft}>
          {isAllLeft
            ? "All of the draft waits for its moment or stays drafted: now nothing would be published."
            : "Nobody sees anything different: no student's items, dates or groups change."}
        </p>
      )}
      <ul className={styles.lines}>
        {shown.slice(0, most).map((at) => {
          const line = review.lines[at];
          return (
            line && (
              <EffectRow key={at} line={line} chosen={at === chosen} choose={() => choose(at === chosen ? null : at)} />
            )
          );
        })}
      </ul>
      {shown.length > most && (
        <p className={base.soft}>
          and {plural(shown.length - most, "more line")}, each of a student or two with effects of their own
        </p>
      )}
    </>
  );
}

function EffectRow({ line, chosen, choose }: { line: EffectLine; chosen: boolean; choose(): void }) {
  const { plan } = useWorkbench();
  const state = useParts("published");
  const plans = [plan, state.published];
  const said = [...line.effects].sort((a, b) => weightOf(a) - weightOf(b)).map((effect) => effectWords(effect, plans));
  return (
    <li data-chosen={chosen || undefined}>
      <button type="button" className={base.plainButton} onClick={choose} aria-pressed={chosen}>
        <strong>{nameFew(plan, line.personIds)}</strong>
        {said.slice(0, 8).map(({ says, warns }) => (
          <span key={says} className={warns ? base.wrong : ""}>
            {says}
          </span>
        ))}
        {said.length > 8 && <span className={base.soft}>and {said.length - 8} more effects</span>}
      </button>
    </li>
  );
}

function nameFew(plan: Plan, personIds: string[]): string {
  const [only] = personIds;
  const person = personIds.length === 1 && only ? plan.people[only] : undefined;
  return person ? fullName(person) : plural(personIds.length, "student");
}

/** Whom a line is about, each with what they see before and after. */
export function People({ line }: { line: EffectLine }) {
  const { store, plan } = useWorkbench();
  const state = useParts("moment", "leftOut");
  // At the moment of the time rail, as everything else.
  const at = state.moment === null ? "" : `&at=${state.moment}&bt=${state.moment}`;
  const leave = state.leftOut.size > 0 ? `&leave=${[...state.leftOut].join(",")}` : "";
  return (
    <section>
      <h3 className={base.whyTitle}>{plural(line.personIds.length, "student")}</h3>
      <WithPeople quiet personIds={line.personIds} />
      <p className={base.soft}>
        A name opens what they see before and after, side by side
        {state.moment !== null && `, on ${sayInstant(state.moment, plan.course.timeZone)}`}.
      </p>
      <ul className={styles.people}>
        {line.personIds.slice(0, 300).map((personId) => {
          const person = plan.people[personId];
          return (
            person && (
              <li key={personId}>
                <a
                  href={`/look/${store.courseId}/beside?a=${personId}&b=${personId}&change=1${at}${leave}`}
                  target="_blank"
                  rel="noreferrer"
                >
                  {fullName(person)}
                </a>
              </li>
            )
          );
        })}
      </ul>
      {line.personIds.length > 300 && <p className={base.soft}>and {line.personIds.length - 300} more</p>}
    </section>
  );
}
