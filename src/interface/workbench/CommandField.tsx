import { Search } from "lucide-react";
import { type ClipboardEvent, useEffect, useMemo, useRef, useState } from "react";
import { ComboBox, Input, Label, ListBox, ListBoxItem, Popover } from "react-aria-components";
import { formsFor, type Line } from "../../core/line/line.ts";
import kit from "../kit/controls.module.css";
import { onEnter } from "../kit/Finder.tsx";
import { Fetched, partOf } from "../kit/fetched.tsx";
import { exactFirst, holdsWords, linesOf } from "../kit/words.ts";
import { messageDialog } from "../messages/messageDialog.ts";
import { useDraftReview, useWorkbench } from "./context.tsx";
import { type Found, findable } from "./findable.ts";
import styles from "./frame.module.css";
import { sayTouched } from "./sayTouched.ts";
import { useLine } from "./useLine.ts";

const linesDialog = partOf(async () => (await import("./LinesDialog.tsx")).LinesDialog);
const most = 40;

/** Offered in the field: something found, a change that the line would draft, or a way to go on typing. */
interface Offer extends Omit<Found, "go"> {
  /** False where it was not done: what was typed stays. */
  go?(): unknown;
  /** What the field holds after it. */
  fills?: string;
  /** It only says something. */
  isNote?: boolean;
}

/** What a line as it was read offers. */
function offersOf(line: Line, text: string, { draft, follow }: Pick<ReturnType<typeof useLine>, "draft" | "follow">) {
  const offers: Offer[] = [];
  if (line.kind === "commands")
    offers.push(
      line.refused === null
        ? { id: "line", name: line.says.join("; "), what: "Enter drafts it", go: () => draft(line.commands) }
        : { id: "line", name: line.refused, what: "cannot be", isNote: true },
    );
  if (line.kind === "way")
    offers.push({
      id: "line",
      name: line.way.kind === "write" ? "Begin a message to them" : "Look through their eyes",
      what: "Enter",
      go: () => {
        follow(line.way);
        return true;
      },
    });
  if (line.kind === "not understood") {
    const { word, says, could } = line;
    offers.push({ id: "line", name: word ? `"${word}": ${says}` : says, what: "", isNote: true });
    for (const one of could) {
      const at = text.toLowerCase().lastIndexOf(word.toLowerCase());
      const fills =
        word && at >= 0 ? text.slice(0, at) + one + text.slice(at + word.length) : `${text.trimEnd()} ${one}`;
      offers.push({ id: `could ${one}`, name: one, what: "could stand there", fills });
    }
  }
  return offers;
}

/** Ctrl or Cmd K leads into the field. */
function useKey(field: React.RefObject<HTMLInputElement | null>): void {
  useEffect(() => {
    const listen = (event: KeyboardEvent) => {
      if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "k") {
        event.preventDefault();
        field.current?.focus();
        field.current?.select();
      }
    };
    addEventListener("keydown", listen);
    return () => removeEventListener("keydown", listen);
  }, [field]);
}

/** What is offered for a text: what it does, then what is called so, then how it could be written. */
function useOffers(text: string, line: ReturnType<typeof useLine>, showShortcuts: () => void): Offer[] {
  const { store, plan } = useWorkbench();
  const { review } = useDraftReview();
  const all = useMemo(() => findable(plan, store, showShortcuts), [plan, store, showShortcuts]);
  const found = useMemo(() => {
    const fits = holdsWords(text);
    return exactFirst(
      all.filter(({ name, what, words = "" }) => fits(`${name} ${what} ${words}`)),
      text,
    ).slice(0, most);
  }, [all, text]);
  const read = useMemo(() => (text.trim() === "" ? null : line.read(text)), [text, line.read]);
  useTriedLine(read);
  const lines = read ? offersOf(read, text, line) : [];
  const [change] = lines;
  if (change?.go && review.tried) change.what = `Enter drafts it: ${sayTouched(review.tried)}`;
  // A name alone is looked for; what is a change comes before whatever is called so.
  const ways = formsFor(text).map(({ example, says }) => ({ id: example, name: example, what: says, fills: example }));
  const { complete } = line;
  const goOn = useMemo(() => complete(text).map((one) => ({ ...one, id: `go on ${one.fills}` })), [complete, text]);
  const isChange = lines.some(({ isNote }) => !isNote);
  if (isChange) return [...lines, ...goOn, ...found];
  // What is found by its name is not offered a second time as a beginning of a line.
  const further = goOn.filter(({ fills, name }) => fills.trim() !== name);
  return [...found, ...lines, ...further, ...ways.slice(0, 6)];
}

