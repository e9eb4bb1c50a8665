import { useMemo, useState } from "react";
import { ToggleButtonGroup } from "react-aria-components";
import { unusableRows } from "../../../core/intake/take-in.ts";
import { type Judged, type ManyLeaving, rowKey, type Unlisted, verdicts } from "../../../core/intake/verdict.ts";
import { fullName } from "../../../core/plan/lookup.ts";
import { sayNames } from "../../../core/text/names.ts";
import { Button, Toggle } from "../../kit/Button.tsx";
import { Checkbox } from "../../kit/Fields.tsx";
import { Rows } from "../../kit/Rows.tsx";
import { saveFile } from "../../kit/save.ts";
import { plural } from "../../kit/words.ts";
import { useWorkbench } from "../../workbench/context.tsx";
import base from "../station.module.css";
import { Wrong } from "../Wrong.tsx";
import { Columns } from "./Columns.tsx";
import { Consequences } from "./Consequences.tsx";
import styles from "./intake.module.css";
import { Purpose } from "./Purpose.tsx";
import { Questions } from "./Questions.tsx";
import type { IntakeState } from "./useIntake.ts";
import { Work } from "./Work.tsx";

type Shown = (typeof verdicts)[number] | "missing" | "by hand" | "all";
const wrong = new Set<Shown>(["unreadable", "duplicate", "clash"]);

/** The look before anything changes: columns, a verdict a row, sections, and what will be made. */
export function Verdicts({ intake }: { intake: IntakeState }) {
  const { result, under, applying, sources, clear, apply, offersGroups, withGroups, setWithGroups } = intake;
  const [shown, setShown] = useState<Shown>("all");
  const reconciled = result?.reconciled;
  const rows = useMemo(
    () => (reconciled?.rows ?? []).filter(({ verdict }) => shown === "all" || verdict === shown),
    [reconciled, shown],
  );
  const unusable = useMemo(() => (reconciled ? unusableRows(reconciled).length : 0), [reconciled]);
  const used = (reconciled?.rows.length ?? 0) - unusable;
  const questions = reconciled?.questions ?? [];
  const changesOnly = sources.some((source) => source.changesOnly);
  // Nothing usable is no roster; of a list of changes what it ends is enough.
  const acts = used > 0 || (changesOnly && (reconciled?.missing.length ?? 0) > 0);
  const losing = acts ? (reconciled?.manyLeaving ?? []).filter(({ code }) => !intake.mayLose.includes(code)) : [];
  const isAsked = questions.length > 0 || losing.length > 0;
  return (
    <>
      <div className={base.head}>
        <h2>{sources.length === 1 ? sources[0]?.name : plural(sources.length, "file")}</h2>
        <span className={base.soft} role="status">
          {under
            ? under.says
            : reconciled
              ? `${plural(reconciled.rows.length, "row")} read, nothing changed yet`
              : "Say which column is what"}
        </span>
        <span className={base.push} />
        <Work intake={intake} />
        <Purpose intake={intake} />
        <Button isDisabled={applying} onPress={clear}>
          Put away
        </Button>
        <Button strong isDisabled={!reconciled || !acts || under !== null || isAsked} onPress={apply}>
          {applying ? "Applying" : isAsked ? "Answer first" : "Apply"}
        </Button>
      </div>
      {intake.unreadable.map(({ name, sentence }) => (
        <Wrong key={name}>{sentence}</Wrong>
      ))}
      {sources.flatMap(({ name, notes }) =>
        notes.map((note) => (
          <p key={`${name} ${note}`} role="status">
            {sources.length > 1 && `${name}: `}
            {note}
          </p>
        )),
      )}
      {reconciled && !acts && questions.length === 0 && (
        <p role="alert" className={base.wrong}>
          No row of this can be used, so there is nothing to apply. Check the columns, or mend the rows and drop them
          again.
        </p>
      )}
      <Columns intake={intake} />
      {reconciled && (
        <>
          <div className={styles.offer}>
            <SectionsFound intake={intake} />
            {offersGroups && (
              <Checkbox isSelected={withGroups} onChange={setWithGroups}>
                A group for each section
              </Checkbox>
            )}
            {changesOnly ? (
              <span className={base.soft}>It lists only what changed: whoever it does not name stays.</span>
            ) : (
              <Checkbox isSelected={intake.partial} onChange={intake.setPartial}>
                Part of a roster: nobody is missing
              </Checkbox>
            )}
          </div>
          <ManyLeave losing={losing} intake={intake} />
          <Questions questions={questions} intake={intake} />
          <div className={base.bar}>
            <ToggleButtonGroup
              aria-label="Verdicts"
              className={base.bar as string}
              selectedKeys={[shown]}
              disallowEmptySelection
              onSelectionChange={(keys) => setShown([...keys][0] as Shown)}
            >
              <Toggle id="all">All {reconciled.rows.length}</Toggle>
              {verdicts.map((verdict) => (
                <Toggle
                  key={verdict}
                  id={verdict}
                  isDisabled={reconciled.counts[verdict] === 0}
                  className={wrong.has(verdict) && reconciled.counts[verdict] > 0 ? (base.wrong as string) : ""}
                >
                  {verdict} {reconciled.counts[verdict]}
                </Toggle>
              ))}
              <Toggle
                id="missing"
                isDisabled={reconciled.missing.length === 0}
                className={reconciled.missing.length > 0 ? (base.wrong as string) : ""}
              >
                missing from roster {reconciled.missing.length}
              </Toggle>
              {reconciled.byHand.length > 0 && <Toggle id="by hand">kept by hand {reconciled.byHand.length}</Toggle>}
            </ToggleButtonGroup>
            {unusable > 0 && <Unusable count={unusable} intake={intake} />}
          </div>
          {shown === "missing" ? (
            <UnlistedRows
              entries={reconciled.missing}
              label="Missing from the roster"
              says="leaves the section; what they did stays, and coming back finds it again"
            />
          ) : shown === "by hand" ? (
            <UnlistedRows
              entries={reconciled.byHand}
              label="Kept though the roster does not list them"
              says="added by hand, so the roster does not take them out"
            />
          ) : (
            <VerdictRows rows={rows} intake={intake} />
          )}
          <Consequences intake={intake} />
        </>
      )}
    </>
  );
}

