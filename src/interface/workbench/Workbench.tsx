import { Scrollable } from "../kit/Scrollable.tsx";
import "../kit/page-locale.ts";
import { BookOpenCheck, CalendarRange, ClipboardList, ListChecks, Moon, Spline, Sun, Users } from "lucide-react";
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { useStore } from "zustand";
import * as api from "../../api/journal.ts";
import { sayInstant } from "../../core/clock/local-time.ts";
import { sayNumber } from "../../core/text/locale.ts";
import { cut } from "../../core/text/shorten.ts";
import { Button } from "../kit/Button.tsx";
import { Fetched, fetchAllWhenIdle, partOf } from "../kit/fetched.tsx";
import { onSave } from "../kit/save.ts";
import { useNarrow } from "../kit/useNarrow.ts";
import { CommandField } from "./CommandField.tsx";
import { useParts, useWorkbench, WorkbenchProvider } from "./context.tsx";
import { useLeft } from "./counts.ts";
import { FirstSteps } from "./FirstSteps.tsx";
import { ask } from "./fetch.ts";
import styles from "./frame.module.css";
import here from "./here.module.css";
import { NobodyYet, useHasNobody } from "./NobodyYet.tsx";
import { NoticeLine } from "./NoticeLine.tsx";
import { stationName } from "./names.ts";
import { PeopleHere } from "./PeopleHere.tsx";
import { lastStation } from "./place.ts";
import { stationViews } from "./station-views.ts";
import { createStore, type Station, type Store, stations } from "./store.ts";
import { TimeRail } from "./TimeRail.tsx";
import { Tray } from "./Tray.tsx";

const spine = [
  { station: "intake", Icon: ClipboardList },
  { station: "placement", Icon: Users },
  { station: "reach", Icon: Spline },
  { station: "timing", Icon: CalendarRange },
  { station: "gradebook", Icon: BookOpenCheck },
  { station: "review", Icon: ListChecks },
] as const;
const shortcutList = partOf(async () => (await import("./Shortcuts.tsx")).Shortcuts);
const noProps = {};
const stationOf = (path: string): Station => stations.find((name) => path.split("/")[3] === name) ?? "intake";

interface WorkbenchProps {
  courseId: string;
  /** The person of the course who works here. */
  reader: string;
  station: Station | null;
  /** The name of whoever is signed in. */
  account: string;
  /** How many notices they have not read. */
  unread: number;
}

export default function Workbench({ courseId, reader, station, account, unread }: WorkbenchProps) {
  const [store] = useState(() => {
    const first = station ?? lastStation(courseId) ?? "intake";
    // Beside the course itself.
    stationViews[first].fetchAhead();
    return createStore(courseId, first, reader);
  });
  const status = useStore(store.state, (state) => state.status);
  const [whyElement, setWhyElement] = useState<HTMLElement | null>(null);
  // Where there is one column Why is opened by whoever wants it.
  const [folded, setFolded] = useState(useNarrow());
  const showWhy = useCallback(() => setFolded(false), []);
  useEffect(() => {
    void store.load();
    store.settleAddress();
    const arrive = () => store.arrived(stationOf(location.pathname));
    addEventListener("popstate", arrive);
    const clock = setInterval(store.tick, 60_000);
    const stop = store.listen();
    // Files are made here: the access log knows of them by what is told.
    const stopNoting = onSave((name) => void ask(store.address, api.noteExport, { body: { name: cut(name, 200) } }));
    return () => {
      stopNoting();
      removeEventListener("popstate", arrive);
      clearInterval(clock);
      stop();
    };
  }, [store]);
  if (status !== "ready") return <Waiting store={store} />;
  return (
    <WorkbenchProvider store={store} whyElement={whyElement} showWhy={showWhy}>
      <Frame {...{ account, unread }} setWhyElement={setWhyElement} folded={folded} setFolded={setFolded} />
    </WorkbenchProvider>
  );
}

/** Until the course is here, or where it could not be fetched. */
function Waiting({ store }: { store: Store }) {
  const state = useStore(store.state);
  return (
    <main className={styles.waiting}>
      {state.status !== "failed" ? (
        <p role="status">Fetching the course</p>
      ) : (
        <>
          <h1>The course could not be fetched</h1>
          <p role="alert">{state.failure}</p>
          <Button strong onPress={() => void store.load()}>
            Try again
          </Button>
        </>
      )}
    </main>
  );
}

interface FrameProps {
  account: string;
  unread: number;
  setWhyElement(element: HTMLElement | null): void;
  /** Whether the Why panel is folded away. */
  folded: boolean;
  setFolded(folded: boolean): void;
}

