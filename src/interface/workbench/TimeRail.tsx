import { scaleLinear } from "d3-scale";
import { useMemo } from "react";
import { Label, Slider, SliderOutput, SliderThumb, SliderTrack } from "react-aria-components";
import {
  dayAfter,
  daysBetween,
  instantOf,
  mondayOf,
  sayDate,
  sayInstant,
  wallOf,
} from "../../core/clock/local-time.ts";
import { compareText } from "../../core/plan/lookup.ts";
import { meetingsOf } from "../../core/timing/meetings.ts";
import { Button } from "../kit/Button.tsx";
import { useParts, useWorkbench } from "./context.tsx";
import styles from "./rail.module.css";

const width = 1000;
const hour = 3600_000;

/** The term as a ruler, meetings ticked a section; the marker is the moment that every screen shows. */
export function TimeRail() {
  const { store, plan, t } = useWorkbench();
  const state = useParts("moment");
  const { course } = plan;
  const start = instantOf(`${course.termStart}T00:00`, course.timeZone);
  const end = instantOf(`${course.termEnd}T23:00`, course.timeZone);
  const x = scaleLinear([start, end], [0, width]);
  const weeks = useMemo(() => {
    const first = mondayOf(course.termStart);
    const count = Math.ceil((daysBetween(first, course.termEnd) + 1) / 7);
    return Array.from({ length: count }, (_, week) => dayAfter(first, week * 7));
  }, [course.termStart, course.termEnd]);
  const sections = useMemo(
    () =>
      Object.values(plan.sections)
        .sort((a, b) => compareText(a.code, b.code))
        .map((section) => ({ section, meetings: meetingsOf(course, section) }))
        .filter(({ meetings }) => meetings.length > 0)
        .slice(0, 4),
    [plan.sections, course],
  );
  const week = Math.floor(daysBetween(mondayOf(course.termStart), wallOf(t, course.timeZone).slice(0, 10)) / 7) + 1;
  const says = `${sayInstant(t, course.timeZone)}, week ${week}`;
  return (
    <Slider
      className={styles.rail as string}
      minValue={start}
      maxValue={end}
      step={hour}
      value={Math.min(Math.max(t, start), end)}
      onChange={(value) => store.setMoment(value as number)}
    >
      <Label className="visually-hidden">Moment shown on every screen</Label>
      <SliderTrack className={styles.railTrack as string}>
        <svg viewBox={`0 0 ${width} 40`} preserveAspectRatio="none" className={styles.railRuler} aria-hidden="true">
          {course.noClassDays.map(({ day }) => {
            const from = instantOf(`${day}T00:00`, course.timeZone);
            return (
              <rect
                key={day}
                x={x(from)}
                width={Math.max(2, x(from + 24 * hour) - x(from))}
                y={14}
                height={26}
                className={styles.railFree}
              />
            );
          })}
          {weeks.map((day) => (
            <line
              key={day}
              x1={x(instantOf(`${day}T00:00`, course.timeZone))}
              x2={x(instantOf(`${day}T00:00`, course.timeZone))}
              y1={14}
              y2={40}
              className={styles.railWeek}
            />
          ))}
          {sections.map(({ section, meetings }, row) => (
            <path
              key={section.id}
              d={meetings.map(({ start: at }) => `M${x(at).toFixed(1)} ${17 + row * 6}v4`).join("")}
              className={styles.railTick}
            />
          ))}
        </svg>
        {weeks.map((day, index) => (
          <span
            key={day}
            className={styles.railName}
            style={{
              left: `${Math.max(0, x(instantOf(`${day}T00:00`, course.timeZone))) / (width / 100)}%`,
            }}
            aria-hidden="true"
          >
            {index === 0 || day.endsWith("-01") || Number(day.slice(8)) <= 7 ? sayDate(day) : index + 1}
          </span>
        ))}
        <SliderThumb className={styles.railThumb as string} />
      </SliderTrack>
      <span className={styles.railMoment}>
        <SliderOutput>{() => says}</SliderOutput>
        <Button quiet isDisabled={state.moment === null} onPress={() => store.setMoment(null)}>
          Now
        </Button>
      </span>
    </Slider>
  );
}
