import { Search } from "lucide-react";
import { useEffect, useMemo, useRef, useState } from "react";
import { ComboBox, Input, Label, ListBox, ListBoxItem, Popover } from "react-aria-components";
import { fullName, lookup } from "../../core/plan/lookup.ts";
import kit from "../kit/controls.module.css";
import { onEnter } from "../kit/Finder.tsx";
import { exactFirst } from "../kit/words.ts";
import { useWorkbench } from "./context.tsx";
import styles from "./frame.module.css";
import { type Station, stations, type WorkbenchState } from "./store.ts";

interface Found {
  id: string;
  name: string;
  what: string;
  go(): void;
}

const most = 40;

/** Any student, group, item or action, found by typing. */
export function CommandField({ showShortcuts }: { showShortcuts(): void }) {
  const { store, plan } = useWorkbench();
  const [text, setText] = useState("");
  /** The field is made anew after each choice: emptied in place it would open its list over what was chosen. */
  const [round, setRound] = useState(0);
  const input = useRef<HTMLInputElement>(null);
  useEffect(() => {
    const listen = (event: KeyboardEvent) => {
      if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "k") {
        event.preventDefault();
        input.current?.focus();
        input.current?.select();
      }
    };
    addEventListener("keydown", listen);
    return () => removeEventListener("keydown", listen);
  }, []);

  const all = useMemo(() => {
    const to = (station: Station, kind: NonNullable<WorkbenchState["target"]>["kind"], id: string) => () =>
      store.go(station, { kind, id });
    const found: Found[] = stations.map((station) => ({
      id: station,
      name: station[0]?.toUpperCase() + station.slice(1),
      what: "station",
      go: () => store.go(station),
    }));
    found.push(
      {
        id: "undo",
        name: "Undo the last drafted change",
        what: "action",
        go: () => store.step("undo"),
      },
      { id: "redo", name: "Redo", what: "action", go: () => store.step("redo") },
      { id: "now", name: "Show the present", what: "action", go: () => store.setMoment(null) },
      { id: "keys", name: "List the shortcuts", what: "action", go: showShortcuts },
    );
    for (const layer of lookup(plan).layers) {
      for (const group of lookup(plan).groupsOfLayer.get(layer.id) ?? []) {
        found.push({
          id: group.id,
          name: group.name,
          what: `group of ${layer.name}`,
          go: to("placement", "group", group.id),
        });
      }
    }
    for (const item of Object.values(plan.items))
      found.push({
        id: item.id,
        name: item.title,
        what: item.kind,
        go: to("reach", "item", item.id),
      });
    for (const person of Object.values(plan.people)) {
      found.push({
        id: person.id,
        name: fullName(person),
        what: person.sourcedId,
        go: to("placement", "person", person.id),
      });
    }
    return found;
  }, [plan, store, showShortcuts]);
  const shown = useMemo(() => {
    const words = text.toLowerCase().split(/\s+/).filter(Boolean);
    const found = all.filter(({ name, what }) => words.every((word) => `${name} ${what}`.toLowerCase().includes(word)));
    return exactFirst(found, text).slice(0, most);
  }, [all, text]);

  const choose = (id: string | null) => {
    setText("");
    setRound(round + 1);
    shown.find((found) => found.id === id)?.go();
  };
  const takeFirst = () => {
    const [first] = shown;
    if (first) choose(first.id);
    return Boolean(first);
  };

  return (
    <ComboBox
      className={styles.command as string}
      items={shown}
      inputValue={text}
      onInputChange={setText}
      value={null}
      onChange={(id) => choose(id === null ? null : String(id))}
      allowsEmptyCollection
      menuTrigger="input"
      key={round}
    >
      <Label className="visually-hidden">Find any student, group, item or action</Label>
      <Search size={15} aria-hidden className={styles.commandIcon} />
      <Input
        ref={input}
        className={kit.input}
        onKeyDownCapture={onEnter(text, takeFirst)}
        placeholder="Find or do anything   Ctrl K"
      />
      <Popover className={kit.popover as string}>
        <ListBox
          className={kit.list as string}
          renderEmptyState={() => <div className={kit.option}>Nothing is called that.</div>}
        >
          {(found: Found) => (
            <ListBoxItem id={found.id} textValue={found.name} className={kit.option as string}>
              {found.name} <span className={kit.aside}>{found.what}</span>
            </ListBoxItem>
          )}
        </ListBox>
      </Popover>
    </ComboBox>
  );
}
