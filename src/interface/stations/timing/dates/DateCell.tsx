import { type FocusEvent, type KeyboardEvent, useDeferredValue, useEffect, useMemo, useRef, useState } from "react";
import { Popover } from "react-aria-components";
import { dayOf } from "../../../../core/clock/local-time.ts";
import type { DateField, Group, Moment, Target } from "../../../../core/plan/types.ts";
import { isAnchor } from "../../../../core/timing/anchors.ts";
import { sayGiven } from "../../../../core/timing/commands.ts";
import { type GivenValue, isMomentField, type Value } from "../../../../core/timing/resolving/resolve.ts";
import { readField, typedContext, writeField } from "../../../../core/timing/typing/typed.ts";
import { Button } from "../../../kit/Button.tsx";
import kit from "../../../kit/controls.module.css";
import { useReach, useWorkbench } from "../../../workbench/context.tsx";
import { GroupName } from "../../GroupName.tsx";
import { MomentField } from "../../MomentField.tsx";
import base from "../../station.module.css";
import { sayValue } from "../sayValue.ts";
import styles from "../timing.module.css";
import { previewOf } from "./preview.ts";

interface DateCellProps {
  label: string;
  field: DateField;
  itemIds: string[];
  target: Target | null;
  /** What is set here; null where nothing is, undefined where the items that are chosen differ. */
  own: GivenValue | null | undefined;
  /** What holds for most as it is. */
  falls: Value;
  /** Whom a preview is shown for. */
  groups: Group[];
  onChange(value: GivenValue | null): void;
  /** What is pasted while nothing is typed: a block that begins here. */
  onPaste(text: string): void;
}

/**
 * A date or limit that is said until it is pressed, then typed in plain words or picked; each group's own date is shown
 * meanwhile. Kept on Enter, which goes on to the cell below, or when the focus leaves; put back on Escape; what cannot be
 * read stays to be mended. Arrows lead from cell to cell, and Ctrl or Cmd D takes what stands above.
 */
export function DateCell(props: DateCellProps) {
  const { label, field, own, falls, onChange, onPaste } = props;
  const [text, setText] = useState<string | null>(null);
  const [picking, setPicking] = useState(false);
  const input = useRef<HTMLInputElement>(null);
  const opener = useRef<HTMLButtonElement>(null);
  const popover = useRef<HTMLElement>(null);
  /** After a key ended the typing, the focus goes back to where it began, or so many cells down. */
  const back = useRef<number | null>(null);
  const isOpen = text !== null;
  useEffect(() => {
    if (isOpen) {
      input.current?.focus();
      input.current?.select();
    } else if (back.current !== null) (cellBeside(opener.current, [back.current, 0]) ?? opener.current)?.focus();
    back.current = null;
  }, [isOpen]);
  useEffect(() => {
    // The button that asked for it is gone, and the focus with it.
    if (picking) popover.current?.querySelector<HTMLElement>("button, input")?.focus();
  }, [picking]);
  // "+2d" counts from the date that the cell shows.
  const { plan, t } = useWorkbench();
  const { course } = plan;
  const kind = plan.items[props.itemIds[0] ?? ""]?.kind;
  const day = dayOf(t, course.timeZone);
  const context = typedContext({ course, day, field, kind, from: typeof own === "string" ? own : falls });
  const read = readField(field, text ?? "", context);
  const written = own === undefined ? null : writeField(own);

  const close = () => {
    setText(null);
    setPicking(false);
  };
  /** Gives whether the typing ended: what cannot be read stays. */
  const keep = (): boolean => {
    if (text === written || (own === undefined && text === "")) {
      close();
      return true;
    }
    if ("wrong" in read) return false;
    close();
    onChange(read.value);
    return true;
  };
  const leave = (event: FocusEvent) => {
    const to = event.relatedTarget as Element | null;
    if (
      !isOpen ||
      popover.current?.contains(to) ||
      to?.closest("[role=listbox], [role=dialog]") ||
      to === input.current
    )
      return;
    keep();
  };
  const key = (event: KeyboardEvent) => {
    if (event.key === "Escape") {
      event.stopPropagation();
      back.current = 0;
      close();
    } else if (event.key === "Enter" && event.target === input.current) {
      event.preventDefault();
      back.current = keep() ? 1 : null;
    }
  };
  if (!isOpen) {
    const says = own === undefined ? "differ" : own !== null ? sayGiven(own) : falls !== null ? sayValue(falls) : "set";
    return (
      <button
        type="button"
        ref={opener}
        className={`${base.plainButton} ${styles.date} ${own ? "" : base.soft}`}
        data-own={own != null || undefined}
        onClick={() => setText(written ?? "")}
        data-given={written ?? ""}
        onKeyDown={(event) => {
          const step = arrows[event.key];
          const above = cellBeside(event.currentTarget, [-1, 0]);
          if (step) cellBeside(event.currentTarget, step)?.focus();
          else if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "d" && above)
            onPaste(above.dataset.given ?? "");
          else return;
          event.preventDefault();
        }}
        onPaste={(event) => {
          event.preventDefault();
          onPaste(event.clipboardData.getData("text/plain"));
        }}
        aria-label={`${label}: ${says === "set" ? "not set" : own ? says : `${says}, as it falls`}. Change it`}
        title={isAnchor(own) && falls !== null ? sayValue(falls) : undefined}
      >
        {says === "set"
          ? `add ${isMomentField(field) ? "a date" : field === "accessWord" ? "a word" : "a limit"}`
          : says}
      </button>
    );
  }
  const wrong = "wrong" in read ? read.wrong : null;
  return (
    <>
      <input
        ref={input}
        className={`${kit.input} ${styles.typing}`}
        aria-label={label}
        aria-invalid={wrong !== null}
        aria-describedby="typed-date"
        value={text}
        placeholder={isMomentField(field) ? "fri 5pm, +1w, m6 start" : field === "accessWord" ? "a word" : "a number"}
        onChange={(event) => setText(event.target.value)}
        onBlur={leave}
        onKeyDown={key}
      />
      <Popover
        ref={popover}
        triggerRef={input}
        isOpen
        isNonModal
        placement="top start"
        shouldFlip={false}
        className={`${kit.popover} ${styles.typed}`}
        onOpenChange={() => {}}
      >
        {/* The keys are those of the fields inside. */}
        <div id="typed-date" role="dialog" aria-label={`What ${label} comes to`} onBlur={leave} onKeyDown={key}>
          {wrong ? (
            <p className={base.wrong} role="alert">
              {wrong}
            </p>
          ) : (
            <Gets {...props} value={(read as { value: GivenValue | null }).value} />
          )}
          {isMomentField(field) && (
            <div className={styles.pick}>
              {picking ? (
                <>
                  <MomentField
                    label={label}
                    value={wrong ? null : asMoment((read as { value: GivenValue | null }).value)}
                    onChange={(moment) => setText(writeField(moment))}
                  />
                  <Button strong onPress={keep} isDisabled={wrong !== null}>
                    Draft it
                  </Button>
                </>
              ) : (
                <Button quiet onPress={() => setPicking(true)}>
                  Pick instead
                </Button>
              )}
            </div>
          )}
        </div>
      </Popover>
    </>
  );
}

