import { X } from "lucide-react";
import { useState } from "react";
import { Button as AriaButton } from "react-aria-components";
import { nameOf } from "../../../../core/placement/forming/input.ts";
import { Button } from "../../../kit/Button.tsx";
import { Chip } from "../../../kit/Chip.tsx";
import kit from "../../../kit/controls.module.css";
import { Finder } from "../../../kit/Finder.tsx";
import { useStudents, useWorkbench } from "../../../workbench/context.tsx";
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
  const { plan } = useWorkbench();
  const students = useStudents();
  const [text, setText] = useState("");
  const [open, setOpen] = useState<string[]>([]);
  /** After a choice the field is made anew, empty and focused. */
  const [round, setRound] = useState(0);
  const name = (id: string) => nameOf(plan, id);
  const words = text.toLowerCase();
  const shown = students
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
      <Finder
        key={round}
        label={label}
        placeholder={open.length === 0 ? "Type a name" : "Type the next name"}
        items={shown}
        text={text}
        setText={setText}
        value={null}
        onChoose={(id) => {
          if (id !== null) setOpen([...open, id]);
          setText("");
          setRound(round + 1);
        }}
        autoFocus={round > 0}
      />
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
