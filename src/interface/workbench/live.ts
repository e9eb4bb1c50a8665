/** What others do in the course, as it happens. */

import * as api from "../../api/course.ts";
import { type MarkChange, withMarks } from "../../core/plan/progress.ts";
import type { LiveState } from "../../core/review/live.ts";
import type { Base } from "./base.ts";
import { ask } from "./fetch.ts";
import type { Incoming } from "./incoming.ts";

/** What was told of the state of the course, and what of it is news. */
function createTold({ get }: Base, { takeRevision, takeDraft, reloadProgress, reloadProposals }: Incoming) {
  /** The last hand-in that is known of; null until it was told the first time. */
  let handedIn: string | null = null;
  let proposed: string | null = null;
  /** What was told before the course was here: it is not told again until something changes. */
  let waiting: LiveState | null = null;
  function take(news: LiveState): void {
    if (get().status !== "ready") {
      waiting = news;
      return;
    }
    void takeRevision(news.revision, news.by, news.says).then(() => takeDraft(news.version));
    if (handedIn !== null && handedIn !== news.handedIn) void reloadProgress();
    handedIn = news.handedIn;
    if (proposed !== news.proposed) void reloadProposals();
    proposed = news.proposed;
  }
  /** Takes what waited, once the course is here. */
  function catchUp(): void {
    if (!waiting || get().status !== "ready") return;
    const news = waiting;
    waiting = null;
    take(news);
  }
  return { take, catchUp };
}

/** Listens while the page is seen. Gives how to stop. */
export function listen(base: Base, incoming: Incoming): () => void {
  const { address, state, get, set, course } = base;
  const { reloadProgress } = incoming;
  let source: EventSource | null = null;
  let connection = "";
  let at = get().station;
  const told = createTold(base, incoming);
  const open = () => {
    source = new EventSource(`${address}/live?station=${get().station}`);
    source.addEventListener("connection", ({ data }) => {
      connection = JSON.parse(data).connection;
    });
    source.addEventListener("state", ({ data }) => {
      const news = JSON.parse(data) as LiveState;
      set({ people: news.people });
      told.take(news);
    });
    source.addEventListener("marks", ({ data }) => {
      const marks = JSON.parse(data) as MarkChange[] | "many";
      if (marks === "many") void reloadProgress();
      else if (get().status === "ready") set({ progress: withMarks(course().progress, marks) });
    });
    source.addEventListener("gone", () => {
      close();
      location.assign("/");
    });
  };
  const close = () => {
    source?.close();
    source = null;
    connection = "";
  };
  // A browser keeps few connections to one server: a page that is not seen gives its own back.
  const seen = () => {
    if (document.visibilityState === "hidden") return close();
    if (source) return;
    open();
    // What was marked meanwhile is not told again.
    if (get().status === "ready") void reloadProgress();
  };
  const moved = () => {
    told.catchUp();
    if (at === get().station || connection === "") return;
    at = get().station;
    void ask(address, api.beAt, { body: { connection, station: at } });
  };
  const forget = state.subscribe(moved);
  addEventListener("pagehide", close);
  document.addEventListener("visibilitychange", seen);
  seen();
  return () => {
    forget();
    removeEventListener("pagehide", close);
    document.removeEventListener("visibilitychange", seen);
    close();
  };
}
