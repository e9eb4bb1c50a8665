import { useState } from "react";
import * as api from "../../../api/staff.ts";
import { type StaffMember, staffAt } from "../../../core/access/staff.ts";
import { fullName } from "../../../core/plan/lookup.ts";
import { Button } from "../../kit/Button.tsx";
import { Actions, Dialog } from "../../kit/Dialog.tsx";
import { useParts, useWorkbench, Why } from "../../workbench/context.tsx";
import { ask, isFailure } from "../../workbench/fetch.ts";
import { GroupName } from "../GroupName.tsx";
import base from "../station.module.css";
import { Wrong } from "../Wrong.tsx";
import styles from "./intake.module.css";
import { StaffDialog } from "./StaffDialog.tsx";

const roleNames = { coordinator: "coordinates", instructor: "instructor", support: "support" } as const;
const mayNames = {
  publish: "publishes within this",
  "change members": "changes who is in these groups",
  mark: "marks their work",
  "set allowances": "sets their allowances",
} as const;

/** Who is on the staff, what each of them is given, and who is invited, changed or withdrawn: at once. */
export function Staff() {
  const { plan, t } = useWorkbench();
  const state = useParts("scope", "asWas");
  const [open, setOpen] = useState<StaffMember | "new" | null>(null);
  const [leaving, setLeaving] = useState<StaffMember | null>(null);
  const staff = staffAt(plan, t);
  const mayChange = state.scope === null && state.asWas === null;
  return (
    <section aria-label="Staff">
      <div className={base.bar}>
        <span className={base.soft}>Whoever coordinates sees all of the course; the others what they are given.</span>
        <span className={base.push} />
        {mayChange && (
          <Button strong onPress={() => setOpen("new")}>
            Invite
          </Button>
        )}
      </div>
      <table className={base.table}>
        <thead>
          <tr>
            <th>Name</th>
            <th>Role</th>
            <th>Sections</th>
            <th>Groups</th>
            <th>May also</th>
            <th>
              <span className="visually-hidden">Change</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {staff.map((one) => (
            <tr key={one.person.id}>
              <td>
                <strong>{fullName(one.person)}</strong>
              </td>
              <td>{roleNames[one.role]}</td>
              <td>
                {one.role === "coordinator"
                  ? "all"
                  : one.sectionIds.map((id) => plan.sections[id]?.code).join(", ") || (
                      <span className={base.soft}>none</span>
                    )}
              </td>
              <td>
                {one.role === "coordinator"
                  ? "all"
                  : one.groupIds.map((id) => {
                      const group = plan.groups[id];
                      return group && <GroupName key={id} group={group} />;
                    })}
              </td>
              <td>{one.may.map((may) => mayNames[may]).join(", ")}</td>
              <td className={styles.acts}>
                {mayChange && (
                  <>
                    <Button
                      quiet
                      aria-label={`Change what ${fullName(one.person)} is given`}
                      onPress={() => setOpen(one)}
                    >
                      Change
                    </Button>
                    <Button quiet aria-label={`Withdraw ${fullName(one.person)}`} onPress={() => setLeaving(one)}>
                      Withdraw
                    </Button>
                  </>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <Why>
        <p className={base.soft}>
          Instructors and support people read, mark and write to the students of the sections and groups they are given;
          nothing of anybody else reaches them, in no count and no search. What they draft comes to you as a proposal,
          unless they may publish what touches only those students. Changes here hold at once.
        </p>
      </Why>
      {open && <StaffDialog member={open === "new" ? null : open} onClose={() => setOpen(null)} />}
      {leaving && <Withdraw member={leaving} onClose={() => setLeaving(null)} />}
    </section>
  );
}

function Withdraw({ member, onClose }: { member: StaffMember; onClose(): void }) {
  const { store } = useWorkbench();
  const [wrong, setWrong] = useState<string | null>(null);
  const name = fullName(member.person);
  const go = async () => {
    const answer = await ask(store.address, api.changeStaff, { body: { withdraw: member.person.id } });
    if (isFailure(answer)) return setWrong(answer.detail);
    await store.load();
    store.tell("done", `${answer.says}. What they wrote and marked stays.`);
    onClose();
  };
  return (
    <Dialog title={`Withdraw ${name}`} onClose={onClose}>
      <p>
        {name} is out of the course at once, with every page they have open. What they wrote and marked stays, and what
        they drafted is kept in case they come back.
      </p>
      <Wrong>{wrong}</Wrong>
      <Actions>
        <Button onPress={onClose}>Leave</Button>
        <Button strong onPress={() => void go()}>
          Withdraw now
        </Button>
      </Actions>
    </Dialog>
  );
}
