import { useMemo, useState } from "react";
import { fullName } from "../../core/plan/lookup.ts";
import { type Findable, Finder } from "../kit/Finder.tsx";
import { holdsWords } from "../kit/words.ts";
import { useStudents, useWorkbench } from "../workbench/context.tsx";

interface PersonProps {
  label: string;
  personId: string | null;
  onChange(personId: string | null): void;
}

/** One student of the course, found by typing a part of a name or an id. */
export function Person({ label, personId, onChange }: PersonProps) {
  const { plan } = useWorkbench();
  const students = useStudents();
  const chosen = personId ? plan.people[personId] : undefined;
  const [text, setText] = useState(chosen ? fullName(chosen) : "");
  const items = useMemo(() => {
    const fits = holdsWords(chosen && text === fullName(chosen) ? "" : text);
    const found: Findable[] = [];
    for (const id of students) {
      const person = plan.people[id];
      if (!person || !fits(`${fullName(person)} ${person.sourcedId} ${person.username ?? ""}`)) continue;
      found.push({ id, name: fullName(person), what: person.sourcedId });
      if (found.length === 40) break;
    }
    return found;
  }, [plan.people, students, text, chosen]);
  return (
    <Finder
      label={label}
      placeholder="Type a name or an id"
      items={items}
      text={text}
      setText={setText}
      value={personId}
      onChoose={(id) => {
        onChange(id);
        const person = id ? plan.people[id] : undefined;
        if (person) setText(fullName(person));
      }}
      opensAtOnce
    />
  );
}
