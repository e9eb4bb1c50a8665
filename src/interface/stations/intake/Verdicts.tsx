import { useMemo, useState } from "react";
import { ToggleButtonGroup } from "react-aria-components";
import { writeCsv } from "../../../core/formats/text.ts";
import { type ColumnField, columnFields, columnLabels } from "../../../core/intake/columns.ts";
import { type Judged, rowKey, verdicts } from "../../../core/intake/reconcile.ts";
import { unusableRows } from "../../../core/intake/take-in.ts";
import { fullName, lookup } from "../../../core/plan/lookup.ts";
import { useBench } from "../../bench/context.tsx";
import { Button, Toggle } from "../../kit/Button.tsx";
import { Checkbox, Choice, TextField } from "../../kit/Fields.tsx";
import { Rows } from "../../kit/Rows.tsx";
import { plural } from "../../kit/words.ts";
import base from "../station.module.css";
import styles from "./intake.module.css";
import type { IntakeState, Source } from "./useIntake.ts";

type Shown = (typeof verdicts)[number] | "missing" | "all";
const wrong = new Set<Shown>(["unreadable", "duplicate", "clash"]);

/** The look before anything changes: columns, a verdict a row, sections, and what will be made. */
export function Verdicts({ intake }: { intake: IntakeState }) {
  const { plan } = useBench();
  const { result, busy, sources, clear, apply } = intake;
  const [shown, setShown] = useState<Shown>("all");
  const [withGroups, setWithGroups] = useState(true);
  const offerGroups = lookup(plan).layers.length === 0;
  const reconciled = result?.reconciled;
  const rows = useMemo(
    () => (reconciled?.rows ?? []).filter(({ verdict }) => shown === "all" || verdict === shown),
    [reconciled, shown],
  );
  const used = reconciled ? reconciled.rows.length - unusableRows(reconciled).length : 0;
  return (
    <>
      <div className={base.head}>
        <h2>{sources.length === 1 ? sources[0]?.table.name : plural(sources.length, "file")}</h2>
        <span className={base.soft} role="status">
          {busy === "reconciling"
            ? "Reconciling"
            : reconciled
              ? `${plural(reconciled.rows.length, "row")} read, nothing changed yet`
              : "Say which column is what"}
        </span>
        <span className={base.push} />
        <Button onPress={clear}>Put away</Button>
        <Button
          strong
          isDisabled={!reconciled || used === 0 || busy !== null}
          onPress={() => apply(offerGroups && withGroups ? "Sections" : null)}
        >
          {busy === "applying" ? "Applying" : "Apply"}
        </Button>
      </div>
      {intake.unreadable.map(({ name, sentence }) => (
        <p key={name} role="alert" className={base.wrong}>
          {sentence}
        </p>
      ))}
      <Columns intake={intake} />
      {reconciled && (
        <>
          <div className={styles.offer}>
            <SectionsFound intake={intake} />
            {offerGroups && (
              <Checkbox isSelected={withGroups} onChange={setWithGroups}>
                A group for each section
              </Checkbox>
            )}
            <Checkbox isSelected={intake.partial} onChange={intake.setPartial}>
              Part of a roster: nobody is missing
            </Checkbox>
          </div>
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
            </ToggleButtonGroup>
            {unusableRows(reconciled).length > 0 && <Unusable rows={unusableRows(reconciled)} sources={sources} />}
          </div>
          {shown === "missing" ? <MissingRows intake={intake} /> : <VerdictRows rows={rows} intake={intake} />}
        </>
      )}
    </>
  );
}

