import type { Station } from "./state.ts";

/** What the stations are called. */
export const stationNames: Record<Station, string> = {
  intake: "Intake",
  placement: "Placement",
  reach: "Reach",
  timing: "Timing",
  gradebook: "Gradebook",
  review: "Review",
};
