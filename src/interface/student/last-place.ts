/** Says on the first page where somebody was last on a workbench, where that is a course of theirs still. */
import { stationName } from "../workbench/names.ts";
import { lastPlaceKey } from "../workbench/place.ts";
import { stations } from "../workbench/state.ts";

export function showLastPlace(): void {
  const kept = localStorage.getItem(lastPlaceKey) ?? "";
  const [, courseId, last] = /^\/workbench\/([0-9a-f-]{36})\/([a-z]+)(?:\?|$)/.exec(kept) ?? [];
  const station = stations.find((name) => name === last);
  const shown = document.getElementById("last");
  const course = document.getElementById(`course-${courseId}`);
  const link = shown?.querySelector("a");
  // What is kept may be of somebody else who used this browser.
  if (!shown || !link || !station || !course?.getAttribute("href")?.startsWith("/workbench/")) return;
  link.href = kept;
  link.textContent = stationName(station, true);
  link.after(` of ${course.textContent}`);
  shown.hidden = false;
}
