import { useState } from "react";
import * as api from "../../../api/staff.ts";
import type { StaffMember } from "../../../core/access/staff.ts";
import { isEmail } from "../../../core/intake/columns.ts";
import type { PersonCard } from "../../../core/intake/commands.ts";
import { fullName } from "../../../core/plan/lookup.ts";
import { type StaffMay, type StaffRole, staffRoles, type Target } from "../../../core/plan/types.ts";
import { Button } from "../../kit/Button.tsx";
import { Actions, Dialog } from "../../kit/Dialog.tsx";
import { Checkbox, Choice, TextField } from "../../kit/Fields.tsx";
import { SubmitForm } from "../../kit/SubmitForm.tsx";
import { useWorkbench } from "../../workbench/context.tsx";
import { ask, isFailure } from "../../workbench/fetch.ts";
import base from "../station.module.css";
import { Targets } from "../Targets.tsx";
import { Wrong } from "../Wrong.tsx";
import styles from "./intake.module.css";
import { TypedPerson } from "./TypedPerson.tsx";
import { useDirectory } from "./useDirectory.ts";

const roleLabels: Record<StaffRole, string> = {
  coordinator: "Coordinator: all of the course",
  instructor: "Instructor",
  support: "Support",
};
const blank: PersonCard = { sourcedId: "", username: null, email: null, givenName: "", familyName: "" };

/** Somebody new on the staff, or what somebody is given: their sections and groups, and what they may do by themselves. */
export function StaffDialog({ member, onClose }: { member: StaffMember | null; onClose(): void }) {
  const { store } = useWorkbench();
  const [text, setText] = useState("");
  const { found, trouble } = useDirectory(text);
  const [card, setCard] = useState<PersonCard | null>(null);
  const [typed, setTyped] = useState<PersonCard | null>(null);
  const [role, setRole] = useState<StaffRole>(member?.role ?? "instructor");
  const [targets, setTargets] = useState<Target[]>([
    ...(member?.sectionIds ?? []).map((id): Target => ({ kind: "section", id })),
    ...(member?.groupIds ?? []).map((id): Target => ({ kind: "group", id })),
  ]);
  const [may, setMay] = useState<StaffMay[]>(member?.may ?? []);
  const [wrong, setWrong] = useState<string | null>(null);
  const ids = (kind: Target["kind"]) => targets.filter((one) => one.kind === kind).map(({ id }) => id);
  const name = member ? fullName(member.person) : "";
  const go = async () => {
    const invited = typed ? { ...typed, sourcedId: typed.sourcedId.trim() } : card;
    if (!member && !invited) return setWrong("Find somebody in the directory and choose them, or type them.");
    if (typed && (invited?.sourcedId === "" || typed.familyName.trim() === ""))
      return setWrong("Whoever is typed needs at least the registrar's id and a family name.");
    if (typed?.email && !isEmail(typed.email)) return setWrong(`"${typed.email}" is not an e-mail address.`);
    if (role !== "coordinator" && targets.length === 0)
      return setWrong("Give them at least one section or group: without any they see nobody.");
    const given = {
      role,
      sectionIds: role === "coordinator" ? [] : ids("section"),
      groupIds: role === "coordinator" ? [] : ids("group"),
      may: role === "coordinator" ? [] : may,
    };
    const body = member ? { change: member.person.id, given } : invited && { invite: invited, given };
    if (!body) return;
    const answer = await ask(store.address, api.changeStaff, { body });
    if (isFailure(answer)) return setWrong(answer.detail);
    await store.load();
    store.tell("done", `${answer.says}. It holds at once.`);
    onClose();
  };
  const allow = (one: StaffMay, on: boolean) => setMay(on ? [...may, one] : may.filter((other) => other !== one));
  return (
    <Dialog title={member ? `What ${name} is given` : "Invite to the staff"} onClose={onClose}>
      <SubmitForm onSubmit={() => void go()}>
        {!member && !typed && (
          <>
            <TextField
              label="Find in the directory"
              hint="By name, login or id"
              value={text}
              onChange={setText}
              autoFocus
            />
            <Wrong>{trouble}</Wrong>
            <div className={styles.found}>
              {[...(card && !found.some(({ sourcedId }) => sourcedId === card.sourcedId) ? [card] : []), ...found].map(
                (one) => (
                  <Checkbox
                    key={one.sourcedId}
                    isSelected={card?.sourcedId === one.sourcedId}
                    onChange={(on) => setCard(on ? one : null)}
                  >
                    {fullName(one)} <span className={base.soft}>{one.sourcedId}</span>
                  </Checkbox>
                ),
              )}
              {text.trim().length >= 2 && found.length === 0 && !trouble && (
                <p className={base.soft}>Nobody of that name is in the directory.</p>
              )}
            </div>
            <Button quiet onPress={() => setTyped(blank)}>
              Type somebody who is not in the directory
            </Button>
          </>
        )}
        {typed && <TypedPerson card={typed} onChange={setTyped} />}
        <Choice<StaffRole>
          label="Role"
          value={role}
          options={staffRoles.map((value) => ({ value, label: roleLabels[value] }))}
          onChange={setRole}
        />
        {role !== "coordinator" && (
          <>
            <Targets label="Sections and groups" targets={targets} onChange={setTargets} kinds={["section", "group"]} />
            <Checkbox isSelected={may.includes("publish")} onChange={(on) => allow("publish", on)}>
              May publish what touches nobody else
            </Checkbox>
            <Checkbox isSelected={may.includes("change members")} onChange={(on) => allow("change members", on)}>
              May change who is in these groups
            </Checkbox>
            <Checkbox isSelected={may.includes("set allowances")} onChange={(on) => allow("set allowances", on)}>
              May set allowances for them
            </Checkbox>
            {role === "support" && (
              <Checkbox isSelected={may.includes("mark")} onChange={(on) => allow("mark", on)}>
                May mark their work
              </Checkbox>
            )}
          </>
        )}
        <Wrong>{wrong}</Wrong>
        <Actions>
          <Button onPress={onClose}>Leave</Button>
          <Button strong type="submit">
            {member ? "Give this" : "Invite"}
          </Button>
        </Actions>
      </SubmitForm>
    </Dialog>
  );
}