/** A section that loses many at once is asked about: a part of a roster looks like that, and so does a wrong file. */
function ManyLeave({ losing, intake }: { losing: ManyLeaving[]; intake: IntakeState }) {
  if (losing.length === 0) return null;
  const says = losing.map(({ code, leaving, of }) => `${leaving} of ${of} in ${code}`);
  return (
    <section aria-label="Many would leave" className={styles.questions} role="alert">
      <div className={base.bar}>
        <span className={base.wrong}>{sayNames(says)} would leave. Is the roster whole?</span>
        <Button onPress={() => intake.setMayLose([...intake.mayLose, ...losing.map(({ code }) => code)])}>
          They leave
        </Button>
        <Button onPress={() => intake.setPartial(true)}>It is a part: nobody is missing</Button>
      </div>
    </section>
  );
}

function SectionsFound({ intake }: { intake: IntakeState }) {
  const { accepted, setAccepted } = intake;
  const reconciled = intake.result?.reconciled;
  if (!reconciled) return null;
  const fresh = new Set(reconciled.newSections);
  return (
    <div className={styles.sections}>
      <strong>{plural(reconciled.covered.length, "section")}</strong>
      {reconciled.covered.map((code) => (
        <span key={code}>
          {code} <strong>{reconciled.sizes[code]}</strong>
          {fresh.has(code) && <span className={base.holds}> new</span>}
        </span>
      ))}
      {reconciled.unknownSections.map((code) => (
        <Button key={code} onPress={() => setAccepted([...accepted, code])}>
          Take {code} as a new section
        </Button>
      ))}
    </div>
  );
}

function VerdictRows({ rows, intake }: { rows: Judged[]; intake: IntakeState }) {
  const { chosen, setChosen, sources } = intake;
  return (
    <Rows count={rows.length} height={30} className={styles.rows} label="Rows and their verdicts">
      {(index) => {
        const { row, verdict, says, changes, conflict } = rows[index] as Judged;
        const changed = changes.map(({ field, from, to }) => `${field}: ${from || "nothing"} to ${to}`).join("; ");
        return (
          <div className={base.line}>
            {sources.length > 1 && (
              <span className={styles.fileName} title={row.file}>
                {row.file}
              </span>
            )}
            <span className={styles.lineNumber}>{row.line}</span>
            <span className={`${styles.verdict} ${wrong.has(verdict) ? base.wrong : ""}`} data-verdict={verdict}>
              {verdict}
            </span>
            <span className={styles.name}>{fullName(row) || "no name"}</span>
            <span className={styles.id}>{row.sourcedId || "no id"}</span>
            <span className={styles.code}>{row.sectionCode}</span>
            <span className={base.cut} title={`${says} ${changed}`}>
              {verdict === "changed" ? changed : [says, changed].filter(Boolean).join("; ")}
            </span>
            {conflict && (
              <Button
                quiet
                onPress={() =>
                  setChosen([
                    ...chosen.filter(
                      (key) =>
                        !rows.some((other) => other.row.sourcedId === row.sourcedId && rowKey(other.row) === key),
                    ),
                    rowKey(row),
                  ])
                }
              >
                Use this row
              </Button>
            )}
          </div>
        );
      }}
    </Rows>
  );
}

function UnlistedRows({ entries, label, says }: { entries: Unlisted[]; label: string; says: string }) {
  const { plan } = useWorkbench();
  return (
    <Rows count={entries.length} className={styles.rows} label={label}>
      {(index) => {
        const entry = entries[index];
        return (
          entry && (
            <div className={base.line}>
              <span className={styles.name}>{fullName(entry.person)}</span>
              <span className={styles.id}>{entry.person.sourcedId}</span>
              <span className={styles.code}>{plan.sections[entry.enrolment.sectionId ?? ""]?.code}</span>
              <span className={base.soft}>{says}</span>
            </div>
          )
        );
      }}
    </Rows>
  );
}

/** Rows that cannot be used are never dropped in silence: counted, listed, and offered with their reason. */
function Unusable({ count, intake }: { count: number; intake: IntakeState }) {
  const save = async () => {
    const csv = await intake.mend();
    if (csv !== null) saveFile("rows-to-mend.csv", "text/csv", csv);
  };
  return (
    <Button onPress={save} className={base.push as string}>
      Save the {plural(count, "row")} not used
    </Button>
  );
}
