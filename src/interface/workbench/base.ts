/** What everything that changes the workbench's state stands on: the state itself, the clock, and the line of notices. */
import { createStore } from "zustand/vanilla";
import { readMomentOf, readPlace } from "./place.ts";
import type { Notice, OpenState, Station, WorkbenchState } from "./state.ts";

interface ServerClock {
  /** Epoch milliseconds. */
  now: number;
  /** Whether it stands still: for looking at a course at a moment of its own. */
  clockFixed: boolean;
}

export type Base = ReturnType<typeof createBase>;

export function createBase(courseId: string, station: Station, search: string) {
  const state = createStore<WorkbenchState>(() => ({
    status: "loading",
    leftOut: new Set(),
    asWas: null,
    justPublished: null,
    tried: [],
    writing: null,
    now: Date.now(),
    moment: readMomentOf(search),
    station,
    place: readPlace(search, station),
    target: null,
    notice: null,
    offer: null,
    sending: 0,
    people: [],
    proposals: [],
  }));
  let noticeId = 0;
  let clockOffset = 0;
  let clockFixed = false;
  return {
    courseId,
    /** Of the course in the API. */
    address: `/api/courses/${courseId}`,
    state,
    get: state.getState,
    set: state.setState,
    /** The state of a course that has come. Throws before that: whoever asks stands on the open workbench. */
    course(): OpenState {
      const now = state.getState();
      if (now.status !== "ready") throw new Error("The course has not come yet");
      return now;
    },
    tell: (tone: Notice["tone"], says: string) => state.setState({ notice: { id: ++noticeId, tone, says } }),
    /** By the server's clock, epoch milliseconds. */
    present: () => (clockFixed ? state.getState().now : Date.now() + clockOffset),
    setClock(clock: ServerClock) {
      clockFixed = clock.clockFixed;
      clockOffset = clock.now - Date.now();
    },
  };
}
