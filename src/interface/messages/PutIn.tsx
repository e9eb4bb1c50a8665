/** What is put into a message: what each reader has of their own, a date of an item, a link to one. */
import { type ReactNode, useMemo, useState } from "react";
import { offeredDatePlaceholders, offeredPlaceholders } from "../../core/messages/placeholders.ts";
import type { Plan } from "../../core/plan/types.ts";
import { Button } from "../kit/Button.tsx";
import { Finder } from "../kit/Finder.tsx";
import base from "../stations/station.module.css";
import styles from "./messages.module.css";

interface InsertProps {
  plan: Plan;
  /** Puts a placeholder where the text is being written. */
  insert(placeholder: string): void;
  children?: ReactNode;
}

/** What each reader has of their own: pressed, it stands in the text. */
export const ForEachReader = ({ plan, insert, children }: InsertProps) => (
  <div className={styles.blanks} role="group" aria-label="Put in for each reader">
    <span className={base.soft}>For each reader:</span>
    {offeredPlaceholders(plan)
      .slice(0, 7)
      .map((placeholder) => (
        <Button key={placeholder} quiet onPress={() => insert(placeholder)}>
          {placeholder}
        </Button>
      ))}
    <DateOf plan={plan} insert={insert} />
    {children}
  </div>
);

interface ByTitleProps {
  label: string;
  /** What is offered, whatever is typed. */
  all: { id: string; name: string; what: string }[];
  none: string;
  onChoose(id: string): void;
}
/** Something found by its title and taken at once. */
function ByTitle({ label, all, none, onChoose }: ByTitleProps) {
  const [text, setText] = useState("");
  const shown = all.filter(({ name }) => name.toLowerCase().includes(text.toLowerCase())).slice(0, 60);
  const choose = (id: string | null) => {
    if (id) onChoose(id);
    setText("");
  };
  return (
    <Finder
      {...{ label, text, setText, none }}
      placeholder="Type its title"
      items={shown}
      value={null}
      onChoose={choose}
    />
  );
}

/** The dates of an item, found by its title and put into the text. */
function DateOf({ plan, insert }: InsertProps) {
  const all = useMemo(() => offeredDatePlaceholders(plan), [plan]);
  return (
    <ByTitle
      label="A date of an item"
      all={all}
      onChoose={(id) => insert(`{${id}}`)}
      none="No item with dates is called that."
    />
  );
}

interface AboutProps {
  plan: Plan;
  itemId: string | null;
  onChange(itemId: string | null): void;
}
/** What it is about: whoever is let in there finds a link beneath the text. */
export function About({ plan, itemId, onChange }: AboutProps) {
  const item = itemId === null ? undefined : plan.items[itemId];
  if (item)
    return (
      <p>
        A link to {item.title} stands beneath, for whoever may open it.{" "}
        <Button quiet onPress={() => onChange(null)}>
          Without it
        </Button>
      </p>
    );
  const all = Object.values(plan.items)
    .filter(({ published }) => published)
    .map(({ id, title, kind }) => ({ id, name: title, what: kind }));
  return (
    <ByTitle label="With a link to an item" all={all} onChoose={onChange} none="No published item is called that." />
  );
}
