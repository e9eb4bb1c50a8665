/** What is drawn at each station. Each is a script of its own, fetched when somebody goes there or is about to. */
import { type Part, partOf } from "../kit/fetched.tsx";
import type { Station } from "./state.ts";

export const stationViews: Record<Station, Part<object>> = {
  intake: partOf(async () => (await import("../stations/intake/Intake.tsx")).Intake),
  placement: partOf(async () => (await import("../stations/placement/Placement.tsx")).Placement),
  reach: partOf(async () => (await import("../stations/reach/ReachStation.tsx")).ReachStation),
  timing: partOf(async () => (await import("../stations/timing/Timing.tsx")).Timing),
  gradebook: partOf(async () => (await import("../stations/gradebook/Gradebook.tsx")).Gradebook),
  review: partOf(async () => (await import("../stations/review/ReviewStation.tsx")).ReviewStation),
};
