import { useEffect, useState } from "react";
import * as api from "../../../api/calendars.ts";
import { sayInstant } from "../../../core/clock/local-time.ts";
import { compareText, lookup } from "../../../core/plan/lookup.ts";
import { Button } from "../../kit/Button.tsx";
import { Actions, Dialog } from "../../kit/Dialog.tsx";
import { Choice } from "../../kit/Fields.tsx";
import once from "../../kit/once.module.css";
import { useWorkbench } from "../../workbench/context.tsx";
import { ask, isFailure } from "../../workbench/fetch.ts";
import { Person } from "../Person.tsx";
import base from "../station.module.css";
import styles from "./timing.module.css";

/** Calendars out of what is published: as a file, or under private addresses, which can be withdrawn. */
export function CalendarsDialog({ onClose }: { onClose(): void }) {
  const { store, plan } = useWorkbench();
  const { layers, groupsOfLayer } = lookup(plan);
  const [whose, setWhose] = useState("staff");
  const [personId, setPersonId] = useState<string | null>(null);
  const [addresses, setAddresses] = useState<api.CalendarAddress[] | null>(null);
  const [made, setMade] = useState<string | null>(null);
  const [wrong, setWrong] = useState<string | null>(null);
  const [alarm, setAlarm] = useState("");
  const address = `${store.address}/calendars`;
  const [kind = "staff", groupId] = whose.split("/");
  const id = kind === "student" ? personId : (groupId ?? null);
  const ready = kind === "staff" || id !== null;
  const of = kind === "staff" ? "staff" : `${kind}/${id}`;
  useEffect(() => {
    void ask(store.address, api.readCalendars).then((answer) => {
      if (isFailure(answer)) setWrong(answer.detail);
      else setAddresses(answer);
    });
  }, [store]);
  const whoseOf = () =>
    kind === "staff" ? { kind: "staff" as const } : { kind: kind as "student" | "group", id: id ?? "" };
  const make = async () => {
    setWrong(null);
    const answer = await ask(store.address, api.makeCalendarAddress, { body: whoseOf() });
    if (isFailure(answer)) return setWrong(answer.detail);
    setMade(`${location.origin}${answer.address}${alarm === "" ? "" : `?alarm=${alarm}`}`);
    const all = await ask(store.address, api.readCalendars);
    if (!isFailure(all)) setAddresses(all);
  };
  const withdraw = async (one: api.CalendarAddress) => {
    const answer = await ask(store.address, api.withdrawCalendarAddress, { params: { address: one.id } });
    if (isFailure(answer)) setWrong(answer.detail);
    else setAddresses(answer);
  };
  const groups = layers.flatMap((layer) =>
    (groupsOfLayer.get(layer.id) ?? []).map((group) => ({
      value: `group/${group.id}`,
      label: group.name,
      aside: layer.name,
    })),
  );
  return (
    <Dialog title="Calendars" onClose={onClose} wide>
      <p className={base.soft}>
        What is published, as others read it in a calendar of their own. A group's holds only what every member sees
        now; a student's only what that student sees.
      </p>
      <div className={base.bar}>
        <Choice
          label="Whose"
          value={whose}
          onChange={(next) => {
            setWhose(next);
            setMade(null);
          }}
          options={[
            { value: "staff", label: "All of the course, for staff" },
            { value: "student", label: "One student" },
            ...groups.sort((a, b) => compareText(a.aside, b.aside)),
          ]}
        />
        {kind === "student" && <Person label="Student" personId={personId} onChange={setPersonId} />}
        <Choice
          label="Reminder, by an address"
          value={alarm}
          onChange={setAlarm}
          options={[
            { value: "", label: "No reminder" },
            ...api.reminders.map(({ minutes, says }) => ({ value: String(minutes), label: says })),
          ]}
        />
      </div>
      <div className={base.bar}>
        <Button isDisabled={!ready} onPress={() => location.assign(`${address}?of=${encodeURIComponent(of)}`)}>
          Save as a calendar file
        </Button>
        <Button strong isDisabled={!ready} onPress={() => void make()}>
          Make a private address
        </Button>
      </div>
      {made && (
        <p role="status" className={once.once}>
          <code>{made}</code>
          Copy it now: it is not shown again. Whoever has it reads this calendar, without signing in.
        </p>
      )}
      {wrong && (
        <p role="alert" className={base.wrong}>
          {wrong}
        </p>
      )}
      <Addresses addresses={addresses} isFetching={addresses === null && !wrong} onWithdraw={withdraw} />
      <Actions>
        <Button onPress={onClose}>Done</Button>
      </Actions>
    </Dialog>
  );
}

interface AddressesProps {
  addresses: api.CalendarAddress[] | null;
  isFetching: boolean;
  onWithdraw(one: api.CalendarAddress): Promise<void>;
}

function Addresses({ addresses, isFetching, onWithdraw }: AddressesProps) {
  const { plan } = useWorkbench();
  const say = (at: number) => sayInstant(at, plan.course.timeZone);
  return (
    <>
      <h3>Addresses in use</h3>
      {isFetching && <p className={base.soft}>Fetching them</p>}
      {addresses?.length === 0 && <p className={base.soft}>None: nobody reads this course in another calendar.</p>}
      {addresses && addresses.length > 0 && (
        <div className={styles.shift}>
          <table className={base.table}>
            <thead>
              <tr>
                <th>Whose</th>
                <th>Made</th>
                <th>Last fetched</th>
                <th>
                  <span className="visually-hidden">Withdraw</span>
                </th>
              </tr>
            </thead>
            <tbody>
              {addresses.map((one) => (
                <tr key={one.id}>
                  <td>
                    {one.says} {!one.own && <span className={base.soft}>by themselves or other staff</span>}
                  </td>
                  <td>{say(one.madeAt)}</td>
                  <td>{one.readAt === null ? "not yet" : say(one.readAt)}</td>
                  <td className={styles.rowEnd}>
                    <Button
                      quiet
                      onPress={() => void onWithdraw(one)}
                      aria-label={`Withdraw the address for ${one.says}`}
                    >
                      Withdraw
                    </Button>
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
    </>
  );
}
