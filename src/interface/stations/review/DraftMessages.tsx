import { useState } from "react";
import { type Message, recipientsOf } from "../../../core/messages/message.ts";
import { Button } from "../../kit/Button.tsx";
import { plural } from "../../kit/words.ts";
import { MessageDialog, type MessageDraft } from "../../messages/MessageDialog.tsx";
import styles from "../../messages/messages.module.css";
import { useDraftReview, useParts, useWorkbench } from "../../workbench/context.tsx";
import base from "../station.module.css";

/** Messages that go out with the publication: written, looked at and counted beforehand. */
export function DraftMessages() {
  const { store } = useWorkbench();
  const state = useParts("draft", "now");
  const { parted, review } = useDraftReview();
  const { messages } = state.draft;
  const [start, setStart] = useState<MessageDraft | null>(null);
  const count = (message: Message) => recipientsOf(parted.taken.plan, message, state.now).length;
  const touched = [...review.touchedIds];
  return (
    <section aria-label="Messages with the publication">
      <h3>Messages that go out with it</h3>
      {messages.length === 0 && <p className={base.soft}>None: nobody is told but by what they see.</p>}
      <ul className={styles.messages}>
        {messages.map((message) => (
          <li key={message.id}>
            <button
              type="button"
              className={base.plainButton}
              onClick={() => setStart({ message, withPublication: true })}
            >
              {message.subject}, to {plural(count(message), "person", "people")}
            </button>
            <Button
              quiet
              aria-label={`Take out ${message.subject}`}
              onPress={() => void store.keepMessages(messages.filter(({ id }) => id !== message.id))}
            >
              Take out
            </Button>
          </li>
        ))}
      </ul>
      <Button
        isDisabled={touched.length === 0 || !review.isKnown}
        onPress={() => setStart({ to: touched.map((id) => ({ kind: "person", id })), withPublication: true })}
      >
        {review.isKnown ? `Write to the ${touched.length} touched` : "Write to those touched"}
      </Button>{" "}
      <Button quiet onPress={() => setStart({ withPublication: true })}>
        Write to others
      </Button>
      {start && <MessageDialog start={start} onClose={() => setStart(null)} />}
    </section>
  );
}