function Frame({ account, unread, setWhyElement, folded, setFolded }: FrameProps) {
  const { store, plan } = useWorkbench();
  const state = useParts("station", "asWas", "scope");
  const hasNobody = useHasNobody();
  const left = useLeft();
  const [shortcuts, setShortcuts] = useState(false);
  useEffect(fetchAllWhenIdle, []);
  const showShortcuts = useCallback(() => setShortcuts(true), []);
  useKeys(showShortcuts);
  const focusHeading = useHeadingFocus(state.station);
  return (
    <div className={styles.frame} data-folded={folded || undefined} data-nobody={hasNobody || undefined}>
      <a href="#work" className={styles.skip}>
        To the station
      </a>
      <header className={styles.top}>
        <div className={styles.topLine}>
          <a href="/" className={styles.brand}>
            <svg viewBox="0 0 24 24" width="22" height="22" aria-hidden="true">
              <path
                d="M3 7h6m6 0h6M3 17h6m6 0h6M12 3v6m0 6v6M9 7h6v10H9z"
                fill="none"
                stroke="currentColor"
                strokeWidth="2.4"
              />
            </svg>
            <span className="visually-hidden">Your courses</span>
          </a>
          <h1 className={styles.course}>
            {plan.course.code} <span>{plan.course.title}</span>
          </h1>
          {!hasNobody && <CommandField showShortcuts={showShortcuts} />}
          <PeopleHere />
          <ThemeButton />
          <form method="post" action="/sign-out" className={styles.account}>
            <a href={`/course/${store.courseId}/notices`} className={styles.link}>
              Notices{unread > 0 && <strong className={styles.unread}> {unread}</strong>}
            </a>
            <a href="/self" className={styles.link}>
              {account}
            </a>
            <button type="submit" className={styles.link}>
              Sign out
            </button>
          </form>
        </div>
        {!hasNobody && <TimeRail />}
        {state.asWas && (
          <div className={here.asWas} role="status">
            <span>
              The plan as it was published on {sayInstant(state.asWas.at, plan.course.timeZone)}. Nothing can be changed
              here.
            </span>
            <Button onPress={() => void store.lookBack(null)}>Back to now</Button>
          </div>
        )}
      </header>
      <nav className={styles.spine} aria-label="Stations">
        {(hasNobody ? [] : spine).map(({ station, Icon }) => (
          <a
            key={station}
            href={`/workbench/${store.courseId}/${station}`}
            aria-current={state.station === station ? "page" : undefined}
            title={left[station].says}
            onPointerEnter={stationViews[station].fetchAhead}
            onFocus={stationViews[station].fetchAhead}
            onClick={(event) => {
              if (event.ctrlKey || event.metaKey || event.shiftKey) return;
              event.preventDefault();
              store.go(station);
            }}
          >
            <Icon size={20} strokeWidth={1.7} aria-hidden />
            <span>{stationName(station, state.scope === null)}</span>
            <span className={styles.left} data-none={left[station].count === 0 || undefined}>
              <span aria-hidden="true">{left[station].count === 0 ? "" : sayNumber(left[station].count)}</span>
              <span className="visually-hidden">{left[station].says}</span>
            </span>
          </a>
        ))}
        <Button quiet className={styles.keys as string} onPress={showShortcuts} aria-label="Shortcuts">
          ?
        </Button>
      </nav>
      <main className={styles.work} id="work" tabIndex={-1}>
        <FirstSteps />
        {hasNobody ? (
          <NobodyYet />
        ) : (
          <Fetched key={state.station} part={stationViews[state.station]} props={noProps} onShown={focusHeading} />
        )}
      </main>
      <aside className={styles.why} aria-label="Why" hidden={hasNobody}>
        <Button quiet className={styles.fold as string} onPress={() => setFolded(!folded)} aria-expanded={!folded}>
          {folded ? "Why" : "Why  ›"}
        </Button>
        <Scrollable ref={setWhyElement} className={styles.whyBody} hidden={folded} />
      </aside>
      {!hasNobody && <Tray />}
      <NoticeLine />
      {shortcuts && <Fetched part={shortcutList} props={{ onClose: () => setShortcuts(false) }} />}
    </div>
  );
}

function ThemeButton() {
  const [dark, setDark] = useState(() => document.documentElement.dataset.theme === "dark");
  const turn = () => {
    const next = dark ? "light" : "dark";
    document.documentElement.dataset.theme = next;
    localStorage.setItem("theme", next);
    setDark(!dark);
  };
  return (
    <Button quiet aria-label={dark ? "Light colours" : "Dark colours"} onPress={turn}>
      {dark ? <Sun size={16} aria-hidden /> : <Moon size={16} aria-hidden />}
    </Button>
  );
}

/** Whoever goes to another station goes on from its heading, once it stands there. */
function useHeadingFocus(station: Station): () => void {
  const before = useRef(station);
  return useCallback(() => {
    if (before.current === station) return;
    before.current = station;
    const { activeElement } = document;
    if (activeElement !== document.body && !activeElement?.closest("nav")) return;
    const heading = document.querySelector<HTMLElement>("#work h2");
    heading?.setAttribute("tabindex", "-1");
    heading?.focus({ preventScroll: true });
  }, [station]);
}

function useKeys(showShortcuts: () => void): void {
  const { store } = useWorkbench();
  const keys = useMemo<Record<string, () => void>>(() => ({ "?": showShortcuts }), [showShortcuts]);
  useEffect(() => {
    const listen = (event: KeyboardEvent) => {
      const typing = (event.target as HTMLElement).closest("input, textarea, [contenteditable], [role=spinbutton]");
      if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "z" && !typing) {
        event.preventDefault();
        store.step(event.shiftKey ? "redo" : "undo");
      } else if (event.altKey && /^[1-6]$/.test(event.key)) {
        event.preventDefault();
        store.go(stations[Number(event.key) - 1] as Station);
      } else if (!typing && !event.ctrlKey && !event.metaKey && !event.altKey) keys[event.key]?.();
    };
    addEventListener("keydown", listen);
    return () => removeEventListener("keydown", listen);
  }, [keys, store]);
}
