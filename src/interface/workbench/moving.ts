/** Where one is on the workbench, and the address that says so. */
import * as api from "../../api/course.ts";
import type { Base } from "./base.ts";
import { ask, isFailure } from "./fetch.ts";
import { addressOfPlace, keepLastPlace, keepLastStation, readMomentOf, readPlace } from "./place.ts";
import type { Station, WorkbenchState } from "./state.ts";

export function createMoving({ courseId, address, get, set, tell, present }: Base) {
  /** The station that the review was opened from. */
  let reviewedFrom: Station | null = null;
  let addressing: ReturnType<typeof setTimeout> | undefined;

  /** The address says where one is now. */
  function settleAddress(): void {
    clearTimeout(addressing);
    addressing = undefined;
    const place = addressOfPlace({ courseId, ...get() });
    history.replaceState(null, "", place);
    keepLastPlace(place);
  }

  function go(station: Station, target: WorkbenchState["target"] = null): void {
    // What was selected just now belongs to where one comes from.
    if (addressing !== undefined) settleAddress();
    const { station: before } = get();
    if (station === "review" && before !== "review") reviewedFrom = before;
    set({ station, target });
    if (station !== before) history.pushState(null, "", addressOfPlace({ courseId, ...get() }));
    keepLastStation(courseId, station);
    keepLastPlace(addressOfPlace({ courseId, ...get() }));
  }

  /** The address follows what is selected, a moment after the last change: browsers bound how often it may. */
  function follow(changes: Partial<Pick<WorkbenchState, "place" | "moment">>): void {
    set({ ...changes, now: present() });
    clearTimeout(addressing);
    addressing = setTimeout(settleAddress, 250);
  }

  /** Shows the plan as it was published at a moment on every station; null: as it is. */
  async function lookBack(at: number | null): Promise<void> {
    if (at === null) return set({ asWas: null, moment: null });
    const then = await ask(address, api.readPlan, { query: { at } });
    if (isFailure(then)) return tell("wrong", then.detail);
    if ("plan" in then) set({ asWas: { at, plan: then.plan }, moment: at, now: present() });
  }

  return {
    go,
    settleAddress,
    lookBack,
    /** From the review back to where it was opened, if that was on this page. */
    /** From which station one came to the review; null where one began there. */
    cameFrom: () => reviewedFrom,
    goBack: () => reviewedFrom && go(reviewedFrom),
    setMoment: (moment: number | null) => follow({ moment }),
    /** Looks at or selects something; null: nothing, or what is usual. */
    setPlace(name: string, value: string | null) {
      const { [name]: before, ...rest } = get().place;
      if ((before ?? null) !== value) follow({ place: value === null ? rest : { ...rest, [name]: value } });
    },
    /** The address changed by the browser's own back and forward. */
    arrived: (station: Station) =>
      set({
        station,
        target: null,
        place: readPlace(location.search, station, get().place),
        moment: readMomentOf(location.search),
      }),
  };
}
