/** A section that holds several classes: named, with who is in each and when it meets, as one change. */
import { useState } from "react";
import { divide, divisionOf } from "../../../core/intake/divide.ts";
import { fullName } from "../../../core/plan/lookup.ts";
import type { Section } from "../../../core/plan/types.ts";
import { sayPattern } from "../../../core/timing/meetings.ts";
import { Button } from "../../kit/Button.tsx";
import { Actions, Dialog } from "../../kit/Dialog.tsx";
import { SubmitForm } from "../../kit/SubmitForm.tsx";
import { plural } from "../../kit/words.ts";
import { useSelected, useWorkbench } from "../../workbench/context.tsx";
import { GroupLines, useTypedGroups } from "../placement/GroupLines.tsx";
import base from "../station.module.css";

export function DivideDialog({ section, onClose }: { section: Section; onClose(): void }) {
  const { store, plan, t } = useWorkbench();
  const [, selectLayer] = useSelected("layer");
  const [text, setText] = useState("");
  const typed = useTypedGroups(text);
  const division = divisionOf(plan, section, typed.groups, t);
  const { groups, left, notHere } = division;
  const nameOf = (id: string) => (plan.people[id] ? fullName(plan.people[id]) : "somebody");
  const draft = () => {
    if (!store.draft([divide(plan, section, division)])) return;
    selectLayer(null);
    onClose();
  };
  return (
    <Dialog title={`Divide ${section.code}`} onClose={onClose} wide>
      <SubmitForm onSubmit={draft}>
        <GroupLines
          label="The classes, a line each, with who is in them and when they meet"
          text={text}
          setText={setText}
          typed={typed}
          rule="at most one"
          placeholder={"Morning (Mon Wed 09:00-10:15): 00240037, 00240074\nAfternoon (Tue Thu 14:00-15:15)"}
          autoFocus
        />
        <ul aria-label="Classes">
          {groups.map(({ name, personIds, pattern }) => (
            <li key={name}>
              <strong>{name}</strong> {plural(personIds.length, "student")}
              {pattern.length > 0 && `, meets ${sayPattern(pattern)}`}
            </li>
          ))}
        </ul>
        {left.length > 0 && groups.length > 0 && (
          <p className={base.wrong}>
            {plural(left.length, "student")} of {section.code} {left.length === 1 ? "is" : "are"} in none of them. A
            class that lists nobody takes whoever is left over.
          </p>
        )}
        {notHere.length > 0 && (
          <p className={base.wrong}>
            Not in {section.code}, and left out: {notHere.slice(0, 6).map(nameOf).join("; ")}
            {notHere.length > 6 && ` and ${notHere.length - 6} more`}.
          </p>
        )}
        <p className={base.soft}>
          The section stays as the registrar has it. The classes are groups of a layer of their own: dates, threads and
          marks can go by them, and "at their third meeting" is each class's own.
        </p>
        <Actions>
          <Button onPress={onClose}>Leave</Button>
          <Button strong type="submit" isDisabled={groups.length < 2}>
            Draft {plural(groups.length, "class", "classes")}
          </Button>
        </Actions>
      </SubmitForm>
    </Dialog>
  );
}
