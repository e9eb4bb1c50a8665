/** Who works on a quiz, who has, and how far they are; more time on the spot, an end, another beginning. */
import { useEffect, useMemo, useState } from "react";
import type { AttemptAct, AttemptRow, AttemptRows } from "../../../../api/attempts.ts";
import { sayInstant } from "../../../../core/clock/local-time.ts";
import { compareNames, fullName } from "../../../../core/plan/lookup.ts";
import type { Item, Plan } from "../../../../core/plan/types.ts";
import { sayPoints } from "../../../../core/text/locale.ts";
import { RowCheck } from "../../../kit/RowCheck.tsx";
import { Rows } from "../../../kit/Rows.tsx";
import { plural } from "../../../kit/words.ts";
import { useWorkbench } from "../../../workbench/context.tsx";
import base from "../../station.module.css";
import { AttemptActions } from "./AttemptActions.tsx";
import { attemptsAmong } from "./among.ts";
import styles from "./attempts.module.css";

interface HoldersProps {
  item: Item;
  rows: AttemptRows;
  act(attemptIds: string[], act: AttemptAct): Promise<number>;
  personIds: string[];
}

/** A browser that was not heard of for so long has lost its connection, or was closed. */
const lost = 30_000;

const isRunning = (one: AttemptRow): boolean => one.endedAt === null;

const endings = { "handed in": "handed in", time: "time was up", staff: "ended by staff", void: "void" };

function useNow(offset: number): number {
  const [, tick] = useState(0);
  useEffect(() => {
    const timer = setInterval(() => tick((times) => times + 1), 1000);
    return () => clearInterval(timer);
  }, []);
  return Date.now() + offset;
}

const sayLeft = (milliseconds: number): string => {
  const seconds = Math.max(0, Math.ceil(milliseconds / 1000));
  return seconds >= 120 ? `${Math.ceil(seconds / 60)} min left` : `${seconds} s left`;
};

export function Holders({ item, rows, act, personIds }: HoldersProps) {
  const { plan } = useWorkbench();
  const [ticked, setTicked] = useState<ReadonlySet<string>>(new Set());
  const offset = useMemo(() => rows.now - Date.now(), [rows]);
  const now = useNow(offset);
  const shown = useMemo(() => inOrder(plan, attemptsAmong(plan, rows.attempts, personIds)), [plan, rows, personIds]);
  const running = shown.filter(isRunning);
  const away = running.filter(({ seenAt }) => now - seenAt > lost).length;
  const chosen = shown.filter(({ id }) => ticked.has(id));
  const toMark = shown.filter((one) => one.endedAt !== null && one.endedHow !== "void" && one.points === null).length;
  const nameOf = (one: AttemptRow) =>
    one.isGroup ? (plan.groups[one.holderId]?.name ?? "A group") : nameOfPerson(plan, one.holderId);
  const tick = (id: string, isTicked: boolean) => {
    const next = new Set(ticked);
    if (isTicked) next.add(id);
    else next.delete(id);
    setTicked(next);
  };
  return (
    <>
      <p className={base.figures} aria-live="polite">
        <span>
          <strong>{running.length}</strong> under way
        </span>
        {away > 0 && (
          <span className={base.wrong}>
            <strong>{away}</strong> not heard of for half a minute
          </span>
        )}
        <span>
          <strong>{shown.length - running.length}</strong> ended
        </span>
        {toMark > 0 && (
          <span>
            <strong>{toMark}</strong> to be marked
          </span>
        )}
      </p>
      <AttemptActions chosen={chosen} running={running} act={act} onDone={() => setTicked(new Set())} />
      {shown.length === 0 ? (
        <p className={base.soft}>Nobody in this filter has begun.</p>
      ) : (
        <Rows count={shown.length} label={`Attempts on ${item.title}`} className={styles.rows as string}>
          {(index) => {
            const one = shown[index] as AttemptRow;
            return (
              <div className={styles.row} data-running={isRunning(one) || undefined}>
                <RowCheck
                  label={`Attempt ${one.number} of ${nameOf(one)}`}
                  isSelected={ticked.has(one.id)}
                  onChange={(isTicked) => tick(one.id, isTicked)}
                />
                <span className={base.cut}>{nameOf(one)}</span>
                <span>{one.number}</span>
                <State one={one} now={now} timeZone={plan.course.timeZone} />
                <span>
                  {one.answered} of {plural(one.asked, "answer")}
                </span>
                <span className={base.number}>{sayEarned(one, item)}</span>
              </div>
            );
          }}
        </Rows>
      )}
    </>
  );
}

const nameOfPerson = (plan: Plan, id: string): string => {
  const person = plan.people[id];
  return person ? fullName(person) : "Somebody";
};

function sayEarned(one: AttemptRow, item: Item): string {
  if (one.endedAt === null || one.endedHow === "void") return "";
  return one.points === null ? "to be marked" : `${sayPoints(one.points)} of ${sayPoints(item.points ?? 0)}`;
}

/** Those that run first, the soonest to end before the others; then by name. */
function inOrder(plan: Plan, attempts: AttemptRow[]): AttemptRow[] {
  const ends = ({ endsAt }: AttemptRow) => endsAt ?? Number.POSITIVE_INFINITY;
  const byName = (a: AttemptRow, b: AttemptRow) => {
    const [one, other] = [plan.people[a.holderId], plan.people[b.holderId]];
    return one && other ? compareNames(one, other) || a.number - b.number : 0;
  };
  return attempts.sort((a, b) => {
    if (isRunning(a) !== isRunning(b)) return isRunning(a) ? -1 : 1;
    return isRunning(a) && ends(a) !== ends(b) ? ends(a) - ends(b) : byName(a, b);
  });
}

function State({ one, now, timeZone }: { one: AttemptRow; now: number; timeZone: string }) {
  if (one.endedAt !== null)
    return (
      <span className={base.soft}>
        {endings[one.endedHow ?? "time"]} {sayInstant(one.endedAt, timeZone)}
        {one.reason && `: ${one.reason}`}
      </span>
    );
  const isLost = now - one.seenAt > lost;
  return (
    <span>
      {one.endsAt === null ? "no end by the clock" : sayLeft(one.endsAt - now)}
      {one.extraMinutes > 0 && <small className={base.soft}>, {one.extraMinutes} min given</small>}
      {isLost && <span className={base.wrong}>, not heard of for {Math.round((now - one.seenAt) / 60_000)} min</span>}
    </span>
  );
}
