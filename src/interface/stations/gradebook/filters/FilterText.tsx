import { type KeyboardEvent, useId, useLayoutEffect, useRef, useState } from "react";
import { type Completions, completionsOf } from "../../../../core/gradebook/completion.ts";
import type { FilterMistake } from "../../../../core/gradebook/filter.ts";
import controls from "../../../kit/controls.module.css";
import { useWorkbench } from "../../../workbench/context.tsx";
import styles from "./filters.module.css";

interface FilterTextProps {
  text: string;
  setText(text: string): void;
  mistake: FilterMistake | null;
}

/** The filter as text: what may come next is offered where the caret stands; Tab or Enter takes it. */
export function FilterText({ text, setText, mistake }: FilterTextProps) {
  const { plan, t } = useWorkbench();
  const field = useRef<HTMLInputElement>(null);
  const [offered, setOffered] = useState<Completions | null>(null);
  // Nothing is chosen until an arrow key does: Enter alone keeps what was typed.
  const [chosen, setChosen] = useState(-1);
  // The caret is put back with the text that was taken, before the next key can arrive.
  const caretAfter = useRef<number | null>(null);
  useLayoutEffect(() => {
    if (caretAfter.current === null) return;
    field.current?.focus();
    field.current?.setSelectionRange(caretAfter.current, caretAfter.current);
    caretAfter.current = null;
  });
  const id = useId();
  const offer = (value: string, caret: number) => {
    setOffered(completionsOf(value, caret, plan, t));
    setChosen(-1);
  };
  const close = () => setOffered(null);
  const take = (at: number) => {
    const option = offered?.options[at];
    if (!option || !offered) return;
    const caret = field.current?.selectionStart ?? text.length;
    const head = text.slice(0, offered.from) + option.text;
    const rest = text.slice(caret);
    const isWhole = !/[:@<>= ]$/.test(option.text);
    const next = isWhole && rest === "" ? `${head} ` : head;
    setText(next + rest);
    if (isWhole) close();
    else offer(next, next.length);
    caretAfter.current = next.length;
  };
  const options = offered?.options ?? [];
  const key = (event: KeyboardEvent) => {
    if (options.length === 0) return;
    if (event.key === "ArrowDown" || event.key === "ArrowUp") {
      event.preventDefault();
      const step = event.key === "ArrowDown" ? 1 : -1;
      setChosen((before) => (before + step + options.length + (before < 0 && step < 0 ? 1 : 0)) % options.length);
    } else if ((event.key === "Enter" || event.key === "Tab") && chosen >= 0) {
      event.preventDefault();
      take(chosen);
    } else if (event.key === "Escape") {
      event.preventDefault();
      close();
    } else if (event.key === "Enter") close();
  };
  const says = mistake ? `At character ${mistake.position + 1}: ${mistake.says}. The last good filter stays.` : "";
  return (
    <div className={styles.text}>
      <input
        ref={field}
        role="combobox"
        aria-label="Filter"
        aria-expanded={options.length > 0}
        aria-controls={`${id}-list`}
        aria-autocomplete="list"
        aria-activedescendant={chosen >= 0 ? `${id}-${chosen}` : undefined}
        aria-invalid={mistake !== null}
        aria-describedby={says ? `${id}-says` : undefined}
        className={controls.input}
        placeholder='group:Evening status@"Report draft":missing or mark@"Lab 1"<50, or a name'
        autoComplete="off"
        spellCheck={false}
        value={text}
        onChange={(event) => {
          setText(event.target.value);
          offer(event.target.value, event.target.selectionStart ?? event.target.value.length);
        }}
        onKeyDown={key}
        onBlur={close}
      />
      <div
        id={`${id}-list`}
        role="listbox"
        aria-label="What may come next"
        className={styles.offered}
        hidden={options.length === 0}
      >
        {options.map((option, at) => (
          // The keyboard reaches these from the field, which keeps the focus.
          <div
            key={option.text}
            id={`${id}-${at}`}
            role="option"
            aria-selected={at === chosen}
            tabIndex={-1}
            onMouseDown={(event) => event.preventDefault()}
            onMouseUp={() => take(at)}
          >
            <span>{option.text}</span> <small>{option.says}</small>
          </div>
        ))}
      </div>
      {says && (
        <p id={`${id}-says`} className={controls.error} aria-live="polite">
          {says}
        </p>
      )}
    </div>
  );
}
