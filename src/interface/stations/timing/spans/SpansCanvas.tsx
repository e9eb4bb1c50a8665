import { type KeyboardEvent, type PointerEvent, useEffect, useMemo, useRef, useState } from "react";
import { termOf } from "../../../../core/timing/instants.ts";
import type { MomentField } from "../../../../core/timing/resolving/resolve.ts";
import { useSize } from "../../../kit/useSize.ts";
import { useEffectWhen } from "../../../kit/when.ts";
import { useReach, useWorkbench } from "../../../workbench/context.tsx";
import { GroupName } from "../../GroupName.tsx";
import { type Drag, dragged, dropped, snapTo } from "./drag.ts";
import { axis } from "./draw.ts";
import { atX, type Bar, barTop, day, type Hit, hitAt, layOut, type Row, type View, xOf } from "./model.ts";
import styles from "./spans.module.css";
import { usePicture } from "./usePicture.ts";
import { barsOf, neighbour, placeOf, sayBar } from "./walking.ts";

export type Scale = "term" | "month" | "week";

interface SpansCanvasProps {
  rows: Row[];
  isPrivate: boolean;
  /** What is chosen by name; the picture goes there when it changes. */
  scale: { kind: Scale; round: number };
  selected: ReadonlySet<string>;
  select(keys: ReadonlySet<string>): void;
  focused: string | null;
  focus(key: string | null): void;
  itemId: string | null;
  /** A bar was opened: by Enter or a double press. */
  open(itemId: string): void;
  move(): void;
}

const spans: Record<Scale, number | null> = { term: null, month: 31 * day, week: 8 * day };
const edges: Record<string, MomentField> = { o: "opens", d: "due", c: "closes" };
const hour = 3600_000;

