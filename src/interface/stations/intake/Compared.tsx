import { useState } from "react";
import { ToggleButtonGroup } from "react-aria-components";
import { fullName } from "../../../core/plan/lookup.ts";
import { Button, Toggle } from "../../kit/Button.tsx";
import { Rows } from "../../kit/Rows.tsx";
import { plural } from "../../kit/words.ts";
import base from "../station.module.css";
import { Columns } from "./Columns.tsx";
import styles from "./intake.module.css";
import { Purpose } from "./Purpose.tsx";
import type { IntakeState } from "./useIntake.ts";
import { Work } from "./Work.tsx";

type Shown = "onlyList" | "onlyHere" | "both" | "unclear";
const names: Record<Shown, string> = {
  onlyList: "only on the list",
  onlyHere: "only here",
  both: "in both",
  unclear: "unclear",
};

/** A list held against the course, a section or a group. Nothing is changed. */
export function Compared({ intake }: { intake: IntakeState }) {
  const { comparison, sources, clear } = intake;
  const [shown, setShown] = useState<Shown>("onlyList");
  const lines: { key: string; who: string; id: string; says: string }[] = !comparison
    ? []
    : shown === "onlyHere"
      ? comparison.onlyHere.map((person) => ({
          key: person.id,
          who: fullName(person),
          id: person.sourcedId,
          says: "not on the list",
        }))
      : shown === "unclear"
        ? comparison.unclear.map(({ listed, why }) => ({
            key: `${listed.file} ${listed.line}`,
            who: listed.says,
            id: "",
            says: `line ${listed.line}: ${why}`,
          }))
        : comparison[shown].map(({ person, listed }) => ({
            key: `${listed.file} ${listed.line}`,
            who: person ? fullName(person) : listed.says,
            id: person?.sourcedId ?? "",
            says: person ? `line ${listed.line}` : `line ${listed.line}: not in the course`,
          }));
  return (
    <>
      <div className={base.head}>
        <h2>{sources.length === 1 ? sources[0]?.name : plural(sources.length, "file")}</h2>
        <span className={base.soft} role="status">
          {comparison ? "Compared; nothing is changed" : "Comparing"}
        </span>
        <span className={base.push} />
        <Work intake={intake} />
        <Purpose intake={intake} />
        <Button onPress={clear}>Put away</Button>
      </div>
      <Columns intake={intake} />
      {comparison && (
        <>
          <ToggleButtonGroup
            aria-label="Which people"
            className={base.bar as string}
            selectedKeys={[shown]}
            disallowEmptySelection
            onSelectionChange={(keys) => setShown([...keys][0] as Shown)}
          >
            {(Object.keys(names) as Shown[]).map((each) => (
              <Toggle
                key={each}
                id={each}
                className={each !== "both" && comparison[each].length > 0 ? (base.wrong as string) : ""}
              >
                {names[each]} {comparison[each].length}
              </Toggle>
            ))}
          </ToggleButtonGroup>
          {lines.length === 0 ? (
            <p className={base.soft}>Nobody.</p>
          ) : (
            <Rows count={lines.length} className={styles.rows as string} label="People compared">
              {(index) => {
                const line = lines[index];
                return (
                  line && (
                    <div className={base.line}>
                      <span className={styles.name}>{line.who}</span>
                      <span className={styles.id}>{line.id}</span>
                      <span className={base.cut}>{line.says}</span>
                    </div>
                  )
                );
              }}
            </Rows>
          )}
        </>
      )}
    </>
  );
}
