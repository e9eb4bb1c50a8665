import { useState } from "react";
import { isDay, sayInstant, wallOf } from "../../core/clock/local-time.ts";
import type { NewCommand } from "../../core/commands.ts";
import { cut } from "../../core/text/shorten.ts";
import { type Meeting, meetingsOf, readPattern, writePattern } from "../../core/timing/meetings.ts";
import { changeDays, type MeetingOwner } from "../../core/timing/owners.ts";
import { Button } from "../kit/Button.tsx";
import { DateTime } from "../kit/DateTime.tsx";
import { Actions, Dialog } from "../kit/Dialog.tsx";
import { Choice, TextField } from "../kit/Fields.tsx";
import { useWorkbench } from "../workbench/context.tsx";
import base from "./station.module.css";
import { Wrong } from "./Wrong.tsx";

/** "2026-10-26 Autumn break", a line a day. */
function readDays(text: string): { days: { day: string; title: string }[] } | { wrong: string } {
  const days: { day: string; title: string }[] = [];
  for (const line of text.split("\n")) {
    if (line.trim() === "") continue;
    const [day = "", ...title] = line.trim().split(/\s+/);
    if (!isDay(day)) return { wrong: `"${line.trim()}" does not begin with a day such as 2026-10-26.` };
    days.push({ day, title: cut(title.join(" "), 100) });
  }
  return { days };
}

type Moved = MeetingOwner["days"]["moved"];
interface MovedProps {
  moved: Moved;
  /** The meetings of the pattern, before any is moved. */
  usual: Meeting[];
  onChange(moved: Moved): void;
}
/** Meetings that take place at another time than the pattern says, and one more to be moved. */
function MovedMeetings({ moved, usual, onChange }: MovedProps) {
  const { plan } = useWorkbench();
  const zone = plan.course.timeZone;
  const at = (one: Moved[number], day: string, start: string) => one.day === day && one.start === start;
  const move = (wall: string) => {
    const [day = "", start = ""] = wall.split("T");
    if (!moved.some((one) => at(one, day, start))) onChange([...moved, { day, start, to: wall }]);
  };
  return (
    <>
      {moved.map(({ day, start, to }) => (
        <div key={`${day} ${start}`} className={base.bar}>
          <DateTime
            label={`${day} ${start} meets instead at`}
            value={to}
            onChange={(next) =>
              onChange(
                next === null
                  ? moved.filter((one) => !at(one, day, start))
                  : moved.map((one) => (at(one, day, start) ? { ...one, to: next } : one)),
              )
            }
          />
        </div>
      ))}
      <div className={base.bar}>
        <Choice
          label="Move a meeting"
          value={null}
          placeholder="Choose a meeting"
          options={usual.map(({ number, start }) => ({
            value: wallOf(start, zone),
            label: `${number}: ${sayInstant(start, zone)}`,
          }))}
          onChange={move}
        />
      </div>
    </>
  );
}

/**
 * Meeting pattern, no-class days and moved meetings of a section, with its titles, or of a group that meets by itself;
 * drafted as one change.
 */
export function MeetingDaysDialog({ owner, onClose }: { owner: MeetingOwner; onClose(): void }) {
  const { store, plan } = useWorkbench();
  const section = owner.kind === "section" ? (plan.sections[owner.id] ?? null) : null;
  const [title, setTitle] = useState(section?.title ?? "");
  const [studentTitle, setStudentTitle] = useState(section?.studentTitle ?? "");
  const [meets, setMeets] = useState(writePattern(owner.days.pattern));
  const [days, setDays] = useState(owner.days.noClassDays.join("\n"));
  const [moved, setMoved] = useState(owner.days.moved);
  const [wrong, setWrong] = useState<string | null>(null);
  const pattern = meets.trim() === "" ? [] : readPattern(meets);
  const free = readDays(days);
  const usual =
    pattern && !("wrong" in free)
      ? meetingsOf(plan.course, { pattern, noClassDays: free.days.map(({ day }) => day), moved: [], added: [] })
      : [];
  const draft = () => {
    if (!pattern)
      return setWrong("The meeting pattern is written as Mon Wed 09:00-10:15; several are set apart by semicolons.");
    if ("wrong" in free) return setWrong(free.wrong);
    if (section && (title.trim() === "" || studentTitle.trim() === "")) return setWrong("A section needs both titles.");
    const fields = { pattern, noClassDays: free.days.map(({ day }) => day), moved };
    const change: NewCommand = section
      ? { kind: "section.change", sectionId: section.id, fields: { title, studentTitle, ...fields } }
      : changeDays(owner, fields);
    if (store.draft([change])) onClose();
  };
  return (
    <Dialog title={section ? `Section ${section.code}` : `Meetings of ${owner.name}`} onClose={onClose}>
      {section && <TextField label="Title" value={title} onChange={setTitle} />}
      {section && <TextField label="Title that students see" value={studentTitle} onChange={setStudentTitle} />}
      <TextField
        label="Meets"
        hint="Mon Wed 09:00-10:15 Weir hut; Fri 14:00-15:00"
        value={meets}
        onChange={setMeets}
        error={pattern ? undefined : "No day and time can be read here."}
      />
      <TextField label="No class, a day a line" lines={2} value={days} onChange={setDays} />
      <MovedMeetings moved={moved} usual={usual} onChange={setMoved} />
      <DraftOrNot {...{ wrong, draft, onClose }} />
    </Dialog>
  );
}

interface DraftOrNotProps {
  wrong: string | null;
  draft(): void;
  onClose(): void;
}
const DraftOrNot = ({ wrong, draft, onClose }: DraftOrNotProps) => (
  <>
    <Wrong>{wrong}</Wrong>
    <Actions>
      <Button onPress={onClose}>Cancel</Button>
      <Button strong onPress={draft}>
        Draft the change
      </Button>
    </Actions>
  </>
);

/** No-class days of the whole course. */
export function NoClassDialog({ onClose }: { onClose(): void }) {
  const { store, plan } = useWorkbench();
  const [text, setText] = useState(
    plan.course.noClassDays.map(({ day, title }) => `${day} ${title}`.trim()).join("\n"),
  );
  const [wrong, setWrong] = useState<string | null>(null);
  const draft = () => {
    const read = readDays(text);
    if ("wrong" in read) return setWrong(read.wrong);
    if (store.draft([{ kind: "course.noClassDays", days: read.days }])) onClose();
  };
  return (
    <Dialog title="No-class days of the course" onClose={onClose}>
      <TextField
        label="A day a line, and what it is"
        hint="2026-10-26 Autumn break"
        lines={6}
        value={text}
        onChange={setText}
      />
      <DraftOrNot {...{ wrong, draft, onClose }} />
    </Dialog>
  );
}
