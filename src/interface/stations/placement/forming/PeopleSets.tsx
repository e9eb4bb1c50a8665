import { X } from "lucide-react";
import { useState } from "react";
import { Button as AriaButton, ComboBox, Input, Label, ListBox, ListBoxItem, Popover } from "react-aria-components";
import { nameOf } from "../../../../core/placement/forming/input.ts";
import { useBench } from "../../../bench/context.tsx";
import { Button } from "../../../kit/Button.tsx";
import { Chip } from "../../../kit/Chip.tsx";
import kit from "../../../kit/controls.module.css";
import styles from "./forming.module.css";

/** Sets of people, by typing: one set a line; the one that is being filled is the last. */
export function PeopleSets({
  label,
  verb,
  sets,
  onChange,
}: {
  label: string;
  verb: string;
  sets: string[][];
  onChange(sets: string[][]): void;
}) {
  const { plan, reach } = useBench();
  const [text, setText] = useState("");
  const [open, setOpen] = useState<string[]>([]);
  /** After a choice the field is made anew, empty and focused. */
  const [round, setRound] = useState(0);
  const name = (id: string) => nameOf(plan, id);
  const words = text.toLowerCase();
  const shown = reach.students
    .filter((id) => !open.includes(id))
    .map((id) => ({ id, name: name(id), what: plan.people[id]?.sourcedId ?? "" }))
    .filter((one) => `${one.name} ${one.what}`.toLowerCase().includes(words))
    .slice(0, 40);
  const keep = () => {
    onChange([...sets, open]);
    setOpen([]);
  };
  return (
    <div className={styles.sets}>
      <ComboBox
        key={round}
        autoFocus={round > 0}
        className={kit.field as string}
        items={shown}
        inputValue={text}
        onInputChange={setText}
        value={null}
        onChange={(key) => {
          if (key !== null) setOpen([...open, String(key)]);
          setText("");
          setRound(round + 1);
        }}
        allowsEmptyCollection
      >
        <Label className={kit.label}>{label}</Label>
        <Input className={kit.input} placeholder={open.length === 0 ? "Type a name" : "Type the next name"} />
        <Popover className={kit.popover as string}>
          <ListBox
            className={kit.list as string}
            renderEmptyState={() => <div className={kit.option}>Nobody is called that.</div>}
          >
            {(one: (typeof shown)[number]) => (
              <ListBoxItem id={one.id} textValue={one.name} className={kit.option as string}>
                {one.name}
                <span className={kit.aside}>{one.what}</span>
              </ListBoxItem>
            )}
          </ListBox>
        </Popover>
      </ComboBox>
      {open.length > 0 && (
        <div className={styles.open}>
          <span className={kit.chips}>
            {open.map((id) => (
              <Chip key={id} name={name(id)} onLeaveOut={() => setOpen(open.filter((other) => other !== id))} />
            ))}
          </span>
          <Button isDisabled={open.length < 2} onPress={keep}>
            {verb} these {open.length}
          </Button>
        </div>
      )}
      {sets.length > 0 && (
        <ul className={styles.kept}>
          {sets.map((set) => (
            <li key={set.join()}>
              {set.map(name).join(", ")}
              <AriaButton
                className={kit.remove as string}
                aria-label={`Drop: ${verb.toLowerCase()} ${set.map(name).join(", ")}`}
                onPress={() => onChange(sets.filter((other) => other !== set))}
              >
                <X size={14} aria-hidden />
              </AriaButton>
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}
