import type { PersonCard } from "../../../core/intake/commands.ts";
import { TextField } from "../../kit/Fields.tsx";
import styles from "./intake.module.css";

/** Somebody who is not in the directory, as they are typed. */
export function TypedPerson({ card, onChange }: { card: PersonCard; onChange(card: PersonCard): void }) {
  return (
    <div className={styles.typed}>
      <TextField
        label="Registrar's id"
        value={card.sourcedId}
        onChange={(sourcedId) => onChange({ ...card, sourcedId })}
      />
      <TextField
        label="Family name"
        value={card.familyName}
        onChange={(familyName) => onChange({ ...card, familyName })}
      />
      <TextField label="Given name" value={card.givenName} onChange={(givenName) => onChange({ ...card, givenName })} />
      <TextField
        label="E-mail"
        value={card.email ?? ""}
        onChange={(email) => onChange({ ...card, email: email || null })}
      />
    </div>
  );
}
