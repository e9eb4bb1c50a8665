import { FileSpreadsheet } from "lucide-react";
import { useEffect } from "react";
import { DropZone, FileTrigger } from "react-aria-components";
import { doubleEnrolled } from "../../../core/placement/membership.ts";
import { compareText, fullName, holdsAt, lookup } from "../../../core/plan/lookup.ts";
import { sayPattern } from "../../../core/timing/meetings.ts";
import { sayInstant } from "../../../core/timing/wall.ts";
import { useBench, Why } from "../../bench/context.tsx";
import { Button } from "../../kit/Button.tsx";
import { plural } from "../../kit/words.ts";
import base from "../station.module.css";
import styles from "./intake.module.css";
import { type IntakeState, useIntake } from "./useIntake.ts";
import { Verdicts } from "./Verdicts.tsx";

export function Intake() {
  const intake = useIntake();
  const looking = intake.sources.length > 0;
  return (
    <div className={base.station}>
      {looking ? (
        <Verdicts intake={intake} />
      ) : (
        <>
          <Drop intake={intake} />
          {intake.unreadable.map(({ name, sentence }) => (
            <p key={name} role="alert" className={base.wrong}>
              {sentence}
            </p>
          ))}
          <Sections />
          <Past intake={intake} />
        </>
      )}
      <DoubleEnrolled />
    </div>
  );
}

const bytesOf = async (file: File) => ({
  name: file.name,
  content: new Uint8Array(await file.arrayBuffer()),
});

function Drop({ intake }: { intake: IntakeState }) {
  const { take, busy } = intake;
  const takeFiles = async (files: File[]) => {
    if (files.length > 0) await take(await Promise.all(files.map(bytesOf)));
  };
  useEffect(() => {
    const paste = (event: ClipboardEvent) => {
      if ((event.target as HTMLElement).closest("input, textarea")) return;
      const text = event.clipboardData?.getData("text/plain");
      if (text?.includes("\n")) void take([{ name: "pasted rows", content: text }]);
    };
    addEventListener("paste", paste);
    return () => removeEventListener("paste", paste);
  }, [take]);
  return (
    <DropZone
      className={styles.drop as string}
      aria-label="Drop rosters here"
      onDrop={async (event) => {
        const files = await Promise.all(
          event.items.filter((item) => item.kind === "file").map((item) => item.getFile()),
        );
        await takeFiles(files);
      }}
    >
      <FileSpreadsheet size={30} strokeWidth={1.4} aria-hidden />
      <div>
        <h2>Drop the registrar's rosters here</h2>
        <p className={base.soft}>
          One merged list or a file a section, as CSV; or paste rows from a spreadsheet. Nothing changes until you have
          looked.
        </p>
      </div>
      <FileTrigger
        allowsMultiple
        acceptedFileTypes={[".csv", ".tsv", ".txt", "text/csv"]}
        onSelect={(list) => takeFiles(Array.from(list ?? []))}
      >
        <Button strong isDisabled={busy !== null}>
          {busy === "reading" ? "Reading" : "Choose files"}
        </Button>
      </FileTrigger>
    </DropZone>
  );
}

/** The sections of the course: how many, when they meet, and who came or left lately. */
function Sections() {
  const { plan, t } = useBench();
  const sections = Object.values(plan.sections).sort((a, b) => compareText(a.code, b.code));
  if (sections.length === 0) {
    return (
      <p className={base.soft}>
        This course is empty. Drop a roster to begin: its sections, people and a group for each section come out of it.
      </p>
    );
  }
  const week = t - 7 * 86_400_000;
  const enrolments = Object.values(plan.enrolments).filter(({ role }) => role === "student");
  return (
    <section aria-label="Sections">
      <table className={base.table}>
        <thead>
          <tr>
            <th>Section</th>
            <th>Title</th>
            <th>Meets</th>
            <th className={base.number}>Students</th>
            <th className={base.number}>Came this week</th>
            <th className={base.number}>Left this week</th>
            <th>Staff</th>
          </tr>
        </thead>
        <tbody>
          {sections.map((section) => {
            const own = enrolments.filter(({ sectionId }) => sectionId === section.id);
            const staff = Object.values(plan.enrolments)
              .filter((row) => row.role !== "student" && row.sectionId === section.id && holdsAt(row, t))
              .map((row) => plan.people[row.personId])
              .filter((person) => person !== undefined);
            return (
              <tr key={section.id}>
                <td>
                  <strong>{section.code}</strong>
                </td>
                <td>{section.title}</td>
                <td>{sayPattern(section.pattern)}</td>
                <td className={base.number}>{own.filter((row) => holdsAt(row, t)).length}</td>
                <td className={base.number}>{own.filter(({ since }) => since > week && since <= t).length}</td>
                <td className={base.number}>
                  {own.filter(({ until }) => until !== null && until > week && until <= t).length}
                </td>
                <td>{staff.map(fullName).join("; ")}</td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </section>
  );
}

/** Students in two sections: choosing a home is drafted there and then. */
function DoubleEnrolled() {
  const { store, plan, t } = useBench();
  const people = doubleEnrolled(plan, t);
  return (
    <Why>
      {people.length === 0 ? (
        <p className={base.soft}>Verdicts, and whatever a roster leaves to decide, are explained here.</p>
      ) : (
        <section>
          <h3 className={base.whyTitle}>In two sections</h3>
          <p className={base.soft}>Until you choose, the section they joined last is their home.</p>
          {people.map((personId) => {
            const person = plan.people[personId];
            const open = (lookup(plan).enrolmentsOfPerson.get(personId) ?? []).filter(
              (row) => row.sectionId && holdsAt(row, t),
            );
            return (
              <div key={personId} className={styles.double}>
                <strong>{person && fullName(person)}</strong>
                {open.map((row) => (
                  <Button key={row.id} onPress={() => store.draft([{ kind: "enrolment.home", enrolmentId: row.id }])}>
                    Home is {plan.sections[row.sectionId ?? ""]?.code}
                  </Button>
                ))}
              </div>
            );
          })}
        </section>
      )}
    </Why>
  );
}

function Past({ intake }: { intake: IntakeState }) {
  const { plan } = useBench();
  if (intake.past.length === 0) return null;
  return (
    <section aria-label="Earlier intakes">
      <h3>Earlier intakes</h3>
      <table className={base.table}>
        <tbody>
          {intake.past.map(({ id, at, by, files, counts }) => (
            <tr key={id}>
              <td>{sayInstant(at, plan.course.timeZone)}</td>
              <td>{files.join(", ")}</td>
              <td>
                {plural(counts.new ?? 0, "new", "new")}, {plural(counts.moved ?? 0, "moved", "moved")},{" "}
                {plural(counts.missing ?? 0, "left", "left")}
              </td>
              <td>{by}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
