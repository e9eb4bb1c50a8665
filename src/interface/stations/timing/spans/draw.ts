/** Draws the spans: days without class shaded, meetings as ticks, bars, what is chosen, the moment of the time rail. */

import {
  dayAfter,
  daysBetween,
  instantOf,
  mondayOf,
  sayDate,
  sayDay,
  sayWeekday,
} from "../../../../core/clock/local-time.ts";
import type { Course } from "../../../../core/plan/types.ts";
import { type Bar, barTop, day, type Row, type View, xOf } from "./model.ts";

export const axis = 34;

/** Colours of the theme, read from the page. */
export interface Colours {
  ink: string;
  soft: string;
  rule: string;
  wash: string;
  amber: string;
  brick: string;
  paper: string;
  stripes: string[];
}
export function coloursOf(element: Element): Colours {
  const style = getComputedStyle(element);
  const of = (name: string) => style.getPropertyValue(`--${name}`).trim();
  return {
    ink: of("ink"),
    soft: of("ink-soft"),
    rule: of("rule"),
    wash: of("wash"),
    amber: of("amber"),
    brick: of("brick"),
    paper: of("paper"),
    stripes: Array.from({ length: 12 }, (_, at) => of(`stripe-${at}`)),
  };
}

export interface Scene {
  rows: Row[];
  course: Course;
  view: View;
  width: number;
  height: number;
  /** How far the rows are scrolled up. */
  scrolled: number;
  colours: Colours;
  isPrivate: boolean;
  t: number;
  /** Keys of the bars that are selected; the one that has the focus; the item that is looked at. */
  selected: ReadonlySet<string>;
  focused: string | null;
  itemId: string | null;
  /** Bars as they would be if what is dragged were let go. */
  dragged: ReadonlyMap<string, Bar>;
}

export function draw(context: CanvasRenderingContext2D, scene: Scene): void {
  const { width, height } = scene;
  context.clearRect(0, 0, width, height);
  context.font = '13px "Atkinson Hyperlegible Next Variable", system-ui, sans-serif';
  context.save();
  context.beginPath();
  context.rect(0, axis, width, height - axis);
  context.clip();
  context.translate(0, axis - scene.scrolled);
  const shown = scene.rows.filter(
    ({ top, height: tall }) => top + tall > scene.scrolled && top < scene.scrolled + height - axis,
  );
  for (const row of shown) drawRow(context, scene, row);
  context.restore();
  drawAxis(context, scene);
  drawMoment(context, scene);
}

function drawRow(context: CanvasRenderingContext2D, scene: Scene, row: Row): void {
  const { view, colours, width, course } = scene;
  const { top, height } = row;
  context.fillStyle = colours.wash;
  for (const free of row.free) {
    const x = xOf(instantOf(`${free}T00:00`, course.timeZone), view);
    const wide = day / view.scale;
    if (x > width || x + wide < 0) continue;
    context.fillRect(x, top, Math.max(1, wide), height);
    hatch(context, x, top, Math.max(1, wide), height, colours.rule);
  }
  context.fillStyle = colours.rule;
  // In the term a tick, nearer the meeting as long as it takes.
  for (const { start, end } of row.calendar.meetings) {
    const x = xOf(start, view);
    if (x < 0 || x > width) continue;
    context.fillRect(x, top + 1, Math.max(1, (end - start) / view.scale), height - 2);
  }
  context.fillStyle = colours.rule;
  context.fillRect(0, top + height - 1, width, 1);
  for (const bar of row.bars) drawBar(context, scene, row, scene.dragged.get(bar.key) ?? bar);
}

/** Slanted lines, so that days without class are told from others in grey too. */
function hatch(
  context: CanvasRenderingContext2D,
  x: number,
  y: number,
  wide: number,
  tall: number,
  colour: string,
): void {
  if (wide < 4) return;
  context.save();
  context.beginPath();
  context.rect(x, y, wide, tall);
  context.clip();
  context.strokeStyle = colour;
  context.lineWidth = 1;
  context.beginPath();
  for (let at = x - tall; at < x + wide; at += 7) {
    context.moveTo(at, y + tall);
    context.lineTo(at + tall, y);
  }
  context.stroke();
  context.restore();
}

