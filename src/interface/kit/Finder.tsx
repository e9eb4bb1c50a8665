import type { ClipboardEvent, KeyboardEvent, ReactNode } from "react";
import { ComboBox, Input, Label, ListBox, ListBoxItem, Popover } from "react-aria-components";
import styles from "./controls.module.css";

/** What is offered: named, with a word on what it is. */
export interface Findable {
  id: string;
  name: string;
  what: string;
}

interface FinderProps<One extends Findable> {
  label: string;
  placeholder: string;
  /** What fits the text, already narrowed and no more than a screen holds. */
  items: One[];
  text: string;
  setText(text: string): void;
  /** Kept in the field; null where the choice goes elsewhere. */
  value: string | null;
  onChoose(id: string | null): void;
  picture?(one: One): ReactNode;
  autoFocus?: boolean;
  /** What is said where nothing fits. */
  none?: string;
  /** Takes a text that was typed or pasted as a whole; gives whether it did. */
  takeText?(text: string): boolean;
  /** Whether the list opens as soon as the field is reached, before anything is typed. */
  opensAtOnce?: boolean;
}

/**
 * Enter on a text takes the first that is offered: nobody loses what they typed because they pointed at nothing.
 * What arrows led to is pointed at; what the list only opened over, under a mouse at rest, is not.
 */
export const onEnter = (text: string, takeFirst: () => boolean) => (event: KeyboardEvent<HTMLInputElement>) => {
  const { currentTarget: field, key } = event;
  if (key !== "Enter") {
    field.toggleAttribute("data-by-arrows", /^(Arrow(Up|Down)|Page(Up|Down)|Home|End)$/.test(key));
    return;
  }
  const pointed = field.hasAttribute("data-by-arrows") && field.getAttribute("aria-activedescendant");
  if (event.nativeEvent.isComposing || pointed || text.trim() === "") return;
  if (!takeFirst()) return;
  event.preventDefault();
  event.stopPropagation();
};

/** One of very many, found by typing; Enter takes the first. */
export function Finder<One extends Findable>(props: FinderProps<One>) {
  const { label, placeholder, items, text, setText, value, onChoose, picture, autoFocus = false, opensAtOnce } = props;
  const { none = "Nobody is called that.", takeText } = props;
  const takeFirst = () => {
    const [first] = items;
    // What is several names is no part of one.
    if (takeText && (!first || /[,;\n\t]/.test(text)) && takeText(text)) return true;
    if (!first || first.id === value) return false;
    onChoose(first.id);
    return true;
  };
  const paste = (event: ClipboardEvent<HTMLInputElement>) => {
    const pasted = event.clipboardData.getData("text/plain");
    if (/[\n\t,;]/.test(pasted.trim()) && takeText?.(pasted)) event.preventDefault();
  };
  return (
    <ComboBox
      className={styles.field as string}
      items={items}
      inputValue={text}
      onInputChange={setText}
      value={value}
      onChange={(key) => onChoose(key === null ? null : String(key))}
      autoFocus={autoFocus}
      menuTrigger={opensAtOnce ? "focus" : "input"}
      allowsEmptyCollection
    >
      <Label className={styles.label}>{label}</Label>
      <Input
        className={styles.input}
        placeholder={placeholder}
        onKeyDownCapture={onEnter(text, takeFirst)}
        onPaste={paste}
      />
      <Popover className={styles.popover as string}>
        <ListBox className={styles.list as string} renderEmptyState={() => <div className={styles.option}>{none}</div>}>
          {(one: One) => (
            <ListBoxItem id={one.id} textValue={one.name} className={styles.option as string}>
              {picture?.(one)}
              {one.name}
              <span className={styles.aside}>{one.what}</span>
            </ListBoxItem>
          )}
        </ListBox>
      </Popover>
    </ComboBox>
  );
}
