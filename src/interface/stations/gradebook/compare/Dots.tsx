import { scaleLinear } from "d3-scale";
import type { Summary } from "../../../../core/gradebook/statistics.ts";
import { byPlace } from "../../../kit/places.ts";
import { plural } from "../../../kit/words.ts";
import styles from "./compare.module.css";

const [width, height, margin] = [300, 34, 6];

/** A dot a student, on a line from 0 to the most; the quartiles as a band, the median as a line, the mean as a cross. */
export function Dots({ summary, most, name }: { summary: Summary; most: number; name: string }) {
  const x = scaleLinear([0, most], [margin, width - margin]);
  // Dots of like percentages stand above each other, as far as there is room.
  const stacked = new Map<number, number>();
  const dots = summary.values.map((value) => {
    const column = Math.round(x(value) / 4);
    const above = stacked.get(column) ?? 0;
    stacked.set(column, above + 1);
    return { x: x(value), y: height - 6 - (above % 6) * 4.5 };
  });
  const says = `${name}: ${plural(summary.n, "mark")}, median ${Math.round(summary.median)} %, quartiles ${Math.round(summary.lower)} to ${Math.round(summary.upper)} %, mean ${Math.round(summary.mean)} %`;
  return (
    <svg className={styles.dots} viewBox={`0 0 ${width} ${height}`} role="img" aria-label={says}>
      <line x1={x(0)} x2={x(most)} y1={height - 2} y2={height - 2} className={styles.base} />
      <rect
        x={x(summary.lower)}
        width={Math.max(1, x(summary.upper) - x(summary.lower))}
        y={1}
        height={height - 3}
        className={styles.band}
      />
      <line x1={x(summary.median)} x2={x(summary.median)} y1={1} y2={height - 2} className={styles.median} />
      {byPlace(dots).map(({ key, one: dot }) => (
        <circle key={key} cx={dot.x} cy={dot.y} r={1.9} className={styles.dot} />
      ))}
      <path
        d={`M${x(summary.mean) - 3} ${height - 5}l6 6m0-6l-6 6`}
        transform={`translate(0 -${height - 9})`}
        className={styles.mean}
      />
    </svg>
  );
}