function drawBar(context: CanvasRenderingContext2D, scene: Scene, row: Row, bar: Bar): void {
  const { view, colours, width } = scene;
  const [x, end] = [xOf(bar.from, view), xOf(bar.to, view)];
  if (end < -2 || x > width + 2) return;
  const top = barTop(row, bar);
  const tall = row.lane - 4;
  const { opens, due, closes } = bar.moments;
  const isItem = bar.item.id === scene.itemId;
  const colour = scene.isPrivate ? colours.soft : (colours.stripes[row.group.stripe.colour] ?? colours.ink);
  const until = xOf(due ?? bar.to, view);
  context.globalAlpha = isItem || bar.wrong || scene.selected.has(bar.key) ? 1 : 0.62;
  context.fillStyle = bar.wrong ? colours.brick : isItem ? colours.amber : colour;
  // What is out of order is drawn over all of it, in brick.
  const [left, right] = bar.wrong ? [x, end] : [Math.min(x, until), Math.max(x, until)];
  if (opens === null) {
    // Open since before: it fades in.
    for (let part = 0; part < 4; part++) {
      const at = left + ((right - left) * part) / 4;
      context.fillRect(at, top + 2, Math.max(1, (right - left) / 8), tall - 3);
    }
  } else context.fillRect(left, top, Math.max(2, right - left), tall);
  context.globalAlpha = 1;
  if (closes !== null && due !== null && closes > due) {
    context.fillStyle = colours.soft;
    context.fillRect(until, top + tall / 2 - 1, xOf(closes, view) - until, 2);
    context.fillRect(xOf(closes, view) - 1, top + 1, 2, tall - 2);
  }
  if (due !== null) {
    context.fillStyle = colours.ink;
    context.fillRect(until - 1, top - 1, 2.5, tall + 2);
    // Two dues on a day: a ring on the stroke of each.
    if (bar.clashes) {
      context.beginPath();
      context.arc(until + 0.25, top + tall / 2, Math.min(4.5, tall / 2 + 1), 0, 2 * Math.PI);
      context.fillStyle = colours.paper;
      context.fill();
      context.strokeStyle = colours.ink;
      context.lineWidth = 1.5;
      context.stroke();
    }
  }
  if (bar.short) {
    context.strokeStyle = colours.brick;
    context.lineWidth = 1.5;
    context.setLineDash([4, 3]);
    context.strokeRect(left - 1, top - 1, Math.max(4, right - left + 2), tall + 2);
    context.setLineDash([]);
  }
  if (scene.selected.has(bar.key) || scene.focused === bar.key) {
    context.strokeStyle = scene.focused === bar.key ? colours.amber : colours.ink;
    context.lineWidth = scene.focused === bar.key ? 2 : 1.5;
    context.strokeRect(left - 2.5, top - 2.5, Math.max(6, end - left + 5), tall + 5);
  }
  if (isItem && bar.time) {
    context.fillStyle = bar.short ? colours.brick : colours.ink;
    context.textBaseline = "middle";
    context.font = '12px "Atkinson Hyperlegible Next Variable", system-ui, sans-serif';
    const says = `${bar.time.days} d, ${bar.time.meetings} m`;
    const wide = context.measureText(says).width + 8;
    // Where there is no room after the bar it stands before it.
    const at = end + wide + 5 > width ? left - wide - 5 : end + 5;
    context.fillStyle = colours.paper;
    context.fillRect(at, top - 2, wide, tall + 5);
    context.fillStyle = bar.short ? colours.brick : colours.ink;
    context.fillText(says, at + 4, top + tall / 2 + 0.5);
  }
}

/** Weeks, and days where there is room for them. */
function drawAxis(context: CanvasRenderingContext2D, { course, view, width, height, colours }: Scene): void {
  context.font = '12px "Atkinson Hyperlegible Next Variable", system-ui, sans-serif';
  context.textBaseline = "middle";
  const first = mondayOf(course.termStart);
  const weeks = Math.ceil((daysBetween(first, course.termEnd) + 1) / 7);
  const wide = day / view.scale;
  for (let week = 0; week < weeks; week++) {
    const monday = dayAfter(first, week * 7);
    const x = xOf(instantOf(`${monday}T00:00`, course.timeZone), view);
    if (x > width || x + 7 * wide < 0) continue;
    context.fillStyle = colours.rule;
    context.fillRect(x, 0, 1, height);
    context.fillStyle = colours.soft;
    // Where weeks are narrower than their names, not every one is named.
    if (week % Math.ceil(58 / (wide * 7)) === 0)
      context.fillText(wide * 7 > 92 ? `${sayDate(monday)}, week ${week + 1}` : sayDate(monday), Math.max(4, x + 5), 9);
    if (wide < 26) continue;
    for (let at = 0; at < 7; at++) {
      const left = xOf(instantOf(`${dayAfter(monday, at)}T00:00`, course.timeZone), view);
      context.fillStyle = colours.rule;
      context.fillRect(left, 18, 1, height);
      context.fillStyle = colours.soft;
      context.fillText((wide > 60 ? sayDay : sayWeekday)(dayAfter(monday, at)), left + 5, 25);
    }
  }
  context.fillStyle = colours.rule;
  context.fillRect(0, axis - 1, width, 1);
}

function drawMoment(context: CanvasRenderingContext2D, { t, view, width, height, colours }: Scene): void {
  const x = xOf(t, view);
  if (x < 0 || x > width) return;
  context.fillStyle = colours.amber;
  context.fillRect(x - 0.75, 18, 1.5, height);
}
