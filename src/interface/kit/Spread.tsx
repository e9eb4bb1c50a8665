/** One number of each of some people, as dots on a line that all rows share, with their mean. */

import { extent, mean } from "d3-array";
import { scaleLinear } from "d3-scale";
import { byPlace } from "./places.ts";
import styles from "./Spread.module.css";

interface SpreadProps {
  values: number[];
  /** The least and the most of everyone. */
  domain: [number, number];
  width?: number;
}
const round = (value: number) => Math.round(value * 10) / 10;

export function Spread({ values, domain, width = 120 }: SpreadProps) {
  const x = scaleLinear(domain, [4, width - 4]);
  const middle = mean(values);
  const [least, most] = extent(values);
  if (middle === undefined || least === undefined || most === undefined) return <span>no number</span>;
  const says = `${values.length} of them, ${round(least)} to ${round(most)}, mean ${round(middle)}`;
  return (
    <svg width={width} height={20} role="img" aria-label={says} className={styles.spread}>
      <title>{says}</title>
      <path d={`M${x(least)} 10H${x(most)}`} className={styles.range} />
      {byPlace(values).map(({ key, one: value }) => (
        <circle key={key} cx={x(value)} cy={10} r={2.2} className={styles.dot} />
      ))}
      <path d={`M${x(middle)} 3V17`} className={styles.mean} />
    </svg>
  );
}
