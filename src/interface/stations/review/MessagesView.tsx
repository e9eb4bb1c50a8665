import { useCallback, useState } from "react";
import * as api from "../../../api/messages.ts";
import { sayInstant } from "../../../core/clock/local-time.ts";
import type { SentMessage } from "../../../core/messages/message.ts";
import { Button } from "../../kit/Button.tsx";
import { byPlace } from "../../kit/places.ts";
import { useEffectWhen } from "../../kit/when.ts";
import { plural } from "../../kit/words.ts";
import { useParts, useWorkbench, Why } from "../../workbench/context.tsx";
import { ask, isFailure } from "../../workbench/fetch.ts";
import base from "../station.module.css";
import { WriteTo } from "../WithPeople.tsx";
import styles from "./review.module.css";

/** How a message fares: how many mails arrived, wait or were refused. */
function fares({ sent, waiting, refused }: SentMessage): string {
  const parts = [
    sent > 0 && `${sent} sent`,
    waiting > 0 && `${waiting} waiting`,
    refused > 0 && `${refused} refused`,
  ].filter(Boolean);
  return parts.length > 0 ? parts.join(", ") : "notice only";
}

/** What was written to whom, and whether it arrived. */
export function MessagesView() {
  const { store, plan } = useWorkbench();
  const state = useParts("notice");
  const [found, setFound] = useState<SentMessage[] | null>(null);
  const [failure, setFailure] = useState("");
  const [chosen, setChosen] = useState<string | null>(null);
  const load = useCallback(async () => {
    const answer = await ask(store.address, api.readMessages);
    if (isFailure(answer)) setFailure(answer.detail);
    else setFound(answer);
  }, [store]);
  // Mails go out by themselves: while some wait they are looked after.
  const waits = found?.some(({ waiting }) => waiting > 0) ?? false;
  // A notice says that something was sent.
  useEffectWhen([load, waits, state.notice], () => {
    void load();
    const timer = waits ? setInterval(() => void load(), 2000) : undefined;
    return () => clearInterval(timer);
  });
  const message = found?.find(({ id }) => id === chosen);
  return (
    <>
      <div className={base.bar}>
        <WriteTo says="Write a message" always />
      </div>
      {failure && (
        <p role="alert" className={base.wrong}>
          {failure}
        </p>
      )}
      {found?.length === 0 && (
        <p className={base.soft}>
          Nothing was written yet. Write to a group, a section or people wherever they stand on the workbench, or with a
          publication.
        </p>
      )}
      {found && found.length > 0 && (
        <div className={base.scroll}>
          <table className={base.table}>
            <thead>
              <tr>
                <th>When</th>
                <th>Who</th>
                <th>Message</th>
                <th className={base.number}>To</th>
                <th>DraftMessages</th>
              </tr>
            </thead>
            <tbody>
              {found.map((one) => (
                <tr key={one.id} className={styles.journalRow} data-chosen={one.id === chosen || undefined}>
                  <td className={styles.groupCell}>{sayInstant(one.at, plan.course.timeZone)}</td>
                  <td className={styles.groupCell}>{one.by}</td>
                  <td>
                    <button
                      type="button"
                      className={base.plainButton}
                      aria-pressed={one.id === chosen}
                      onClick={() => setChosen(one.id === chosen ? null : one.id)}
                    >
                      {one.subject}
                    </button>
                  </td>
                  <td className={base.number}>{one.recipients}</td>
                  <td className={one.refused > 0 ? (base.wrong as string) : ""}>{fares(one)}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
      <Why>
        {message ? (
          <section>
            <h3 className={base.whyTitle}>{message.subject}</h3>
            {byPlace(message.body.split("\n")).map(({ key, one }) => (
              <p key={key}>{one}</p>
            ))}
            <p className={base.soft}>
              {plural(message.recipients, "person", "people")}; {message.unread} have not marked it as read in the
              course.
            </p>
            {message.error && <p className={base.wrong}>The post office said: {message.error}</p>}
            {message.waiting > 0 && message.error && <p>They are tried again by themselves.</p>}
            {message.refused > 0 && (
              <Button
                onPress={() =>
                  void ask(store.address, api.retryMessage, { params: { message: message.id } }).then(load)
                }
              >
                Try the {message.refused} again
              </Button>
            )}
          </section>
        ) : (
          <p className={base.soft}>Press a message to read it and to see whether it arrived.</p>
        )}
      </Why>
    </>
  );
}