const arrows: Record<string, [number, number]> = {
  ArrowUp: [-1, 0],
  ArrowDown: [1, 0],
  ArrowLeft: [0, -1],
  ArrowRight: [0, 1],
};
/** The button of another cell of the table, so many rows and columns on. */
function cellBeside(from: HTMLElement | null, [down, right]: readonly [number, number]): HTMLElement | null {
  const cell = from?.closest("td");
  const rows = [...(cell?.closest("tbody")?.rows ?? [])];
  const row = rows[rows.indexOf(cell?.parentElement as HTMLTableRowElement) + down];
  return row?.cells[(cell?.cellIndex ?? 0) + right]?.querySelector("button") ?? null;
}

const asMoment = (value: GivenValue | null): Moment | null =>
  isAnchor(value) ? value : typeof value === "string" && value.includes("T") ? value : null;

/** It stands above the cell, and must leave room for itself there. */
const mostShown = 5;

/** What each group gets by what is typed. */
function Gets({ itemIds, target, field, value, groups, own }: DateCellProps & { value: GivenValue | null }) {
  const reach = useReach();
  const later = useDeferredValue(value);
  const shown = useMemo(
    () => previewOf(reach, itemIds, target, field, later, groups),
    [reach, itemIds, target, field, later, groups],
  );
  return (
    <>
      <p>{value === null ? (own == null ? "Nothing set" : "Set no longer") : sayGiven(value)}</p>
      <ul className={styles.gets}>
        {shown.slice(0, mostShown).map(({ group, value: gets, alike, differ }) => (
          <li key={group.id}>
            <GroupName group={group} />{" "}
            <strong className={gets === null && value !== null ? base.wrong : ""}>
              {!alike ? "not the same on each" : gets === null && value !== null ? "no date" : sayValue(gets)}
            </strong>
            {differ > 0 && <span className={base.soft}>, {differ} otherwise</span>}
          </li>
        ))}
      </ul>
      {shown.length > mostShown && <p className={base.soft}>and {shown.length - mostShown} more groups</p>}
      {itemIds.length > 1 && <p className={base.soft}>for each of {itemIds.length} items</p>}
    </>
  );
}
