import { useState } from "react";
import { type ColumnField, columnFields, columnLabels } from "../../../core/intake/columns.ts";
import { sayNames } from "../../../core/text/names.ts";
import { shorten } from "../../../core/text/shorten.ts";
import { Button } from "../../kit/Button.tsx";
import { Choice, TextField } from "../../kit/Fields.tsx";
import base from "../station.module.css";
import { Wrong } from "../Wrong.tsx";
import styles from "./intake.module.css";
import type { IntakeState } from "./useIntake.ts";
import type { Source } from "./useSources.ts";

/** Letters of a column's title that are shown. */
const mostOfTitle = 40;
const sayColumns = ({ match, header }: Source): string =>
  sayNames(
    match.map((field, column) =>
      field === "attribute" ? shorten(header[column] ?? "", mostOfTitle) : columnLabels[field],
    ),
    9,
  );

/** The columns as they were recognised, over a sample; changed by hand where they are wrong. */
export function Columns({ intake }: { intake: IntakeState }) {
  const { sources, setSources, problems, chooseSheet } = intake;
  const change = (at: number, next: Partial<Source>) =>
    setSources(sources.map((source, index) => (index === at ? { ...source, ...next } : source)));
  const isWrong = problems.some((problem) => problem !== null);
  const [isOpen, setOpen] = useState(isWrong);
  return (
    <details
      className={styles.columns}
      open={isOpen || isWrong || undefined}
      onToggle={(event) => setOpen(event.currentTarget.open)}
    >
      <summary>
        Columns recognised <span className={base.soft}>{sources[0] && sayColumns(sources[0])}</span>
      </summary>
      {(isOpen || isWrong ? sources : []).map((source, at) => (
        <div key={source.name} className={styles.source}>
          {sources.length > 1 && <h3>{source.name}</h3>}
          <Wrong>{problems[at]}</Wrong>
          <div className={base.bar}>
            {source.sheets.length > 0 && (
              <Choice
                label="Sheet"
                value={source.sheet}
                options={source.sheets.map((sheet) => ({ value: sheet, label: sheet }))}
                onChange={(sheet) => chooseSheet(at, source.sheets.indexOf(sheet))}
              />
            )}
            {!source.match.includes("section") && !intake.scope && (
              <TextField
                label="Section of this file"
                value={source.sectionCode}
                onChange={(sectionCode) => change(at, { sectionCode })}
              />
            )}
          </div>
          <Table source={source} onMatch={(match) => change(at, { byHand: true, match })} />
        </div>
      ))}
    </details>
  );
}

/** Columns that are shown at first, and that come with each press: a choice above each takes a while to draw. */
const step = 24;
const isPlain = (field: ColumnField | undefined) => field === undefined || field === "attribute" || field === "ignore";

function Table({ source, onMatch }: { source: Source; onMatch(match: ColumnField[]): void }) {
  const { header, match, sample } = source;
  const [most, setMost] = useState(step);
  // What says who somebody is stands there wherever it is in the file.
  const shown = header.map((_, column) => column).filter((column) => column < most || !isPlain(match[column]));
  const left = header.length - shown.length;
  return (
    <div className={base.scroll}>
      <table className={base.table}>
        <thead>
          <tr>
            {shown.map((column) => (
              <th key={column}>
                <Choice<ColumnField>
                  label={shorten(header[column] ?? "", mostOfTitle) || `Column ${column + 1}`}
                  value={match[column] ?? "ignore"}
                  options={columnFields.map((field) => ({ value: field, label: columnLabels[field] }))}
                  onChange={(field) => onMatch(match.map((old, index) => (index === column ? field : old)))}
                />
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {sample.map((cells, line) => (
            <tr key={line.toString()}>
              {shown.map((column) => (
                <td key={column}>{cells[column]}</td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      {left > 0 && (
        <Button onPress={() => setMost(most + step)}>
          Show {Math.min(step, left)} of {left} more columns
        </Button>
      )}
    </div>
  );
}
