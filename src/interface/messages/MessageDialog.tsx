/** A message to some people: written, looked at as any of them reads it, and sent now or with the publication. */
import { useMemo, useRef, useState } from "react";
import { v7 } from "uuid";
import * as api from "../../api/messages.ts";
import { blankMessage, type Message, type Recipient, recipientsOf, subjectOf } from "../../core/messages/message.ts";
import { fillPlaceholders, placeholderMistakes } from "../../core/messages/placeholders.ts";
import { fullName } from "../../core/plan/lookup.ts";
import type { Plan, Target } from "../../core/plan/types.ts";
import { Button } from "../kit/Button.tsx";
import { Actions, Dialog } from "../kit/Dialog.tsx";
import { Checkbox, TextField } from "../kit/Fields.tsx";
import { SubmitForm } from "../kit/SubmitForm.tsx";
import { plural } from "../kit/words.ts";
import base from "../stations/station.module.css";
import { Targets } from "../stations/Targets.tsx";
import { useDraftReview, useParts, useWorkbench } from "../workbench/context.tsx";
import { ask, isFailure } from "../workbench/fetch.ts";
import styles from "./messages.module.css";
import { About, ForEachReader } from "./PutIn.tsx";

export interface MessageDraft {
  to?: Target[];
  unplacedIn?: string[];
  /** What it is about. */
  itemId?: string | null;
  /** What was written of it already; its beginning is the subject. */
  body?: string;
  /** One that was written already. */
  message?: Message;
  /** Whether it is written for the publication that is reviewed. */
  withPublication?: boolean;
}

export function MessageDialog({ start, onClose }: { start: MessageDraft; onClose(): void }) {
  const { store, plan: drafted } = useWorkbench();
  const state = useParts("published", "now", "draft");
  const { parted } = useDraftReview();
  // Who it reaches: as published now, or as it will be by the publication.
  const [withPublication, setWithPublication] = useState(start.withPublication ?? false);
  const plan = withPublication ? parted.taken.plan : state.published;
  const [message, setMessage] = useState<Message>(
    () =>
      start.message ?? {
        ...blankMessage,
        id: v7(),
        subject: subjectOf(start.body ?? ""),
        body: start.body ?? "",
        to: start.to ?? [],
        unplacedIn: start.unplacedIn ?? [],
        itemId: start.itemId ?? null,
      },
  );
  const set = (changes: Partial<Message>) => setMessage({ ...message, ...changes });
  const [failure, setFailure] = useState("");
  const [sending, setSending] = useState(false);
  const field = useRef<HTMLDivElement>(null);
  const { to, unplacedIn, withStaff } = message;
  const recipients = useMemo(
    () => recipientsOf(plan, { to, unplacedIn, withStaff }, state.now),
    [plan, to, unplacedIn, withStaff, state.now],
  );
  const mistakes = [message.subject, message.body].map((text) => placeholderMistakes(plan, text)[0]);
  const insert = (placeholder: string) => {
    const area = field.current?.querySelector("textarea");
    const [from, to] = [area?.selectionStart ?? message.body.length, area?.selectionEnd ?? message.body.length];
    set({ body: message.body.slice(0, from) + placeholder + message.body.slice(to) });
    requestAnimationFrame(() => {
      area?.focus();
      area?.setSelectionRange(from + placeholder.length, from + placeholder.length);
    });
  };
  /** The button goes: what is written next has the focus, and not the first field with its list. */
  const takeAlong = () => {
    field.current?.querySelector("textarea")?.focus();
    setWithPublication(true);
  };
  const isReady =
    message.subject.trim() !== "" &&
    message.body.trim() !== "" &&
    recipients.length > 0 &&
    mistakes.every((one) => !one);
  const send = async () => {
    setSending(true);
    const answer = await ask(store.address, api.sendMessage, { body: message });
    setSending(false);
    if (isFailure(answer)) return setFailure(answer.detail);
    store.tell("done", `Written to ${plural(answer.recipients, "person", "people")}.`);
    onClose();
  };
  const keep = async () => {
    const others = state.draft.messages.filter(({ id }) => id !== message.id);
    const says = await store.keepMessages([...others, message]);
    if (says) return setFailure(says);
    onClose();
  };
  const layers = message.unplacedIn.map((id) => drafted.layers[id]?.name ?? "a removed layer");
  return (
    <Dialog title="Write a message" onClose={onClose} wide>
      <SubmitForm onSubmit={() => void (withPublication ? keep() : send())}>
        <Everybody message={message} set={set} />
        {!withPublication && <Drafted message={message} take={takeAlong} />}
        {layers.length > 0 && <p>Whoever is in no group of {layers.join(", ")}.</p>}
        <div className={base.bar}>
          <Checkbox isSelected={message.withStaff} onChange={(withStaff) => set({ withStaff })}>
            Staff of these groups and sections too
          </Checkbox>
          <Checkbox isSelected={message.from === "course"} onChange={(on) => set({ from: on ? "course" : "writer" })}>
            In the name of {plan.course.code} instead of your own
          </Checkbox>
        </div>
        <TextField
          label="Subject"
          value={message.subject}
          onChange={(subject) => set({ subject })}
          error={mistakes[0]?.says}
          autoFocus
        />
        <div ref={field}>
          <TextField
            label="Text"
            lines={6}
            value={message.body}
            onChange={(body) => set({ body })}
            error={mistakes[1] && `At character ${mistakes[1].position + 1}: ${mistakes[1].says}`}
          />
        </div>
        <ForEachReader {...{ plan, insert }}>
          <About plan={plan} itemId={message.itemId} onChange={(itemId) => set({ itemId })} />
        </ForEachReader>
        <AsItIsRead {...{ plan, message, recipients }} />
        {failure && (
          <p role="alert" className={base.wrong}>
            {failure}
          </p>
        )}
        <Actions>
          <Button onPress={onClose}>Leave</Button>
          <Button strong type="submit" isDisabled={!isReady || sending}>
            {withPublication ? "Send with the publication" : `Send to ${recipients.length}`}
          </Button>
        </Actions>
      </SubmitForm>
    </Dialog>
  );
}

