/** Possible same people under two ids: asked, never guessed; many of one kind are answered at once. */

import type { Likeness, LikenessKind } from "../../../core/intake/verdict.ts";
import { fullName } from "../../../core/plan/lookup.ts";
import { collect } from "../../../core/sets/collect.ts";
import { isolated } from "../../../core/text/names.ts";
import { Button } from "../../kit/Button.tsx";
import { Few } from "../../kit/Few.tsx";
import base from "../station.module.css";
import styles from "./intake.module.css";
import type { IntakeState } from "./useIntake.ts";

interface QuestionsProps {
  questions: Likeness[];
  intake: IntakeState;
}

export function Questions({ questions, intake }: QuestionsProps) {
  const { samePeople, setSamePeople } = intake;
  if (questions.length === 0) return null;
  const answer = (about: Likeness[], isSame: boolean) =>
    setSamePeople({
      ...samePeople,
      ...Object.fromEntries(about.map(({ row, sourcedId }) => [row.sourcedId, isSame ? sourcedId : null])),
    });
  return (
    <section aria-label="Questions" className={styles.questions}>
      {[...collect(questions, ({ kind }) => kind)].map(([kind, about]) =>
        about.length > 3 ? (
          <Many key={kind} {...{ kind, about, answer }} />
        ) : (
          <Each key={kind} {...{ about, answer }} />
        ),
      )}
    </section>
  );
}

interface AskedProps {
  about: Likeness[];
  answer(about: Likeness[], isSame: boolean): void;
}

const Each = ({ about, answer }: AskedProps) => (
  <>
    {about.map((one) => (
      <div key={one.row.sourcedId} className={base.bar}>
        <span>
          Line {one.row.line}: is {isolated(fullName(one.row)) || "whoever has no name"}, {one.row.sourcedId}, the same
          person as {one.other}? They have {one.because}.
        </span>
        <Button onPress={() => answer([one], true)}>Same person</Button>
        <Button onPress={() => answer([one], false)}>Two people</Button>
      </div>
    ))}
  </>
);

/** What many have in common, and what taking them for the same does. */
const manySay: Record<LikenessKind, [is: string, press: string]> = {
  zeros: ["ids lost their leading zeros", "Mend"],
  login: ["rows have a known login under another id", "The same people:"],
  "e-mail": ["rows have a known name and e-mail under another id", "The same people:"],
  birthday: ["rows have a known name and birthday under another id", "The same people:"],
  section: ["rows have a known name of their section under another id", "The same people:"],
};

function Many({ kind, about, answer }: AskedProps & { kind: LikenessKind }) {
  const [is, press] = manySay[kind];
  return (
    <div>
      <div className={base.bar}>
        <strong>
          {about.length} {is}.
        </strong>
        <Button strong onPress={() => answer(about, true)}>
          {press} {about.length}
        </Button>
        <Button onPress={() => answer(about, false)}>All are other people</Button>
      </div>
      <ul>
        <Few of={about} most={3}>
          {({ row, other }) => (
            <li key={row.sourcedId}>
              Line {row.line}: {isolated(fullName(row))} {row.sourcedId} for {other}
            </li>
          )}
        </Few>
      </ul>
    </div>
  );
}
