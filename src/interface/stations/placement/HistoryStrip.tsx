import { scaleLinear } from "d3-scale";
import { instantOf, sayInstant } from "../../../core/clock/local-time.ts";
import { lookup } from "../../../core/plan/lookup.ts";
import type { Placement } from "../../../core/plan/types.ts";
import { stripeColour } from "../../kit/Stripe.tsx";
import { useWorkbench } from "../../workbench/context.tsx";
import styles from "./placement.module.css";

const width = 262;
const row = 22;

/** Which groups somebody was in over the term: a row a layer, a bar a placement, the moment of the time rail across. */
export function HistoryStrip({ personId }: { personId: string }) {
  const { plan, t } = useWorkbench();
  const { termStart, termEnd, timeZone } = plan.course;
  const [from, to] = [instantOf(`${termStart}T00:00`, timeZone), instantOf(`${termEnd}T23:59`, timeZone)];
  const x = scaleLinear([from, Math.max(to, from + 1)], [0, width]).clamp(true);
  const placements = lookup(plan).placementsOfPerson.get(personId) ?? [];
  const rows = lookup(plan).allLayers.flatMap((layer) => {
    const own = placements.filter(
      ({ groupId, since, until }) => plan.groups[groupId]?.layerId === layer.id && (until === null || until > since),
    );
    return own.length > 0 ? [{ layer, own }] : [];
  });
  if (rows.length === 0) return null;
  const say = ({ groupId, since, until }: Placement) =>
    `${plan.groups[groupId]?.name} from ${sayInstant(since, timeZone)}${until === null ? "" : ` until ${sayInstant(until, timeZone)}`}`;
  const words = rows.map(({ layer, own }) => `${layer.name}: ${own.map(say).join(", ")}`).join("; ");
  return (
    <svg
      viewBox={`0 0 ${width} ${rows.length * row}`}
      width="100%"
      role="img"
      aria-label={words}
      className={styles.past}
    >
      {rows.map(({ layer, own }, at) => (
        <g key={layer.id} transform={`translate(0 ${at * row})`}>
          {own.map((placement) => {
            const group = plan.groups[placement.groupId];
            const [left, right] = [x(placement.since), x(placement.until ?? Math.max(t, to))];
            return (
              group && (
                <g key={placement.id}>
                  <title>{say(placement)}</title>
                  <rect
                    x={left}
                    y={3}
                    width={Math.max(2, right - left - 1)}
                    height={row - 6}
                    fill={layer.private ? "var(--ink-soft)" : stripeColour(group.stripe)}
                  />
                  {right - left > 24 && (
                    <text x={left + 5} y={row / 2} dominantBaseline="central">
                      {group.stripe.mark}
                    </text>
                  )}
                </g>
              )
            );
          })}
        </g>
      ))}
      <path d={`M${x(t)} 0V${rows.length * row}`} className={styles.pastNow} />
    </svg>
  );
}
