import { scaleLinear } from "d3-scale";
import { curveStepAfter, line } from "d3-shape";
import { useMemo, useState } from "react";
import { type SectionWeek, sectionWeeks, studentsBySection } from "../../../core/intake/section-history.ts";
import { compareText, fullName, holdsAt } from "../../../core/plan/lookup.ts";
import type { Section } from "../../../core/plan/types.ts";
import { sayPattern } from "../../../core/timing/meetings.ts";
import { meetingOwner } from "../../../core/timing/owners.ts";
import { Button } from "../../kit/Button.tsx";
import { useParts, useWorkbench, Why } from "../../workbench/context.tsx";
import { MeetingDaysDialog, NoClassDialog } from "../MeetingDaysDialog.tsx";
import base from "../station.module.css";
import { WriteTo } from "../WithPeople.tsx";
import { DivideDialog } from "./DivideDialog.tsx";
import styles from "./intake.module.css";

/** The sections of the course: how many, how that changed, when they meet, and who teaches them. */
export function Sections() {
  const { plan, t } = useWorkbench();
  const state = useParts("scope");
  const [editing, setEditing] = useState<string | null>(null);
  const [dividing, setDividing] = useState<Section | null>(null);
  const [noClass, setNoClass] = useState(false);
  const sections = useMemo(
    () => Object.values(plan.sections).sort((a, b) => compareText(a.code, b.code)),
    [plan.sections],
  );
  const students = useMemo(() => studentsBySection(plan), [plan]);
  const staff = useMemo(
    () => Object.values(plan.enrolments).filter((row) => row.role !== "student" && holdsAt(row, t)),
    [plan.enrolments, t],
  );
  const owner = editing ? meetingOwner(plan, editing) : null;
  if (sections.length === 0)
    return <p className={base.soft}>This course has no sections yet. They come with the first roster.</p>;
  return (
    <section aria-label="Sections">
      <div className={base.bar}>
        <span className={base.soft}>
          {plan.course.noClassDays.length === 0
            ? "No no-class days in this course."
            : `No class on ${plan.course.noClassDays.map(({ day, title }) => (title ? `${day} (${title})` : day)).join(", ")}.`}
        </span>
        {state.scope === null && (
          <Button quiet onPress={() => setNoClass(true)}>
            Change no-class days
          </Button>
        )}
        {state.scope === null && <a href={`/sections/${plan.course.id}`}>Move sections, join or split courses</a>}
      </div>
      <table className={base.table}>
        <thead>
          <tr>
            <th>Section</th>
            <th>Title</th>
            <th>Students see</th>
            <th>Meets</th>
            <th className={base.number}>Students</th>
            <th>Arrivals and leavers</th>
            <th>Staff</th>
            <th>
              <span className="visually-hidden">Change</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {sections.map((one) => {
            const own = students.get(one.id) ?? [];
            return (
              <tr key={one.id}>
                <td>
                  <strong>{one.code}</strong>
                </td>
                <td>{one.title}</td>
                <td>{one.studentTitle}</td>
                <td>
                  {sayPattern(one.pattern)}
                  {one.moved.length > 0 && <span className={base.soft}>, {one.moved.length} moved</span>}
                </td>
                <td className={base.number}>{own.filter((row) => holdsAt(row, t)).length}</td>
                <td>
                  <Growth section={one} weeks={sectionWeeks(plan, own, t)} />
                </td>
                <td>
                  {staff
                    .filter(({ sectionId }) => sectionId === one.id)
                    .map(({ personId }) => plan.people[personId])
                    .filter((person) => person !== undefined)
                    .map(fullName)
                    .join("; ")}
                </td>
                <td className={styles.acts}>
                  <WriteTo quiet to={[{ kind: "section", id: one.id }]} says="Write" />
                  {state.scope === null && (
                    <Button quiet aria-label={`Divide section ${one.code}`} onPress={() => setDividing(one)}>
                      Divide
                    </Button>
                  )}
                  {state.scope === null && (
                    <Button quiet aria-label={`Change section ${one.code}`} onPress={() => setEditing(one.id)}>
                      Change
                    </Button>
                  )}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      <Why>
        <p className={base.soft}>
          The line is a section's size by week. Bars on the rule are students who came after the first week; bars that
          hang from it are students who left.
        </p>
      </Why>
      {owner && <MeetingDaysDialog owner={owner} onClose={() => setEditing(null)} />}
      {dividing && <DivideDialog section={dividing} onClose={() => setDividing(null)} />}
      {noClass && <NoClassDialog onClose={() => setNoClass(false)} />}
    </section>
  );
}

const [width, height, middle] = [168, 34, 25];

/** Size by week as a stepped line; beneath it arrivals stand on a rule, and leavers hang from it. */
function Growth({ section, weeks }: { section: Section; weeks: SectionWeek[] }) {
  const sizes = weeks.map(({ size }) => size);
  // The first week's are the section as it began, not arrivals.
  const later = weeks.slice(1);
  const [least, most] = [Math.min(...sizes), Math.max(...sizes)];
  const x = scaleLinear()
    .domain([0, Math.max(1, weeks.length)])
    .range([1, width - 1]);
  // A change of one is a step that can be seen, of a section of any size.
  const y = scaleLinear()
    .domain([least, Math.max(most, least + 4)])
    .range([14, 2]);
  const bar = scaleLinear()
    .domain([0, Math.max(2, ...later.map(({ came }) => came), ...weeks.map(({ left }) => left))])
    .range([0, 8]);
  const path = line<number>(
    (_, at) => x(at),
    (size) => y(size),
  ).curve(curveStepAfter)([...sizes, sizes.at(-1) ?? 0]);
  const came = later.reduce((sum, week) => sum + week.came, 0);
  const left = weeks.reduce((sum, week) => sum + week.left, 0);
  const says = `${section.code}: ${sizes.at(-1) ?? 0} now; since the first week ${came} came and ${left} left`;
  return (
    <svg width={width} height={height} role="img" aria-label={says} className={styles.growth}>
      <title>{says}</title>
      <line x1={0} x2={width} y1={middle} y2={middle} className={styles.growthRule} />
      {weeks.map(({ monday, came, left }, at) => (
        <g key={monday} transform={`translate(${x(at + 0.5) - 3},0)`}>
          {at > 0 && <rect width={6} y={middle - bar(came)} height={bar(came)} className={styles.growthCame} />}
          <rect width={6} y={middle} height={bar(left)} className={styles.gone} />
        </g>
      ))}
      <path d={path ?? ""} className={styles.growthLine} />
    </svg>
  );
}
