import { useState } from "react";
import { sayInstant } from "../../../../core/clock/local-time.ts";
import { openFindings } from "../../../../core/reach/audit/audit.ts";
import { type Finding, kindWords } from "../../../../core/reach/audit/finding.ts";
import type { Mend } from "../../../../core/review/mends/mends.ts";
import { termOf } from "../../../../core/timing/instants.ts";
import { Button } from "../../../kit/Button.tsx";
import { TextField } from "../../../kit/Fields.tsx";
import { SubmitForm } from "../../../kit/SubmitForm.tsx";
import { useEffectWhen } from "../../../kit/when.ts";
import { plural } from "../../../kit/words.ts";
import { useFindings, useWorkbench } from "../../../workbench/context.tsx";
import base from "../../station.module.css";
import { Names } from "../Names.tsx";
import reach from "../reach.module.css";
import styles from "./audit.module.css";

interface FindingProps {
  finding: Finding;
  /** Where the item can be looked at. */
  show: { says: string; go(): void };
}

/** One finding: who, why, since when; the mends with their effect; and letting it stand, with a reason. */
export function FindingWhy({ finding, show }: FindingProps) {
  const { store, plan, t } = useWorkbench();
  const { personIds, from, accepted } = finding;
  const say = (at: number) => sayInstant(at, plan.course.timeZone);
  return (
    <section>
      <h3 className={base.whyTitle}>
        {kindWords[finding.kind].name}: {finding.subject}
      </h3>
      <p className={finding.asks || accepted ? "" : base.wrong}>{finding.says}</p>
      <p>{finding.why}</p>
      {from !== null && (
        <p>
          {from <= termOf(plan).from
            ? "Since the term began."
            : from <= t
              ? `Since ${say(from)}.`
              : `From ${say(from)}.`}
        </p>
      )}
      {personIds.length > 0 && <Names personIds={personIds} most={8} />}
      {finding.itemId && (
        <Button quiet onPress={show.go}>
          {show.says}
        </Button>
      )}
      {accepted ? (
        <div className={styles.accepted}>
          <p>Let stand: {accepted.reason}</p>
          <Button onPress={() => store.draft([{ kind: "finding.reopen", finding: finding.key }])}>Open it again</Button>
        </div>
      ) : (
        <>
          <Mends finding={finding} />
          <Accept finding={finding} />
        </>
      )}
    </section>
  );
}

function Mends({ finding }: { finding: Finding }) {
  const { store } = useWorkbench();
  const audit = useFindings();
  const [mends, setMends] = useState<Mend[] | null>(null);
  const { mends: ask, pending } = audit;
  // The state of a finding says when it is another.
  useEffectWhen([finding.key, finding.state, ask, pending], () => {
    if (pending) return;
    let isLatest = true;
    setMends(null);
    void ask(finding).then((found) => isLatest && setMends(found ?? []));
    return () => {
      isLatest = false;
    };
  });
  return (
    <div className={styles.mends} aria-live="polite">
      <h4>Mends</h4>
      {mends === null && <p className={base.soft}>Trying what would mend it</p>}
      {mends?.length === 0 && (
        <p className={base.soft}>None that would not let somebody see too much. Change it by hand.</p>
      )}
      {mends?.map((mend) => (
        <div key={mend.says} className={styles.mend}>
          <Button onPress={() => store.draft(mend.commands)}>{mend.says}</Button>
          <p className={base.soft}>{mend.effect}</p>
        </div>
      ))}
    </div>
  );
}

function Accept({ finding }: { finding: Finding }) {
  const { store } = useWorkbench();
  const [reason, setReason] = useState<string | null>(null);
  if (reason === null)
    return (
      <Button quiet onPress={() => setReason("")}>
        Let it stand
      </Button>
    );
  const keep = () => {
    const { key, state } = finding;
    if (store.draft([{ kind: "finding.accept", finding: key, state, reason: reason.trim() }])) setReason(null);
  };
  return (
    <SubmitForm onSubmit={keep}>
      <TextField
        label="Why it may stand"
        value={reason}
        onChange={setReason}
        autoFocus
        hint="It stays quiet until something in it changes."
      />
      <div className={reach.itemActions}>
        <Button onPress={() => setReason(null)}>Leave</Button>
        <Button strong type="submit" isDisabled={reason.trim() === ""}>
          Let it stand
        </Button>
      </div>
    </SubmitForm>
  );
}

/** What the audit is, where nothing of it is chosen. */
export function AuditWords() {
  const audit = useFindings();
  const open = openFindings(audit.findings);
  return (
    <section>
      <h3 className={base.whyTitle}>Audit</h3>
      <p>
        {plural(open.length, "finding")}, of the draft, at the moment of the time rail. Choose one to see whom it
        touches, why, and what would mend it; each mend was tried, and adds no leak.
      </p>
    </section>
  );
}
