import { useEffect, useState } from "react";
import { Button } from "../kit/Button.tsx";
import { TextField } from "../kit/Fields.tsx";
import { SubmitForm } from "../kit/SubmitForm.tsx";
import { useWorkbench } from "../workbench/context.tsx";
import { getJson, isFailure, postJson } from "../workbench/fetch.ts";
import base from "./station.module.css";
import { Wrong } from "./Wrong.tsx";

interface Note {
  id: string;
  name: string;
  at: string;
  body: string;
  mine: boolean;
}
interface About {
  kind: "item" | "group" | "person";
  id: string;
}

/** What staff note for one another on an item, a group or a person. What is only drafted has none yet. */
export function StaffNotes({ kind, id }: About) {
  const { store, state } = useWorkbench();
  const [notes, setNotes] = useState<Note[]>([]);
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
    void getJson<{ notes: Note[] }>(`${store.address}/staff-notes?kind=${kind}&id=${id}`).then((answer) => {
      if (wanted && !isFailure(answer)) setNotes(answer.notes);
    });
    return () => {
      wanted = false;
    };
  }, [store, kind, id, isThere]);
  if (!isThere) return null;
  const send = async (body: object) => {
    const answer = await postJson<{ notes: Note[] }>(`${store.address}/staff-notes`, { about: { kind, id }, ...body });
    if (isFailure(answer)) return setWrong(answer.detail);
    setNotes(answer.notes);
    setText(null);
    setWrong(null);
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
            <Button
              quiet
              aria-label={`Take away: ${note.body.slice(0, 40)}`}
              onPress={() => void send({ end: note.id })}
            >
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
