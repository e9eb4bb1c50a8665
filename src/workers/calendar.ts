/** Reads calendar files away from the page. No logic of its own. */
import { type CalendarDays, type CalendarRead, readCalendar } from "../core/formats/icalendar/read.ts";

export interface CalendarQuestion {
  text: string;
  days: CalendarDays;
}
export type CalendarAnswer = CalendarRead | { wrong: string };

addEventListener("message", ({ data }: MessageEvent<CalendarQuestion>) => {
  postMessage(readCalendar(data.text, data.days) satisfies CalendarAnswer);
});
