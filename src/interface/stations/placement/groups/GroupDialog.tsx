import { useState } from "react";
import { renamed } from "../../../../core/placement/groups/rework.ts";
import { studentsOf } from "../../../../core/placement/membership.ts";
import { compareNames, fullName } from "../../../../core/plan/lookup.ts";
import type { Group, Person } from "../../../../core/plan/types.ts";
import { readPattern, writePattern } from "../../../../core/timing/meetings.ts";
import { Button } from "../../../kit/Button.tsx";
import { Chip } from "../../../kit/Chip.tsx";
import { Actions, Dialog } from "../../../kit/Dialog.tsx";
import { Choice, TextField } from "../../../kit/Fields.tsx";
import { SubmitForm } from "../../../kit/SubmitForm.tsx";
import { useWorkbench } from "../../../workbench/context.tsx";
import base from "../../station.module.css";
import { Wrong } from "../../Wrong.tsx";
import styles from "./groups.module.css";

/** A whole number, none, or not to be read. */
const size = (text: string): number | null | undefined =>
  text.trim() === "" ? null : /^\d{1,5}$/.test(text.trim()) ? Number(text) : undefined;

/** Everything that can be said of one group, drafted as one change. */
export function GroupDialog({ group, onClose }: { group: Group; onClose(): void }) {
  const { store, plan, t } = useWorkbench();
  const layer = plan.layers[group.layerId];
  const [name, setName] = useState(group.name);
  const [label, setLabel] = useState(group.label);
  const [mark, setMark] = useState(group.stripe.mark);
  const [description, setDescription] = useState(group.description);
  const [min, setMin] = useState(group.min === null ? "" : String(group.min));
  const [max, setMax] = useState(group.max === null ? "" : String(group.max));
  const [meets, setMeets] = useState(writePattern(group.pattern));
  const [code, setCode] = useState(group.code ?? "");
  const [leads, setLeads] = useState(group.leads);
  const [wrong, setWrong] = useState<string | null>(null);
  const pattern = meets.trim() === "" ? [] : readPattern(meets);
  const members = studentsOf(plan, group.id, t)
    .map((id) => plan.people[id] as Person)
    .sort(compareNames);
  const draft = () => {
    const [least, most] = [size(min), size(max)];
    if (least === undefined || most === undefined || most === 0)
      return setWrong("Sizes are whole numbers of students; leave one empty where there is no limit.");
    if (!pattern)
      return setWrong("When it meets is written as Mon Wed 09:00-10:15; several are set apart by semicolons.");
    if (name.trim() === "" || mark.trim() === "") return setWrong("A group needs a name and a mark.");
    if (code.trim() !== "" && code.trim().length < 3) return setWrong("A placement code has three characters or more.");
    const fields = {
      name: name.trim(),
      label: label === group.label ? renamed(plan, group, name.trim()).label : label.trim() || name.trim(),
      stripe: { ...group.stripe, mark: mark.trim().toUpperCase() },
      description,
      min: least,
      max: most,
      pattern,
      code: code.trim() || null,
      leads,
    };
    if (store.draft([{ kind: "group.change", groupId: group.id, fields }])) onClose();
  };
  return (
    <Dialog title={group.name} onClose={onClose}>
      <SubmitForm onSubmit={draft}>
        <div className={styles.pair}>
          <TextField label="Name" value={name} onChange={setName} />
          {!layer?.private && <TextField label="Students read" value={label} onChange={setLabel} />}
          <TextField label="Mark" value={mark} onChange={setMark} maxLength={3} />
        </div>
        <div className={styles.pair}>
          <TextField label="At least" inputMode="numeric" value={min} onChange={setMin} />
          <TextField label="At most" inputMode="numeric" value={max} onChange={setMax} />
          {!layer?.private && <TextField label="Placement code" value={code} onChange={setCode} />}
        </div>
        <TextField
          label="Meets, where the registrar made no section of it"
          hint="Mon Wed 09:00-10:15 Weir hut; Fri 14:00-15:00"
          value={meets}
          onChange={setMeets}
          error={pattern ? undefined : "No day and time can be read here."}
        />
        <TextField label="Description" lines={3} value={description} onChange={setDescription} />
        <div className={base.bar}>
          <Choice
            label="Leads"
            placeholder="Add a lead"
            value={null}
            onChange={(id) => setLeads([...leads, id])}
            options={members
              .filter(({ id }) => !leads.includes(id))
              .map((one) => ({ value: one.id, label: fullName(one) }))}
          />
          {leads.map((id) => {
            const person = plan.people[id];
            return (
              person && (
                <Chip key={id} name={fullName(person)} onLeaveOut={() => setLeads(leads.filter((one) => one !== id))}>
                  {fullName(person)}
                </Chip>
              )
            );
          })}
        </div>
        <Wrong>{wrong}</Wrong>
        <Actions>
          <Button onPress={onClose}>Leave</Button>
          <Button strong type="submit">
            Draft the change
          </Button>
        </Actions>
      </SubmitForm>
    </Dialog>
  );
}