/** The picture of the spans: pans, zooms, and is worked by mouse or keys; a list box to a screen reader. */
export function SpansCanvas(props: SpansCanvasProps) {
  const { rows: bars, isPrivate, scale, selected, select, focused, focus, itemId, open, move } = props;
  const { store, plan, t } = useWorkbench();
  const reach = useReach();
  const { course } = plan;
  const canvas = useRef<HTMLCanvasElement>(null);
  const frame = useRef<HTMLDivElement>(null);
  const room = useRef<HTMLDivElement>(null);
  const keys = useRef<HTMLDivElement>(null);
  const [view, setView] = useState<View>({ from: 0, scale: 1 });
  const [drag, setDrag] = useState<Drag | null>(null);
  const [pan, setPan] = useState<{ x: number; from: number } | null>(null);
  const [cursor, setCursor] = useState("default");
  const size = useSize(room);
  const rows = useMemo(() => layOut(bars, size.height - axis), [bars, size.height]);
  const held = drag && dragged(drag, view, course.timeZone);
  const redraw = usePicture(canvas, frame, size, {
    rows,
    course,
    view,
    isPrivate,
    t,
    selected,
    focused,
    itemId,
    dragged: held?.bars ?? new Map(),
  });
  const { width } = size;
  const { from: termFrom, until: termUntil } = termOf(plan);
  const tall = rows.reduce((sum, row) => sum + row.height, 0);

  // Another scale, or the first size, is what moves the picture.
  useEffectWhen([scale, width > 0, termFrom, termUntil], () => {
    if (width === 0) return;
    const span = spans[scale.kind] ?? termUntil - termFrom + 3 * day;
    const from = spans[scale.kind] === null ? termFrom - 1.5 * day : t - span / 3;
    setView({ from, scale: span / width });
  });

  // The time rail in step: where its moment goes out of sight the picture follows.
  useEffect(() => {
    setView((now) => {
      const x = xOf(t, now);
      if (scale.kind === "term" || width === 0 || (x >= 0 && x <= width)) return now;
      return { ...now, from: t - (width * now.scale) / 3 };
    });
  }, [t, scale.kind, width]);

  const zoom = (factor: number, x: number) => {
    const least = (2 * day) / Math.max(1, width);
    const most = (2 * (termUntil - termFrom)) / Math.max(1, width);
    const next = Math.min(most, Math.max(least, view.scale * factor));
    setView({ scale: next, from: atX(x, view) - x * next });
  };
  const shift = (pixels: number) => setView({ ...view, from: view.from + pixels * view.scale });
  useEffect(() => {
    const element = canvas.current;
    if (!element) return;
    const wheel = (event: WheelEvent) => {
      if (event.ctrlKey || event.metaKey) {
        event.preventDefault();
        zoom(event.deltaY > 0 ? 1.2 : 1 / 1.2, event.offsetX);
      } else if (event.deltaX !== 0 || event.shiftKey) {
        event.preventDefault();
        shift(event.deltaX || event.deltaY);
      }
    };
    element.addEventListener("wheel", wheel, { passive: false });
    return () => element.removeEventListener("wheel", wheel);
  });

  const hit = ({ nativeEvent: { offsetX, offsetY } }: PointerEvent | React.MouseEvent): Hit | null =>
    offsetY < axis ? null : hitAt(rows, offsetX, offsetY - axis + (frame.current?.scrollTop ?? 0), view);
  const press = (event: PointerEvent) => {
    if (event.button !== 0) return;
    const found = hit(event);
    event.preventDefault();
    keys.current?.focus({ preventScroll: true });
    canvas.current?.setPointerCapture(event.pointerId);
    const at = atX(event.nativeEvent.offsetX, view);
    if (!found) return setPan({ x: event.clientX, from: view.from });
    const { row, bar, edge } = found;
    focus(bar.key);
    if (event.shiftKey || event.ctrlKey || event.metaKey) return toggle(bar.key);
    const bars = selected.has(bar.key) ? barsOf(rows, selected) : [bar];
    if (!selected.has(bar.key)) select(new Set([bar.key]));
    setDrag(
      edge
        ? { kind: "edge", row, bar, field: edge, at: bar.moments[edge] as number }
        : { kind: "body", bars, grabbed: bar, from: at, at },
    );
  };
  const follow = (event: PointerEvent) => {
    if (drag) setDrag({ ...drag, at: atX(event.nativeEvent.offsetX, view) });
    else if (pan) setView({ ...view, from: pan.from - (event.clientX - pan.x) * view.scale });
    else {
      const found = hit(event);
      setCursor(found?.edge ? "ew-resize" : found ? "pointer" : "grab");
    }
  };
  const release = () => {
    if (drag) {
      const commands = dropped(drag, view, reach);
      if (commands.length > 0) store.draft(commands);
    }
    setDrag(null);
    setPan(null);
  };
  const toggle = (key: string) => {
    const next = new Set(selected);
    if (!next.delete(key)) next.add(key);
    select(next);
  };
  const show = (row: Row, bar: Bar) => {
    const element = frame.current;
    if (element) {
      if (row.top < element.scrollTop) element.scrollTop = row.top;
      const bottom = barTop(row, bar) + 20;
      if (bottom > element.scrollTop + element.clientHeight - axis)
        element.scrollTop = bottom - element.clientHeight + axis;
    }
    const [x, end] = [xOf(bar.from, view), xOf(bar.to, view)];
    if (end < 20 || x > width - 20) setView({ ...view, from: bar.from - (width * view.scale) / 3 });
    focus(bar.key);
  };
  const key = (event: KeyboardEvent) => {
    const handled = byKey(event);
    if (handled) event.preventDefault();
  };
  function byKey(event: KeyboardEvent): boolean {
    const at = placeOf(rows, focused);
    if (drag?.kind === "edge") return dragByKey(event, drag);
    if (event.key === "+" || event.key === "=") zoom(1 / 1.3, width / 2);
    else if (event.key === "-") zoom(1.3, width / 2);
    else if (event.shiftKey && event.key === "ArrowLeft") shift(-80);
    else if (event.shiftKey && event.key === "ArrowRight") shift(80);
    else if (event.key === "Escape") select(new Set());
    else if (event.key.startsWith("Arrow")) {
      const next = neighbour(rows, at, event.key);
      if (next) show(next.row, next.bar);
    } else if (!at) return false;
    else if (event.key === " ") toggle(at.bar.key);
    else if (event.key === "Enter") open(at.bar.item.id);
    else if (event.key === "m") {
      if (selected.size === 0) select(new Set([at.bar.key]));
      move();
    } else if (edges[event.key] && !event.ctrlKey && !event.metaKey) {
      const field = edges[event.key] as MomentField;
      const moment = at.bar.moments[field] ?? at.bar.moments.due ?? at.bar.to;
      setDrag({ kind: "edge", row: at.row, bar: at.bar, field, at: moment });
    } else return false;
    return true;
  }
  /** An edge that was taken by key: arrows go by hours, with Alt by meetings, with Shift by days. */
  function dragByKey(event: KeyboardEvent, held: Extract<Drag, { kind: "edge" }>): boolean {
    const by = event.key === "ArrowRight" ? 1 : event.key === "ArrowLeft" ? -1 : 0;
    if (by !== 0) {
      const from = snapTo(held.at, held.row, view, course.timeZone).at;
      const stops = held.row.calendar.meetings.flatMap(({ start, end }) => [start, end]);
      const stop = by > 0 ? stops.find((one) => one > from) : stops.findLast((one) => one < from);
      const step = event.shiftKey ? day : Math.max(hour, Math.ceil((8 * view.scale) / hour) * hour);
      setDrag({ ...held, at: event.altKey ? (stop ?? held.at) : from + by * step });
    } else if (event.key === "Enter") release();
    else if (event.key === "Escape") setDrag(null);
    else return false;
    return true;
  }

  const place = placeOf(rows, focused);
  return (
    <div className={styles.picture}>
      <div ref={frame} className={styles.frame} onScroll={redraw}>
        <div className={styles.names} style={{ height: tall + axis }}>
          {rows.map(({ group, top, height }) => (
            <div key={group.id} className={styles.name} style={{ top: top + axis, height }} title={group.name}>
              <div>
                <GroupName group={group} />
              </div>
            </div>
          ))}
        </div>
        <div ref={room} className={styles.sheet}>
          <canvas
            ref={canvas}
            className={styles.canvas}
            style={{ cursor: drag ? "grabbing" : cursor }}
            onPointerDown={press}
            onPointerMove={follow}
            onPointerUp={release}
            onPointerCancel={() => {
              setDrag(null);
              setPan(null);
            }}
            onDoubleClick={(event) => {
              const found = hit(event);
              if (found) open(found.bar.item.id);
            }}
          />
          {/* The same to the keyboard and to a screen reader; the mouse goes through to the picture. */}
          <div
            ref={keys}
            className={styles.keys}
            role="listbox"
            aria-label="Spans: arrows go from bar to bar, o, d and c take an edge, Space selects, m moves, Enter opens"
            aria-multiselectable="true"
            aria-activedescendant={place ? "span-focused" : undefined}
            tabIndex={0}
            onKeyDown={key}
            onFocus={() => {
              const first = rows.find(({ bars }) => bars.length > 0);
              if (!place && first) focus(first.bars[0]?.key ?? null);
            }}
          >
            {place && (
              <div
                id="span-focused"
                role="option"
                tabIndex={-1}
                aria-selected={selected.has(place.bar.key)}
                className="visually-hidden"
              >
                {sayBar(place.bar, course.timeZone)}
              </div>
            )}
          </div>
        </div>
      </div>
      <p className={styles.says} aria-live="polite" data-held={held !== null || undefined}>
        {held?.says ?? (place ? sayBar(place.bar, course.timeZone) : "")}
      </p>
    </div>
  );
}
