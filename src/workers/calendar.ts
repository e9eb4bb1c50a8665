/** Reads calendar files away from the page. No logic of its own. */
import "./page-locale.ts";
import { expose } from "comlink";
import { type CalendarDays, type CalendarRead, readCalendar } from "../core/formats/icalendar/read.ts";

export type CalendarAnswer = CalendarRead | { wrong: string };

const functions = { read: (text: string, days: CalendarDays): CalendarAnswer => readCalendar(text, days) };
export type CalendarWorker = typeof functions;
expose(functions);