/** A change that the line would make is shown on every screen before it is drafted. */
function useTriedLine(read: Line | null): void {
  const { store } = useWorkbench();
  const commands = read?.kind === "commands" && read.refused === null ? read.commands : null;
  useEffect(() => {
    const timer = setTimeout(() => store.tryOut("line", commands ?? []), 200);
    return () => clearTimeout(timer);
  }, [store, commands]);
}

/** Any student, group, item or action, found by typing; and any change that fits a line, typed as the tray says it. */
export function CommandField({ showShortcuts }: { showShortcuts(): void }) {
  const [text, setText] = useState("");
  /** The field is made anew after each choice: emptied in place it would open its list over what was chosen. */
  const [round, setRound] = useState({ at: 0, goesOn: false });
  const [pasted, setPasted] = useState<string | null>(null);
  const input = useRef<HTMLInputElement>(null);
  useKey(input);
  const line = useLine();
  const offers = useOffers(text, line, showShortcuts);
  const choose = (id: string | null) => {
    const offer = offers.find((one) => one.id === id);
    if (!offer || offer.isNote) return;
    if (offer.go?.() === false) return;
    setText(offer.fills ?? "");
    setRound({ at: round.at + 1, goesOn: offer.fills !== undefined });
  };
  const takeFirst = () => {
    // Where a word is not understood, Enter puts no other in its place.
    const hasNote = offers.some(({ isNote }) => isNote);
    const first = offers.find(({ isNote, fills }) => !isNote && !(hasNote && fills !== undefined));
    if (first) choose(first.id);
    return true;
  };
  const paste = (event: ClipboardEvent<HTMLInputElement>) => {
    const lines = event.clipboardData.getData("text/plain");
    if (linesOf(lines).length < 2) return;
    event.preventDefault();
    setPasted(lines);
  };
  return (
    <>
      <ComboBox
        className={styles.command as string}
        items={offers}
        inputValue={text}
        onInputChange={setText}
        value={null}
        onChange={(id) => choose(id === null ? null : String(id))}
        allowsEmptyCollection
        menuTrigger="input"
        autoFocus={round.goesOn}
        key={round.at}
      >
        <Label className="visually-hidden">Find any student, group, item or action</Label>
        <Search size={15} aria-hidden className={styles.commandIcon} />
        <Input
          ref={input}
          className={kit.input}
          onKeyDownCapture={onEnter(text, takeFirst)}
          onPaste={paste}
          placeholder="Find or do anything   Ctrl K"
        />
        <Popover className={kit.popover as string}>
          <ListBox
            className={kit.list as string}
            renderEmptyState={() => <div className={kit.option}>Nothing is called that.</div>}
          >
            {({ id, name, what, isNote = false }: Offer) => (
              <ListBoxItem
                id={id}
                textValue={name}
                isDisabled={isNote}
                className={`${kit.option} ${id === "line" ? styles.change : ""}`}
              >
                {name} <span className={kit.aside}>{what}</span>
              </ListBoxItem>
            )}
          </ListBox>
        </Popover>
      </ComboBox>
      {pasted !== null && <Fetched part={linesDialog} props={{ text: pasted, onClose: () => setPasted(null) }} />}
      {line.writing && <Fetched part={messageDialog} props={{ start: line.writing, onClose: line.stopWriting }} />}
    </>
  );
}
