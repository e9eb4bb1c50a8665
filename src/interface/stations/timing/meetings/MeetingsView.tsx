import { useState } from "react";
import { sayDay, sayInstant, sayTime, wallOf } from "../../../../core/clock/local-time.ts";
import { type Meeting, meetingsOf, sayPattern } from "../../../../core/timing/meetings.ts";
import { goingBy } from "../../../../core/timing/moving/shift.ts";
import { changeDays, type MeetingOwner, meetingOwners } from "../../../../core/timing/owners.ts";
import { Button } from "../../../kit/Button.tsx";
import { plural } from "../../../kit/words.ts";
import { useParts, useReach, useWorkbench, Why } from "../../../workbench/context.tsx";
import { CoordinatorOnly } from "../../../workbench/may.tsx";
import { MeetingDaysDialog, NoClassDialog } from "../../MeetingDaysDialog.tsx";
import base from "../../station.module.css";
import styles from "../timing.module.css";
import { AddMeeting } from "./AddMeeting.tsx";
import { CalendarFileDialog } from "./CalendarFileDialog.tsx";
import { ShiftDialog } from "./ShiftDialog.tsx";

type Open = { kind: "section" | "no class" | "add" | "file" } | { kind: "meeting"; number: number } | null;

/** The meeting calendar of each section, and of each group that meets by itself: counted from its pattern; meetings moved, added and lost. */
export function MeetingsView() {
  const { store, plan } = useWorkbench();
  const state = useParts("scope");
  const reach = useReach();
  const owners = meetingOwners(plan);
  const [ownerId, setOwnerId] = useState<string | null>(null);
  const [open, setOpen] = useState<Open>(null);
  const owner = owners.find(({ id }) => id === ownerId) ?? owners[0];
  if (!owner)
    return (
      <div className={base.empty}>
        <h3>No sections{state.scope ? " of yours" : " yet"}</h3>
        <p className={base.soft}>
          {state.scope
            ? "You were given no section. The meetings of each that you are given stand here."
            : "Take a roster in on Intake; each section then has its meetings here."}
        </p>
      </div>
    );
  const meetings = meetingsOf(plan.course, owner.days);
  const close = () => setOpen(null);
  return (
    <>
      <div className={styles.halves}>
        <section className={`${styles.items} ${base.scroll}`} aria-label="Who meets">
          <table className={base.table}>
            <thead className={styles.stickyHead}>
              <tr>
                <th>Section or group</th>
                <th>Meets</th>
                <th className={base.number}>Times</th>
              </tr>
            </thead>
            <tbody>
              {owners.map((one) => (
                <tr key={one.id} className={one === owner ? (styles.chosen as string) : ""}>
                  <td>
                    <button
                      type="button"
                      className={base.plainButton}
                      aria-current={one === owner || undefined}
                      onClick={() => setOwnerId(one.id)}
                    >
                      {one.name}
                    </button>
                  </td>
                  <td>{sayPattern(one.days.pattern)}</td>
                  <td className={base.number}>{meetingsOf(plan.course, one.days).length}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </section>
        <section className={styles.datesOf} aria-label={`Meetings of ${owner.name}`}>
          <div className={styles.datesHead}>
            <h3>{owner.name}</h3>
            <span className={base.soft}>{plural(meetings.length, "meeting")}</span>
            <span className={base.push} />
            <CoordinatorOnly>
              <Button onPress={() => setOpen({ kind: "add" })}>Add a meeting</Button>
              <Button onPress={() => setOpen({ kind: "section" })}>Pattern and days</Button>
              <Button onPress={() => setOpen({ kind: "no class" })}>No-class days of the course</Button>
              <Button onPress={() => setOpen({ kind: "file" })}>Read a calendar file</Button>
            </CoordinatorOnly>
          </div>
          {meetings.length === 0 ? (
            <p className={base.soft}>
              {owner.name} has no meetings: dates given as class meetings fall back to a plain date, or are missing.
            </p>
          ) : (
            <div className={base.scroll}>
              <MeetingTable
                owner={owner}
                meetings={meetings}
                change={(number) => setOpen({ kind: "meeting", number })}
                remove={(start) =>
                  store.draft([changeDays(owner, { added: owner.days.added.filter((one) => one.start !== start) })])
                }
              />
            </div>
          )}
        </section>
      </div>
      {open?.kind === "section" && <MeetingDaysDialog owner={owner} onClose={close} />}
      {open?.kind === "no class" && <NoClassDialog onClose={close} />}
      {open?.kind === "add" && <AddMeeting owner={owner} onClose={close} />}
      {open?.kind === "file" && <CalendarFileDialog owner={owner} onClose={close} />}
      {open?.kind === "meeting" && <ShiftDialog owner={owner} number={open.number} onClose={close} />}
      <Why>
        <section>
          <h3 className={base.whyTitle}>{owner.name}</h3>
          <p>
            Dates of {plural(goingBy(reach, owner.id), "student")} that are given as class meetings go by this calendar.
          </p>
          {owner.days.noClassDays.length > 0 && <p>No class on {owner.days.noClassDays.map(sayDay).join(", ")}.</p>}
          <p>
            {plan.course.noClassDays.length > 0
              ? `Nor in the whole course on ${plan.course.noClassDays.map(({ day }) => sayDay(day)).join(", ")}.`
              : "The course has no day without class."}
          </p>
          <p className={base.soft}>
            Meetings are counted from the pattern within the term, without days that have no class. One that is moved
            keeps its number; one that is added is counted by when it begins.
          </p>
        </section>
      </Why>
    </>
  );
}

interface TableProps {
  owner: MeetingOwner;
  meetings: Meeting[];
  change(number: number): void;
  remove(start: string): void;
}

function MeetingTable({ owner, meetings, change, remove }: TableProps) {
  const { plan, t } = useWorkbench();
  const { timeZone } = plan.course;
  return (
    <table className={base.table}>
      <thead className={styles.stickyHead}>
        <tr>
          <th className={base.number}>No.</th>
          <th>Begins</th>
          <th>Ends</th>
          <th>Place</th>
          <th>
            <span className="visually-hidden">Moved or added</span>
          </th>
          <th>
            <span className="visually-hidden">Change</span>
          </th>
        </tr>
      </thead>
      <tbody>
        {meetings.map((meeting) => (
          <tr key={meeting.start} data-past={meeting.end < t || undefined} className={styles.meetingRow as string}>
            <td className={base.number}>{meeting.number}</td>
            <td>{sayInstant(meeting.start, timeZone)}</td>
            <td>{sayTime(wallOf(meeting.end, timeZone).slice(11))}</td>
            <td>{meeting.place}</td>
            <td className={base.soft}>
              {meeting.slot === null ? "added" : meeting.moved ? `moved from ${sayDay(meeting.slot.day)}` : ""}
            </td>
            <td className={styles.rowEnd}>
              <CoordinatorOnly>
                <Button
                  quiet
                  aria-label={`Meeting ${meeting.number} of ${owner.name} falls out or moves`}
                  onPress={() => change(meeting.number)}
                >
                  Falls out or moves
                </Button>
                {meeting.slot === null && (
                  <Button
                    quiet
                    aria-label={`Remove the added meeting ${meeting.number}`}
                    onPress={() => remove(wallOf(meeting.start, timeZone))}
                  >
                    Remove
                  </Button>
                )}
              </CoordinatorOnly>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
