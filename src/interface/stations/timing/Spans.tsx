import { scaleLinear } from "d3-scale";
import { useMemo } from "react";
import type { Group, Item } from "../../../core/plan/types.ts";
import { countBits, countShared } from "../../../core/reach/bits.ts";
import { meetingsOf } from "../../../core/timing/meetings.ts";
import { instantOf } from "../../../core/timing/wall.ts";
import { useBench } from "../../bench/context.tsx";
import { stripeColour } from "../../kit/Stripe.tsx";
import { groupDates } from "./groupDates.ts";
import styles from "./timing.module.css";

const width = 1000;
const left = 92;
const lane = 8;
const day = 86_400_000;

interface Bar {
  item: Item;
  opens: number;
  due: number;
  closes: number | null;
  lane: number;
}

/** A row a group, a bar from opens to due to closes an item, meetings as ticks behind. */
export function Spans({
  groups,
  items,
  chosen,
  choose,
}: {
  groups: Group[];
  items: Item[];
  chosen: string | null;
  choose(itemId: string): void;
}) {
  const { plan, reach, t } = useBench();
  const { course } = plan;
  const start = instantOf(`${course.termStart}T00:00`, course.timeZone);
  const end = instantOf(`${course.termEnd}T23:59`, course.timeZone);
  const x = scaleLinear([start, end], [left, width - 6]).clamp(true);
  const rows = useMemo(
    () =>
      groups.map((group) => {
        const members = reach.members({ kind: "group", id: group.id });
        const bars: Bar[] = [];
        const free: number[] = [];
        const at = (value: string | number | null) =>
          value === null || value === "none" ? null : instantOf(String(value), course.timeZone);
        const spans = items
          .filter((item) => countBits(members) === 0 || countShared(reach.meant(item), members) > 0)
          .map((item) => {
            const dates = groupDates(reach, item, group);
            const due = at(dates.due.value) ?? at(dates.closes.value);
            return due === null
              ? null
              : {
                  item,
                  due,
                  opens: at(dates.opens.value) ?? due - 3 * day,
                  closes: at(dates.closes.value),
                };
          })
          .filter((span) => span !== null)
          .sort((a, b) => a.opens - b.opens);
        for (const span of spans) {
          const ends = Math.max(span.due, span.closes ?? 0, span.opens);
          const found = free.findIndex((until) => until + day / 2 < span.opens);
          const row = found >= 0 ? found : free.length;
          free[row] = ends;
          bars.push({ ...span, lane: row });
        }
        return { group, bars, lanes: Math.max(1, free.length) };
      }),
    [groups, items, reach, course.timeZone],
  );
  /** Meetings of the sections that the group's members are in: those of the layer's rule where it follows. */
  const ticks = (group: Group) => {
    const rule = plan.layers[group.layerId]?.following?.find(({ groupId }) => groupId === group.id);
    return (rule?.sectionIds ?? [])
      .flatMap((id) => (plan.sections[id] ? meetingsOf(course, plan.sections[id]) : []))
      .map(({ start: meets }) => x(meets));
  };
  let y = 2;
  const placed = rows.map((row) => {
    const top = y;
    y += row.lanes * lane + 10;
    return { ...row, top, height: row.lanes * lane + 10 };
  });
  return (
    <section className={styles.spans} aria-label="Spans: a row a group, a bar an item">
      <svg viewBox={`0 0 ${width} ${y + 2}`} width="100%">
        <title>From opens to due to closes, a group each</title>
        {placed.map(({ group, bars, top, height }) => (
          <g key={group.id}>
            <path
              d={ticks(group)
                .map((at) => `M${at.toFixed(1)} ${top + 2}v${height - 4}`)
                .join("")}
              className={styles.meeting}
            />
            <line x1={0} x2={width} y1={top + height} y2={top + height} className={styles.rowLine} />
            <text x={0} y={top + height / 2} dominantBaseline="central" className={styles.rowName}>
              {group.name.slice(0, 14)}
            </text>
            {bars.map(({ item, opens, due, closes, lane: row }) => {
              const is = item.id === chosen;
              const barY = top + 5 + row * lane;
              return (
                // The list of items beside the picture does the same by keyboard.
                // biome-ignore lint/a11y/noStaticElementInteractions: a second way to what the list offers
                <g key={item.id} onClick={() => choose(item.id)} className={styles.span}>
                  <title>{item.title}</title>
                  {closes !== null && closes > due && (
                    <rect
                      x={x(due)}
                      y={barY + 2}
                      width={Math.max(0, x(closes) - x(due))}
                      height={2}
                      fill="var(--ink-soft)"
                    />
                  )}
                  <rect
                    x={Math.min(x(opens), x(due))}
                    y={barY}
                    width={Math.max(2, Math.abs(x(due) - x(opens)))}
                    height={is ? 6 : 5}
                    fill={due < opens ? "var(--brick)" : is ? "var(--amber)" : stripeColour(group.stripe)}
                    opacity={is || due < opens ? 1 : 0.55}
                  />
                  <rect x={x(due) - 1} y={barY - 1} width={2} height={7} fill="var(--ink)" />
                </g>
              );
            })}
          </g>
        ))}
        <line x1={x(t)} x2={x(t)} y1={0} y2={y} className={styles.nowLine} />
      </svg>
    </section>
  );
}
