import { useMemo, useState } from "react";
import { ComboBox, Input, Label, ListBox, ListBoxItem, Popover } from "react-aria-components";
import { fullName } from "../../../../core/plan/lookup.ts";
import { useBench } from "../../../bench/context.tsx";
import kit from "../../../kit/controls.module.css";
import { holdsWords } from "../../../kit/words.ts";

interface PersonProps {
  label: string;
  personId: string | null;
  onChange(personId: string | null): void;
}

/** One student of the course, found by typing a part of a name or an id. */
export function Person({ label, personId, onChange }: PersonProps) {
  const { plan, reach } = useBench();
  const chosen = personId ? plan.people[personId] : undefined;
  const [text, setText] = useState(chosen ? fullName(chosen) : "");
  const items = useMemo(() => {
    const fits = holdsWords(chosen && text === fullName(chosen) ? "" : text);
    const found: { id: string; name: string; what: string }[] = [];
    for (const id of reach.students) {
      const person = plan.people[id];
      if (!person || !fits(`${fullName(person)} ${person.sourcedId} ${person.username ?? ""}`)) continue;
      found.push({ id, name: fullName(person), what: person.sourcedId });
      if (found.length === 40) break;
    }
    return found;
  }, [plan.people, reach.students, text, chosen]);
  return (
    <ComboBox
      className={kit.field as string}
      items={items}
      inputValue={text}
      onInputChange={setText}
      value={personId}
      onChange={(key) => {
        const id = key === null ? null : String(key);
        onChange(id);
        const person = id ? plan.people[id] : undefined;
        if (person) setText(fullName(person));
      }}
      menuTrigger="focus"
      allowsEmptyCollection
    >
      <Label className={kit.label}>{label}</Label>
      <Input className={kit.input} placeholder="Type a name or an id" />
      <Popover className={kit.popover as string}>
        <ListBox
          className={kit.list as string}
          renderEmptyState={() => <div className={kit.option}>Nobody is called that.</div>}
        >
          {({ id, name, what }: (typeof items)[number]) => (
            <ListBoxItem id={id} textValue={name} className={kit.option as string}>
              {name}
              <span className={kit.aside}>{what}</span>
            </ListBoxItem>
          )}
        </ListBox>
      </Popover>
    </ComboBox>
  );
}