/** The columns as they were recognised, over a sample; changed by hand where they are wrong. */
function Columns({ intake }: { intake: IntakeState }) {
  const { sources, setSources, problems } = intake;
  const change = (at: number, next: Partial<Source>) =>
    setSources(sources.map((source, index) => (index === at ? { ...source, ...next } : source)));
  return (
    <details className={styles.columns} open={problems.some((problem) => problem !== null) || undefined}>
      <summary>
        Columns recognised{" "}
        <span className={base.soft}>
          {sources[0]?.match
            .map((field, column) => (field === "attribute" ? sources[0]?.table.header[column] : columnLabels[field]))
            .join(", ")}
        </span>
      </summary>
      {sources.map((source, at) => (
        <div key={source.table.name} className={styles.source}>
          {sources.length > 1 && <h3>{source.table.name}</h3>}
          {problems[at] && (
            <p role="alert" className={base.wrong}>
              {problems[at]}
            </p>
          )}
          {!source.match.includes("section") && (
            <TextField
              label="Section of this file"
              value={source.sectionCode}
              onChange={(sectionCode) => change(at, { sectionCode })}
            />
          )}
          <div className={base.scroll}>
            <table className={base.table}>
              <thead>
                <tr>
                  {source.table.header.map((title, column) => (
                    <th key={`${title} ${column.toString()}`}>
                      <Choice<ColumnField>
                        label={title || `Column ${column + 1}`}
                        value={source.match[column] ?? "ignore"}
                        options={columnFields.map((field) => ({
                          value: field,
                          label: columnLabels[field],
                        }))}
                        onChange={(field) =>
                          change(at, {
                            byHand: true,
                            match: source.match.map((old, index) => (index === column ? field : old)),
                          })
                        }
                      />
                    </th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {source.table.rows.slice(0, 3).map(({ line, cells }) => (
                  <tr key={line}>
                    {source.table.header.map((title, column) => (
                      <td key={`${title} ${column.toString()}`}>{cells[column]}</td>
                    ))}
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
        </div>
      ))}
    </details>
  );
}

function SectionsFound({ intake }: { intake: IntakeState }) {
  const { accepted, setAccepted } = intake;
  const reconciled = intake.result?.reconciled;
  if (!reconciled) return null;
  const people = (code: string) =>
    new Set(
      reconciled.rows
        .filter(
          ({ row, verdict }) => row.sectionCode === code && !["unreadable", "clash", "duplicate"].includes(verdict),
        )
        .map(({ row }) => row.sourcedId),
    ).size;
  const fresh = new Set(reconciled.newSections);
  return (
    <div className={styles.sections}>
      <strong>{plural(reconciled.covered.length, "section")}</strong>
      {reconciled.covered.map((code) => (
        <span key={code}>
          {code} <strong>{people(code)}</strong>
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
            <span className={styles.lineNumber}>{sources.length > 1 ? `${row.file} ${row.line}` : row.line}</span>
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

function MissingRows({ intake }: { intake: IntakeState }) {
  const { plan } = useBench();
  const missing = intake.result?.reconciled.missing ?? [];
  return (
    <Rows count={missing.length} className={styles.rows} label="Missing from the roster">
      {(index) => {
        const entry = missing[index];
        return (
          entry && (
            <div className={base.line}>
              <span className={styles.name}>{fullName(entry.person)}</span>
              <span className={styles.id}>{entry.person.sourcedId}</span>
              <span className={styles.code}>{plan.sections[entry.enrolment.sectionId ?? ""]?.code}</span>
              <span className={base.soft}>leaves the section; what they did stays, and coming back finds it again</span>
            </div>
          )
        );
      }}
    </Rows>
  );
}

/** Rows that cannot be used are never dropped in silence: counted, listed, and offered with their reason. */
function Unusable({ rows, sources }: { rows: Judged[]; sources: Source[] }) {
  const save = () => {
    const header = sources[0]?.table.header ?? [];
    const cells = rows.map(({ row, says }) => {
      const source = sources.find(({ table }) => table.name === row.file);
      const found = source?.table.rows.find(({ line }) => line === row.line)?.cells ?? [];
      return [...header.map((_, column) => found[column] ?? ""), row.file, String(row.line), says];
    });
    const csv = writeCsv([...header, "File", "Line", "Reason"], cells);
    const link = document.createElement("a");
    link.href = URL.createObjectURL(new Blob([csv], { type: "text/csv" }));
    link.download = "rows-to-mend.csv";
    link.click();
    URL.revokeObjectURL(link.href);
  };
  return (
    <Button onPress={save} className={base.push as string}>
      Save the {plural(rows.length, "row")} not used
    </Button>
  );
}
