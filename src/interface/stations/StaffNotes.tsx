import { useEffect, useState } from "react";
import * as api from "../../api/staff.ts";
import { cut } from "../../core/text/shorten.ts";
import { Button } from "../kit/Button.tsx";
import { TextField } from "../kit/Fields.tsx";
import { SubmitForm } from "../kit/SubmitForm.tsx";
import { useParts, useWorkbench } from "../workbench/context.tsx";
import { ask, isFailure } from "../workbench/fetch.ts";
import base from "./station.module.css";
import { Wrong } from "./Wrong.tsx";

/** What staff note for one another on an item, a group or a person. What is only drafted has none yet. */
export function StaffNotes({ kind, id, onChange }: api.NoteAbout & { onChange?: (() => void) | undefined }) {
  const { store } = useWorkbench();
  const state = useParts("published");
  const [notes, setNotes] = useState<api.StaffNote[]>([]);
  const [text, setText] = useState<string | null>(null);
  const [wrong, setWrong] = useState<string | null>(null);
  const { published } = state;
  const isThere = Boolean({ item: published.items, group: published.groups, person: published.people }[kind][id]);
  useEffect(() => {
    setNotes([]);
    setText(null);
    setWrong(null);
    if (!isThere) return;
    let wanted = true;
    void ask(store.address, api.readStaffNotes, { query: { kind, id } }).then((answer) => {
      if (wanted && !isFailure(answer)) setNotes(answer.notes);
    });
    return () => {
      wanted = false;
    };
  }, [store, kind, id, isThere]);
  if (!isThere) return null;
  const send = async (written: { body: string } | { end: string }) => {
    const answer = await ask(store.address, api.writeStaffNote, { body: { about: { kind, id }, ...written } });
    if (isFailure(answer)) return setWrong(answer.detail);
    setNotes(answer.notes);
    setText(null);
    setWrong(null);
    onChange?.();
  };
  return (
    <section className={base.notes} aria-label="Staff notes">
      <h4>Staff notes</h4>
      {notes.map((note) => (
        <div key={note.id} className={base.note}>
          <p>{note.body}</p>
          <small className={base.soft}>
            {note.name}, {note.at}
          </small>
          {note.mine && (
            <Button quiet aria-label={`Take away: ${cut(note.body, 40)}`} onPress={() => void send({ end: note.id })}>
              Take away
            </Button>
          )}
        </div>
      ))}
      {text === null ? (
        <Button quiet onPress={() => setText("")}>
          {notes.length === 0 ? "Leave a note for staff" : "Add a note"}
        </Button>
      ) : (
        <SubmitForm onSubmit={() => void send({ body: text })}>
          <TextField label="Note, for staff only" lines={3} value={text} onChange={setText} autoFocus />
          <Wrong>{wrong}</Wrong>
          <Button onPress={() => setText(null)}>Leave</Button>{" "}
          <Button strong type="submit" isDisabled={text.trim() === ""}>
            Keep the note
          </Button>
        </SubmitForm>
      )}
    </section>
  );
}