interface ReadProps {
  plan: Plan;
  message: Message;
  recipients: Recipient[];
}

/** How many get it, and the text as any of them reads it. */
function AsItIsRead({ plan, message: { subject, body }, recipients }: ReadProps) {
  const state = useParts("now");
  const [which, setWhich] = useState(0);
  const [shownSubject, shownBody] = useMemo(
    () => [fillPlaceholders(plan, subject, state.now), fillPlaceholders(plan, body, state.now)],
    [plan, subject, body, state.now],
  );
  const reader = recipients[Math.min(which, recipients.length - 1)];
  const person = reader && plan.people[reader.personId];
  const without = recipients.filter(({ address }) => address === null).length;
  return (
    <section className={styles.preview} aria-label="As it is read">
      <div className={base.bar}>
        <strong>
          {plural(recipients.length, "person", "people")}, {recipients.length - without} by e-mail unless they want none
        </strong>
        {without > 0 && (
          <span className={base.soft}>{without} without an address of their own find it in the course</span>
        )}
        <span className={base.push} />
        <Button quiet isDisabled={which === 0} onPress={() => setWhich(which - 1)} aria-label="The reader before">
          ‹
        </Button>
        <span>{person ? fullName(person) : "nobody"}</span>
        <Button
          quiet
          isDisabled={which >= recipients.length - 1}
          onPress={() => setWhich(which + 1)}
          aria-label="The next reader"
        >
          ›
        </Button>
      </div>
      {reader && (
        <>
          <strong>{shownSubject(reader.personId) || "No subject yet"}</strong>
          <p>{shownBody(reader.personId) || "No text yet"}</p>
        </>
      )}
    </section>
  );
}

/** Groups that only the draft has: nobody is in them yet, and so nobody is written to. */
function Drafted({ message, take }: { message: Message; take(): void }) {
  const { plan } = useWorkbench();
  const state = useParts("published", "scope");
  const names = message.to
    .filter(({ kind, id }) => kind === "group" && plan.groups[id] && !state.published.groups[id])
    .map(({ id }) => plan.groups[id]?.name);
  if (names.length === 0) return null;
  return (
    <p className={base.wrong}>
      {names.join(", ")} {names.length === 1 ? "is" : "are"} only drafted: nobody is in{" "}
      {names.length === 1 ? "it" : "them"} until it is published.{" "}
      {state.scope === null && (
        <Button quiet onPress={take}>
          Send it with the publication
        </Button>
      )}
    </p>
  );
}

/** To whom it goes. */
function Everybody({ message: one, set: change }: { message: Message; set(changes: Partial<Message>): void }) {
  const persons = one.to.filter(({ kind }) => kind === "person");
  // A long list of names is a number; what is added stands beside it.
  if (persons.length > 12)
    return (
      <p>
        {plural(persons.length, "person", "people")} who were chosen{" "}
        <Button quiet onPress={() => change({ to: one.to.filter(({ kind }) => kind !== "person") })}>
          Take them out
        </Button>
      </p>
    );
  return <Targets label="To" targets={one.to} onChange={(to) => change({ to })} />;
}
