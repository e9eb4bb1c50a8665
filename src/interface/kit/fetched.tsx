/** Parts of the interface that are fetched when they are first shown, so that nobody waits for what they do not look at. */
import { type ComponentType, useEffect, useState } from "react";
import { Button } from "./Button.tsx";
import styles from "./fetched.module.css";

export interface Part<Props> {
  /** Null until it was fetched. */
  here: ComponentType<Props> | null;
  /** Fetches it; rejects where that failed, and may be asked again. */
  fetch(): Promise<void>;
  /** Fetches it before it is shown; a failure is told when it is. */
  fetchAhead(): void;
}

/** Those that no page has asked for yet. */
const waiting = new Set<Pick<Part<never>, "fetchAhead">>();

/** `load` imports the part. A dialog that would grow while one aims at something in it is a part as a whole. */
export function partOf<Props>(load: () => Promise<ComponentType<Props>>): Part<Props> {
  const part: Part<Props> = {
    here: null,
    async fetch() {
      waiting.delete(part);
      part.here ??= await load();
    },
    fetchAhead: () => void part.fetch().catch(() => {}),
  };
  waiting.add(part);
  return part;
}

/** All of them, one after another once nothing else goes on: a version that goes live meanwhile no longer has these. */
export function fetchAllWhenIdle(): () => void {
  let timer: ReturnType<typeof setTimeout>;
  const next = () => {
    const [first] = waiting;
    first?.fetchAhead();
    // Stations bring parts of their own.
    timer = setTimeout(next, first ? 1000 : 10_000);
  };
  timer = setTimeout(next, 10_000);
  return () => clearTimeout(timer);
}

interface FetchedProps<Props> {
  part: Part<Props>;
  /** What the part is drawn with. */
  props: Props;
  /** Called once the part stands on the page, and again where another function is given. */
  onShown?: () => void;
}

/** A part, or a line that says that it is on its way. */
export function Fetched<Props extends object>({ part, props, onShown }: FetchedProps<Props>) {
  const [status, setStatus] = useState<"waiting" | "here" | "failed">(part.here ? "here" : "waiting");
  useEffect(() => {
    if (status !== "waiting") return;
    let isShown = true;
    const tell = (next: "here" | "failed") => isShown && setStatus(next);
    part.fetch().then(
      () => tell("here"),
      () => tell("failed"),
    );
    return () => {
      isShown = false;
    };
  }, [status, part]);
  useEffect(() => {
    if (status !== "failed") return;
    const again = () => setStatus("waiting");
    addEventListener("online", again);
    return () => removeEventListener("online", again);
  }, [status]);
  useEffect(() => {
    if (status === "here") onShown?.();
  }, [status, onShown]);
  const Here = part.here;
  if (Here) return <Here {...props} />;
  if (status === "waiting")
    return (
      <p role="status" className={styles.waiting}>
        Fetching this part of the page
      </p>
    );
  return (
    <div role="alert" className={styles.failed}>
      <p>
        This part of the page could not be fetched. Check the connection and try again; if it stays so, load the page
        again. What you drafted is kept.
      </p>
      <Button onPress={() => setStatus("waiting")}>Try again</Button>
    </div>
  );
}

/** What is said where a script could not be fetched that a press needs. */
export const notFetched = "What does that could not be fetched. Check the connection, and press again.";
/** A script that is large and seldom needed, as it is imported; null where it could not be fetched. */
export const orNull = <Script,>(script: Promise<Script>): Promise<Script | null> => script.catch(() => null);
