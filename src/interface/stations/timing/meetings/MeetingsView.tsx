import { useState } from "react";
import { compareText } from "../../../../core/plan/lookup.ts";
import type { Section } from "../../../../core/plan/types.ts";
import { type Meeting, meetingsOf, sayPattern } from "../../../../core/timing/meetings.ts";
import { goingBy } from "../../../../core/timing/moving/shift.ts";
import { sayDay, sayInstant, wallOf } from "../../../../core/timing/wall.ts";
import { CoordinatorOnly } from "../../../bench/CoordinatorOnly.tsx";
import { useBench, Why } from "../../../bench/context.tsx";
import { Button } from "../../../kit/Button.tsx";
import { plural } from "../../../kit/words.ts";
import { NoClassDialog, SectionDialog } from "../../intake/SectionDialog.tsx";
import base from "../../station.module.css";
import styles from "../timing.module.css";
import { AddMeeting } from "./AddMeeting.tsx";
import { CalendarFileDialog } from "./CalendarFileDialog.tsx";
import { ShiftDialog } from "./ShiftDialog.tsx";

type Open = { kind: "section" | "no class" | "add" | "file" } | { kind: "meeting"; number: number } | null;

/** The meeting calendar of each section: counted from its pattern; meetings moved, added and lost. */
export function MeetingsView() {
  const { store, plan, reach, state } = useBench();
  const sections = Object.values(plan.sections).sort((a, b) => compareText(a.code, b.code));
  const [sectionId, setSectionId] = useState<string | null>(null);
  const [open, setOpen] = useState<Open>(null);
  const section = plan.sections[sectionId ?? ""] ?? sections[0];
  if (!section)
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
  const meetings = meetingsOf(plan.course, section);
  const close = () => setOpen(null);
  return (
    <>
      <div className={styles.halves}>
        <section className={`${styles.items} ${base.scroll}`} aria-label="Sections">
          <table className={base.table}>
            <thead className={styles.stickyHead}>
              <tr>
                <th>Section</th>
                <th>Meets</th>
                <th className={base.number}>Times</th>
              </tr>
            </thead>
            <tbody>
              {sections.map((one) => (
                <tr key={one.id} className={one === section ? (styles.chosen as string) : ""}>
                  <td>
                    <button
                      type="button"
                      className={base.plainButton}
                      aria-current={one === section || undefined}
                      onClick={() => setSectionId(one.id)}
                    >
                      {one.code}
                    </button>
                  </td>
                  <td>{sayPattern(one.pattern)}</td>
                  <td className={base.number}>{meetingsOf(plan.course, one).length}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </section>
        <section className={styles.datesOf} aria-label={`Meetings of ${section.code}`}>
          <div className={styles.datesHead}>
            <h3>{section.code}</h3>
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
              This section has no meetings: dates given as class meetings fall back to a plain date, or are missing.
            </p>
          ) : (
            <div className={base.scroll}>
              <MeetingTable
                section={section}
                meetings={meetings}
                change={(number) => setOpen({ kind: "meeting", number })}
                remove={(start) =>
                  store.draft([
                    {
                      kind: "section.change",
                      sectionId: section.id,
                      fields: { added: section.added.filter((one) => one.start !== start) },
                    },
                  ])
                }
              />
            </div>
          )}
        </section>
      </div>
      {open?.kind === "section" && <SectionDialog section={section} onClose={close} />}
      {open?.kind === "no class" && <NoClassDialog onClose={close} />}
      {open?.kind === "add" && <AddMeeting section={section} onClose={close} />}
      {open?.kind === "file" && <CalendarFileDialog section={section} onClose={close} />}
      {open?.kind === "meeting" && <ShiftDialog section={section} number={open.number} onClose={close} />}
      <Why>
        <section>
          <h3 className={base.whyTitle}>{section.code}</h3>
          <p>
            Dates of {plural(goingBy(reach, section.id), "student")} that are given as class meetings go by this
            calendar.
          </p>
          {section.noClassDays.length > 0 && <p>No class on {section.noClassDays.map(sayDay).join(", ")}.</p>}
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
  section: Section;
  meetings: Meeting[];
  change(number: number): void;
  remove(start: string): void;
}

function MeetingTable({ section, meetings, change, remove }: TableProps) {
  const { plan, t } = useBench();
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
            <td>{wallOf(meeting.end, timeZone).slice(11)}</td>
            <td>{meeting.place}</td>
            <td className={base.soft}>
              {meeting.slot === null ? "added" : meeting.moved ? `moved from ${sayDay(meeting.slot.day)}` : ""}
            </td>
            <td className={styles.rowEnd}>
              <CoordinatorOnly>
                <Button
                  quiet
                  aria-label={`Meeting ${meeting.number} of ${section.code} falls out or moves`}
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
