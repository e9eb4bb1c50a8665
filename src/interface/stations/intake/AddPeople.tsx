import { useState } from "react";
import { isEmail } from "../../../core/intake/columns.ts";
import type { PersonCard } from "../../../core/intake/commands.ts";
import { compareText, fullName } from "../../../core/plan/lookup.ts";
import { Button } from "../../kit/Button.tsx";
import { Actions, Dialog } from "../../kit/Dialog.tsx";
import { Checkbox, Choice, TextField } from "../../kit/Fields.tsx";
import { useWorkbench } from "../../workbench/context.tsx";
import base from "../station.module.css";
import { Wrong } from "../Wrong.tsx";
import styles from "./intake.module.css";
import { TypedPerson } from "./TypedPerson.tsx";
import { useDirectory } from "./useDirectory.ts";

const blank: PersonCard = { sourcedId: "", username: null, email: null, givenName: "", familyName: "" };

/** Students by hand: found in the institution's directory, several at once, or typed. Drafted like any other change. */
export function AddPeople({ onClose }: { onClose(): void }) {
  const { store, plan } = useWorkbench();
  const sections = Object.values(plan.sections).sort((a, b) => compareText(a.code, b.code));
  const [text, setText] = useState("");
  const { found, trouble } = useDirectory(text);
  const [picked, setPicked] = useState<PersonCard[]>([]);
  const [typed, setTyped] = useState<PersonCard | null>(null);
  const [sectionId, setSectionId] = useState<string | null>(sections[0]?.id ?? null);
  const [wrong, setWrong] = useState<string | null>(null);
  const isPicked = (card: PersonCard) => picked.some(({ sourcedId }) => sourcedId === card.sourcedId);
  const add = () => {
    const cards = typed ? [...picked, { ...typed, sourcedId: typed.sourcedId.trim() }] : picked;
    if (cards.length === 0) return setWrong("Choose at least one person, or type one.");
    if (typed && (typed.sourcedId.trim() === "" || typed.familyName.trim() === ""))
      return setWrong("Whoever is typed needs at least the registrar's id and a family name.");
    if (typed?.email && !isEmail(typed.email)) return setWrong(`"${typed.email}" is not an e-mail address.`);
    if (store.draft([{ kind: "enrolment.add", people: cards, sectionId, role: "student" }])) onClose();
  };
  return (
    <Dialog title="Add people" onClose={onClose}>
      <TextField label="Find in the directory" hint="By name, login or id" value={text} onChange={setText} autoFocus />
      <Wrong>{trouble}</Wrong>
      <div className={styles.found}>
        {[...picked.filter((card) => !found.some(({ sourcedId }) => sourcedId === card.sourcedId)), ...found].map(
          (card) => (
            <Checkbox
              key={card.sourcedId}
              isSelected={isPicked(card)}
              onChange={(on) =>
                setPicked(on ? [...picked, card] : picked.filter(({ sourcedId }) => sourcedId !== card.sourcedId))
              }
            >
              {fullName(card)} <span className={base.soft}>{card.sourcedId}</span>
            </Checkbox>
          ),
        )}
        {text.trim().length >= 2 && found.length === 0 && !trouble && (
          <p className={base.soft}>Nobody of that name is in the directory.</p>
        )}
      </div>
      {typed ? (
        <TypedPerson card={typed} onChange={setTyped} />
      ) : (
        <Button quiet onPress={() => setTyped(blank)}>
          Type somebody who is not in the directory
        </Button>
      )}
      <div className={base.bar}>
        <Choice
          label="Add them to"
          value={sectionId ?? "none"}
          options={[
            ...sections.map(({ id, code }) => ({ value: id, label: code })),
            { value: "none", label: "The course, without a section" },
          ]}
          onChange={(id) => setSectionId(id === "none" ? null : id)}
        />
      </div>
      <Wrong>{wrong}</Wrong>
      <Actions>
        <Button onPress={onClose}>Cancel</Button>
        <Button strong onPress={add}>
          Draft {picked.length + (typed ? 1 : 0) || ""} to add
        </Button>
      </Actions>
    </Dialog>
  );
}
