/** Whoever was given students has them here first: each with groups, allowances, what is due, what came and what was noted. */

import { useCallback, useEffect, useMemo, useState } from "react";
import * as api from "../../../api/staff.ts";
import { sayInstant } from "../../../core/clock/local-time.ts";
import { cellsOf } from "../../../core/gradebook/cells.ts";
import { type Overview, overviewOf } from "../../../core/gradebook/overview.ts";
import { compareNames, fullName } from "../../../core/plan/lookup.ts";
import type { Person } from "../../../core/plan/types.ts";
import { sayNumber } from "../../../core/text/locale.ts";
import { sayAllowance } from "../../../core/timing/commands.ts";
import { Button } from "../../kit/Button.tsx";
import { TextField } from "../../kit/Fields.tsx";
import { Rows } from "../../kit/Rows.tsx";
import { useNarrow } from "../../kit/useNarrow.ts";
import { holdsWords, plural } from "../../kit/words.ts";
import { useKept, useParts, useReach, useSelected, useWorkbench, Why } from "../../workbench/context.tsx";
import { ask, isFailure } from "../../workbench/fetch.ts";
import { useMay } from "../../workbench/may.tsx";
import { codesBeside } from "../codesBeside.ts";
import { GroupName } from "../GroupName.tsx";
import { PersonWhy } from "../placement/PersonWhy.tsx";
import base from "../station.module.css";
import { AllowanceDialog } from "../timing/AllowancesView.tsx";
import { usePronouns } from "../usePronouns.ts";
import { WithPeople } from "../WithPeople.tsx";
import styles from "./students.module.css";

type Notes = ReadonlyMap<string, { count: number; latest: string }>;

/** Notes on one's students, and how to ask for them again. */
function useNotes(): [Notes, () => void] {
  const { store } = useWorkbench();
  const [notes, setNotes] = useState<Notes>(new Map());
  const read = useCallback(() => {
    void ask(store.address, api.readStudentNotes).then((answer) => {
      if (!isFailure(answer)) setNotes(new Map(answer.students.map((one) => [one.personId, one])));
    });
  }, [store]);
  useEffect(read, [read]);
  return [notes, read];
}

export function Students() {
  const { plan, showWhy } = useWorkbench();
  const reach = useReach();
  const { target } = useParts("target");
  const [text, setText] = useKept("students filter", "");
  const [personId, setPersonId] = useSelected("person");
  const [notes, readNotes] = useNotes();
  const pronouns = usePronouns();
  const isNarrow = useNarrow();
  useEffect(() => {
    if (target?.kind === "person") setPersonId(target.id);
  }, [target, setPersonId]);
  const all = useMemo(
    () => reach.students.flatMap((id) => plan.people[id] ?? []).sort(compareNames),
    [plan, reach.students],
  );
  const listed = useMemo(() => {
    const fits = holdsWords(text);
    return all.filter((person) => fits(`${fullName(person)} ${person.sourcedId} ${person.username ?? ""}`));
  }, [all, text]);
  const cells = useMemo(() => cellsOf(reach), [reach]);
  const chosen = personId !== null && reach.indexOf.has(personId) ? personId : null;
  return (
    <>
      <div className={base.bar}>
        <TextField
          label="Find students"
          hideLabel
          placeholder="Find by name, id or login"
          value={text}
          onChange={setText}
        />
        <span className={base.soft}>
          {listed.length < all.length && `${sayNumber(listed.length)} of `}
          {plural(all.length, "student")}
        </span>
      </div>
      <div className={`${styles.student} ${styles.head}`} aria-hidden="true">
        <span>Student</span>
        <span>With</span>
        <span>Allowances</span>
        <span>Due next</span>
        <span>Work</span>
        <span>Notes</span>
      </div>
      <Rows count={listed.length} height={isNarrow ? 158 : 52} className={styles.rows as string} label="Your students">
        {(index) => {
          const person = listed[index];
          const found = person && overviewOf(reach, cells, person.id);
          return person && found ? (
            <Student
              person={person}
              found={found}
              notes={notes.get(person.id)}
              pronouns={pronouns(person.id)}
              isChosen={person.id === chosen}
              choose={() => {
                setPersonId(person.id);
                showWhy();
              }}
            />
          ) : null;
        }}
      </Rows>
      <Why>
        {chosen ? (
          <>
            <ForOne personId={chosen} />
            <PersonWhy personId={chosen} onNote={readNotes} />
          </>
        ) : (
          <p className={base.soft}>
            Choose somebody to see all of it, give them more time, write to them or leave a note for staff.
          </p>
        )}
      </Why>
    </>
  );
}

interface StudentProps {
  person: Person;
  found: Overview;
  notes: { count: number; latest: string } | undefined;
  /** What stands behind the name. */
  pronouns: string;
  isChosen: boolean;
  choose(): void;
}

function Student({ person, found, notes, pronouns, isChosen, choose }: StudentProps) {
  const { plan } = useWorkbench();
  const { sections, groups, allowances, dues, handedIn, missing } = found;
  const [first, ...others] = dues;
  const codes = codesBeside(
    sections.map(({ code }) => code),
    groups,
  );
  const later = others.map(({ item }) => item.title).join(", ");
  return (
    <div className={styles.student} data-chosen={isChosen || undefined}>
      <button type="button" className={`${base.plainButton} ${styles.name}`} aria-pressed={isChosen} onClick={choose}>
        {fullName(person)}
        {pronouns}
      </button>
      <span className={styles.with} title={groups.map(({ name }) => name).join(", ")}>
        {codes.length > 0 && <span>{codes.join(", ")}</span>}
        {groups.map((group) => (
          <span key={group.id}>
            <GroupName group={group} isShort />
          </span>
        ))}
      </span>
      <span>{allowances.map(sayAllowance).join("; ") || <i className={base.soft}>none</i>}</span>
      <span title={later || undefined}>
        <span className={styles.oneLine}>{first ? first.item.title : "nothing"}</span>
        {first && (
          <small className={styles.oneLine}>
            {sayInstant(first.due, plan.course.timeZone)}
            {others.length > 0 && `; ${others.length} more`}
          </small>
        )}
      </span>
      <span title={missing.map(({ title }) => title).join(", ") || undefined}>
        {handedIn.length} handed in
        {missing.length > 0 && <strong className={styles.missing}>{missing.length} missing</strong>}
      </span>
      <span title={notes?.latest}>{notes ? plural(notes.count, "note") : ""}</span>
    </div>
  );
}

/** What can be done for one student, as far as the coordinator allows it. */
function ForOne({ personId }: { personId: string }) {
  const maySet = useMay("set allowances");
  const [open, setOpen] = useState(false);
  const target = { kind: "person" as const, id: personId };
  return (
    <div className={base.bar}>
      <WithPeople quiet personIds={[personId]} />
      {maySet && (
        <Button quiet onPress={() => setOpen(true)}>
          Allowance
        </Button>
      )}
      {open && <AllowanceDialog allowance={null} for={target} onClose={() => setOpen(false)} />}
    </div>
  );
}
