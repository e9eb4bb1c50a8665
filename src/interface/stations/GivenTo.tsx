import { useState } from "react";
import { staffAt } from "../../core/access/staff.ts";
import { fullName } from "../../core/plan/lookup.ts";
import { Chip } from "../kit/Chip.tsx";
import kit from "../kit/controls.module.css";
import { Finder } from "../kit/Finder.tsx";
import { holdsWords } from "../kit/words.ts";
import { useWorkbench } from "../workbench/context.tsx";

interface GivenToProps {
  staffIds: string[];
  onChange(staffIds: string[]): void;
}

/** Instructors and support people who are given the group: they see whoever is in it. */
export function GivenTo({ staffIds, onChange }: GivenToProps) {
  const { plan, t } = useWorkbench();
  const [text, setText] = useState("");
  /** After a choice the field is made anew, shut: its list would lie over the buttons. */
  const [round, setRound] = useState(0);
  const all = staffAt(plan, t).filter(({ role }) => role !== "coordinator");
  const fits = holdsWords(text);
  const items = all
    .map(({ person, role }) => ({ id: person.id, name: fullName(person), what: role, words: person.username ?? "" }))
    .filter(({ id, name, words, what }) => !staffIds.includes(id) && fits(`${name} ${words} ${what}`));
  if (all.length === 0) return null;
  return (
    <div>
      <Finder
        key={round}
        autoFocus={round > 0}
        label="Given to"
        placeholder="Type the name of an instructor or support person"
        items={items}
        text={text}
        setText={setText}
        value={null}
        onChoose={(id) => {
          if (id) onChange([...staffIds, id]);
          setText("");
          setRound(round + 1);
        }}
        none="Nobody of that name is on the staff."
      />
      <div className={kit.chips}>
        {staffIds.map((id) => (
          <Chip
            key={id}
            name={plan.people[id] ? fullName(plan.people[id]) : ""}
            onLeaveOut={() => onChange(staffIds.filter((one) => one !== id))}
          />
        ))}
      </div>
    </div>
  );
}
