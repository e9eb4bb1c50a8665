import type { Station } from "./state.ts";

const stationNames = {
  intake: "Intake",
  placement: "Placement",
  reach: "Reach",
  timing: "Timing",
  gradebook: "Gradebook",
  review: "Review",
} satisfies Record<Station, string>;
/** What a station is called; within a scope nothing is taken in at the first, which has one's students. */
export const stationName = (station: string, isWhole = true): string =>
  station === "intake" && !isWhole ? "Students" : ((stationNames as Record<string, string>)[station] ?? station);
