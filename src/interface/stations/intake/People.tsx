import { useMemo, useState } from "react";
import { writeOneRoster } from "../../../core/formats/oneroster/write.ts";
import { isOpen, listPeople, type PeopleFilter, rosterLines, rosterTable } from "../../../core/intake/roster-out.ts";
import { compareText, fullName } from "../../../core/plan/lookup.ts";
import { Button } from "../../kit/Button.tsx";
import { Checkbox, Choice, TextField } from "../../kit/Fields.tsx";
import { RowCheck } from "../../kit/RowCheck.tsx";
import { Rows } from "../../kit/Rows.tsx";
import { SaveTable } from "../../kit/SaveTable.tsx";
import { saveFile } from "../../kit/save.ts";
import { plural, withTicks } from "../../kit/words.ts";
import { useKept, useParts, useWorkbench, Why } from "../../workbench/context.tsx";
import { PersonWhy } from "../placement/PersonWhy.tsx";
import base from "../station.module.css";
import { WithPeople } from "../WithPeople.tsx";
import { AddPeople } from "./AddPeople.tsx";
import styles from "./intake.module.css";

const everyone: PeopleFilter = { text: "", sectionId: null, role: "student", left: false };

/** Everyone of the course: found, looked at, added and removed by hand, and saved as a roster. */
export function People() {
  const { store, plan, t } = useWorkbench();
  const state = useParts("target", "scope", "now");
  const [filter, setFilter] = useKept("people filter", everyone);
  const [selected, setSelected] = useState<ReadonlySet<string>>(new Set());
  const [personId, setPersonId] = useState<string | null>(state.target?.kind === "person" ? state.target.id : null);
  const [adding, setAdding] = useState(false);
  const listed = useMemo(() => listPeople(plan, filter, t), [plan, filter, t]);
  // Ticks stay while one searches for more people.
  const picked = useMemo(() => {
    if (selected.size === 0) return [];
    const all = listPeople(plan, { ...everyone, role: "everyone", left: true }, t);
    return all.filter(({ enrolment }) => selected.has(enrolment.id));
  }, [plan, t, selected]);
  const seen = listed.filter(({ enrolment }) => selected.has(enrolment.id)).length;
  const ids = listed.map(({ enrolment }) => enrolment.id);
  const sections = Object.values(plan.sections).sort((a, b) => compareText(a.code, b.code));
  const change = (next: Partial<PeopleFilter>) => setFilter({ ...filter, ...next });
  const fileName = `roster ${plan.course.code}`.replace(/\s+/g, "-").toLowerCase();
  const remove = () => {
    const enrolmentIds = picked.filter((one) => isOpen(one, t)).map(({ enrolment }) => enrolment.id);
    if (store.draft([{ kind: "enrolment.end", enrolmentIds }])) setSelected(new Set());
  };
  return (
    <>
      <div className={base.bar}>
        <TextField
          label="Find people"
          hideLabel
          placeholder="Find by name, id, login or attribute"
          value={filter.text}
          onChange={(text) => change({ text })}
        />
        <Choice
          label="Section"
          hideLabel
          value={filter.sectionId ?? "all"}
          options={[
            { value: "all", label: "All sections" },
            ...sections.map(({ id, code }) => ({ value: id, label: code })),
          ]}
          onChange={(id) => change({ sectionId: id === "all" ? null : id })}
        />
        <Choice
          label="Who"
          hideLabel
          value={filter.role}
          options={[
            { value: "student", label: "Students" },
            { value: "staff", label: "Staff" },
            { value: "everyone", label: "Everyone" },
          ]}
          onChange={(role) => change({ role })}
        />
        <Checkbox isSelected={filter.left} onChange={(left) => change({ left })}>
          Also who left
        </Checkbox>
        <span className={base.soft}>{plural(listed.length, "person", "people")}</span>
        <span className={base.push} />
        {state.scope === null && (
          <Button strong onPress={() => setAdding(true)}>
            Add people
          </Button>
        )}
      </div>
      <div className={base.bar}>
        <Checkbox
          aria-label="Select all shown"
          isSelected={seen > 0 && seen === listed.length}
          isIndeterminate={picked.length > 0 && seen < listed.length}
          onChange={(isOn) => setSelected(withTicks(selected, ids, isOn))}
        >
          {picked.length > 0
            ? `${picked.length} selected${seen < picked.length ? `, ${seen} of them shown` : ""}`
            : state.scope === null
              ? "Select people to remove or write to"
              : "Select people to write to them"}
        </Checkbox>
        {picked.length > 0 && state.scope === null && <Button onPress={remove}>Remove from their section</Button>}
        {picked.length > 0 && (
          <WithPeople
            personIds={[...new Set(picked.map(({ person }) => person.id))]}
            onDone={() => setSelected(new Set())}
          />
        )}
        <span className={base.push} />
        <span className={base.soft}>Save as</span>
        <SaveTable name={fileName} table={() => ({ sheet: "Roster", ...rosterTable(plan, listed) })} verb="">
          <Button
            onPress={() =>
              saveFile(
                `${fileName}-oneroster.zip`,
                "application/zip",
                writeOneRoster(plan.course, rosterLines(plan, listed), state.now),
              )
            }
          >
            OneRoster
          </Button>
        </SaveTable>
      </div>
      <Rows count={listed.length} className={styles.rows as string} label="People of the course">
        {(index) => {
          const one = listed[index];
          if (!one) return null;
          const { person, enrolment } = one;
          return (
            <div className={base.line} data-over={!isOpen(one, t) || undefined}>
              <RowCheck
                label={`Select ${fullName(person)}`}
                isSelected={selected.has(enrolment.id)}
                onChange={(on) => {
                  const next = new Set(selected);
                  if (on) next.add(enrolment.id);
                  else next.delete(enrolment.id);
                  setSelected(next);
                }}
              />
              <button
                type="button"
                className={`${base.plainButton} ${styles.name}`}
                onClick={() => setPersonId(person.id)}
              >
                {fullName(person)}
              </button>
              <span className={styles.id}>{person.sourcedId}</span>
              <span className={styles.code}>{plan.sections[enrolment.sectionId ?? ""]?.code}</span>
              <span className={styles.came}>
                {enrolment.role !== "student" && `${enrolment.role}, `}
                {enrolment.origin === "roster"
                  ? "by roster"
                  : enrolment.origin === "hand"
                    ? "added by hand"
                    : "by code"}
              </span>
              <span className={`${base.soft} ${base.cut}`}>
                {Object.entries(person.attributes)
                  .map(([name, value]) => `${name} ${value}`)
                  .join(", ")}
              </span>
            </div>
          );
        }}
      </Rows>
      <Why>
        {personId ? (
          <PersonWhy personId={personId} />
        ) : (
          <p className={base.soft}>Choose somebody to see everything known of them, and how it came.</p>
        )}
      </Why>
      {adding && <AddPeople onClose={() => setAdding(false)} />}
    </>
  );
}
