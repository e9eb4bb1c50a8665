import { type ColumnField, columnFields, columnLabels } from "../../../core/intake/columns.ts";
import { Choice, TextField } from "../../kit/Fields.tsx";
import base from "../station.module.css";
import { Wrong } from "../Wrong.tsx";
import styles from "./intake.module.css";
import type { IntakeState } from "./useIntake.ts";
import type { Source } from "./useSources.ts";

/** The columns as they were recognised, over a sample; changed by hand where they are wrong. */
export function Columns({ intake }: { intake: IntakeState }) {
  const { sources, setSources, problems, chooseSheet } = intake;
  const change = (at: number, next: Partial<Source>) =>
    setSources(sources.map((source, index) => (index === at ? { ...source, ...next } : source)));
  return (
    <details className={styles.columns} open={problems.some((problem) => problem !== null) || undefined}>
      <summary>
        Columns recognised{" "}
        <span className={base.soft}>
          {sources[0]?.match
            .map((field, column) => (field === "attribute" ? sources[0]?.header[column] : columnLabels[field]))
            .join(", ")}
        </span>
      </summary>
      {sources.map((source, at) => (
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
          <div className={base.scroll}>
            <table className={base.table}>
              <thead>
                <tr>
                  {source.header.map((title, column) => (
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
                {source.sample.map((cells, line) => (
                  <tr key={line.toString()}>
                    {source.header.map((title, column) => (
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
