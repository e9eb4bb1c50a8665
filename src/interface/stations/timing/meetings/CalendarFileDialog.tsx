import { useState } from "react";
import { sayDay, sayWall } from "../../../../core/clock/local-time.ts";
import type { CalendarRead } from "../../../../core/formats/icalendar/read.ts";
import type { MeetingOwner } from "../../../../core/timing/owners.ts";
import {
  type CalendarRow,
  calendarCommands,
  changes,
  rowsOfCalendar,
} from "../../../../core/timing/typing/calendar-file.ts";
import type { CalendarAnswer, CalendarWorker as CalendarFunctions } from "../../../../workers/calendar.ts";
import CalendarWorker from "../../../../workers/calendar.ts?worker";
import { Button } from "../../../kit/Button.tsx";
import { Actions, Dialog } from "../../../kit/Dialog.tsx";
import { Checkbox } from "../../../kit/Fields.tsx";
import { FileButton } from "../../../kit/FileButton.tsx";
import { RowCheck } from "../../../kit/RowCheck.tsx";
import { Rows } from "../../../kit/Rows.tsx";
import { SubmitForm } from "../../../kit/SubmitForm.tsx";
import { plural } from "../../../kit/words.ts";
import { askOnce } from "../../../kit/worker.ts";
import { useWorkbench } from "../../../workbench/context.tsx";
import base from "../../station.module.css";
import styles from "../timing.module.css";

const verdicts: Record<CalendarRow["kind"], string> = {
  "no class": "a day without class",
  meeting: "a meeting more",
  missing: "not in the file: a day without class?",
};
const says = (row: CalendarRow): string =>
  row.kind === "no class"
    ? `${sayDay(row.day)}, ${row.title || "without a title"}`
    : row.kind === "meeting"
      ? `${sayWall(row.start)} to ${row.end.slice(11)}${row.title ? `, ${row.title}` : ""}`
      : `Meeting ${row.number}, ${sayWall(row.start)}`;

const unread: CalendarAnswer = { wrong: "It could not be read here. Nothing was changed; try again." };

/** Days without class and meetings from a calendar file, each looked at before anything is drafted. */
export function CalendarFileDialog({ owner, onClose }: { owner: MeetingOwner; onClose(): void }) {
  const { store, plan } = useWorkbench();
  const { course } = plan;
  const [read, setRead] = useState<CalendarRead | null>(null);
  const [wrong, setWrong] = useState<string | null>(null);
  const [under, setUnder] = useState<string | null>(null);
  const [forCourse, setForCourse] = useState(true);
  // What is new in the file is taken, what the file lacks is not: until somebody says otherwise.
  const [turned, setTurned] = useState<ReadonlySet<number>>(new Set());
  const take = async (file: File) => {
    setRead(null);
    setWrong(null);
    setTurned(new Set());
    const { timeZone, termStart, termEnd } = course;
    const days = { timeZone, from: termStart, until: termEnd };
    setUnder(`Reading ${file.name}`);
    const text = await file.text();
    const found = await askOnce<CalendarFunctions, CalendarAnswer>(
      CalendarWorker,
      (worker) => worker.read(text, days),
      unread,
    );
    setUnder(null);
    if ("wrong" in found) setWrong(`${file.name}: ${found.wrong}`);
    else setRead(found);
  };
  const rows = read ? rowsOfCalendar(course, owner.days, read.entries) : [];
  const isTaken = (row: CalendarRow, at: number) => changes(row) && (row.kind !== "missing") !== turned.has(at);
  const taken = rows.filter(isTaken);
  const lacking = rows.flatMap((row, at) => (row.kind === "missing" ? [at] : []));
  const turn = (at: number[]) => {
    const next = new Set(turned);
    for (const one of at) next.has(one) ? next.delete(one) : next.add(one);
    setTurned(next);
  };
  const draft = () => {
    const commands = calendarCommands(course, owner, taken, forCourse);
    if (commands.length > 0 && store.draft(commands)) onClose();
  };
  return (
    <Dialog title={`A calendar file for ${owner.name}`} onClose={onClose} wide>
      <SubmitForm onSubmit={draft}>
        <p className={base.soft}>
          Whole days in the file are days without class; timed entries are meetings of {owner.name}. Nothing is drafted
          before you have looked at it.
        </p>
        <div className={base.bar}>
          <FileButton accept=".ics,text/calendar" testId="calendar" onChoose={(file) => void take(file)}>
            Choose a calendar file
          </FileButton>
          <Checkbox isSelected={forCourse} onChange={setForCourse}>
            Days without class hold for the whole course
          </Checkbox>
        </div>
        {under && <p role="status">{under}</p>}
        {wrong && (
          <p role="alert" className={base.wrong}>
            {wrong}
          </p>
        )}
        {read && (
          <>
            <p>
              {plural(rows.filter(changes).length, "line")} would change something,{" "}
              {rows.length - rows.filter(changes).length} are as they stand, {read.outside} lie outside the term.
            </p>
            {lacking.length > 0 && (
              <div className={base.bar}>
                <span>{plural(lacking.length, "meeting")} of the pattern are not in the file, and stay.</span>
                <Button quiet onPress={() => turn(lacking.filter((at) => !turned.has(at)))}>
                  Take them all as days without class
                </Button>
              </div>
            )}
            {read.unreadable.map((one) => (
              <p key={one} className={base.wrong}>
                {one}
              </p>
            ))}
            {read.notes.map((one) => (
              <p key={one}>{one}</p>
            ))}
            <Rows count={rows.length} label="What the file says" upTo="44vh">
              {(at) => {
                const row = rows[at] as CalendarRow;
                return (
                  <div className={base.line}>
                    {changes(row) && (
                      <RowCheck label={`Take ${says(row)}`} isSelected={isTaken(row, at)} onChange={() => turn([at])} />
                    )}
                    <span className={`${base.cut} ${styles.moveItem}`}>{says(row)}</span>
                    <span className={changes(row) ? "" : base.soft}>{changes(row) ? verdicts[row.kind] : "known"}</span>
                  </div>
                );
              }}
            </Rows>
          </>
        )}
        <Actions>
          <Button onPress={onClose}>Leave</Button>
          <Button strong type="submit" isDisabled={taken.length === 0}>
            Draft {plural(taken.length, "line")}
          </Button>
        </Actions>
      </SubmitForm>
    </Dialog>
  );
}
