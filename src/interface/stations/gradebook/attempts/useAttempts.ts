/** The attempts on an item as the server has them, asked again while some run; and what staff do with them. */
import { useCallback, useEffect, useState } from "react";
import * as api from "../../../../api/attempts.ts";
import { useWorkbench } from "../../../workbench/context.tsx";
import { ask, isFailure } from "../../../workbench/fetch.ts";

/** How long it is waited before it is asked again, while somebody works and while nobody does; milliseconds. */
const wait = { running: 5000, idle: 30_000 };

export interface Attempts {
  /** Null until they are there. */
  rows: api.AttemptRows | null;
  act(attemptIds: string[], act: api.AttemptAct): Promise<number>;
  refresh(): void;
}

export function useAttempts(itemId: string | null): Attempts {
  const { store } = useWorkbench();
  const [found, setFound] = useState<{ itemId: string; rows: api.AttemptRows } | null>(null);
  const [asked, setAsked] = useState(0);
  const refresh = useCallback(() => setAsked((times) => times + 1), []);
  useEffect(() => {
    // Asked anew whenever somebody did something.
    void asked;
    if (itemId === null) return;
    let isLatest = true;
    let timer: ReturnType<typeof setTimeout> | undefined;
    const read = async () => {
      const answer = await ask(store.address, api.readAttempts, { params: { item: itemId } });
      if (!isLatest) return;
      if (isFailure(answer)) store.tell("wrong", answer.detail);
      else setFound({ itemId, rows: answer });
      const runs = !isFailure(answer) && answer.attempts.some(({ endedAt }) => endedAt === null);
      timer = setTimeout(() => void read(), runs ? wait.running : wait.idle);
    };
    void read();
    return () => {
      isLatest = false;
      clearTimeout(timer);
    };
  }, [store, itemId, asked]);
  const act = useCallback(
    async (attemptIds: string[], what: api.AttemptAct) => {
      const params = { item: itemId ?? "" };
      const answer = await ask(store.address, api.actOnAttempts, { params, body: { attemptIds, act: what } });
      if (isFailure(answer)) {
        store.tell("wrong", answer.detail);
        return 0;
      }
      refresh();
      return answer.done;
    },
    [store, itemId, refresh],
  );
  return { rows: found?.itemId === itemId ? found.rows : null, act, refresh };
}

/**
 * The questions of an item and what they earned, asked again where an attempt ended, was opened again or is marked
 * otherwise; null until they are there.
 */
export function useQuestions(itemId: string, attempts: api.AttemptRow[]): api.QuestionRows | null {
  const { store } = useWorkbench();
  const [found, setFound] = useState<{ itemId: string; rows: api.QuestionRows } | null>(null);
  const ends = attempts
    .map(({ id, endedAt, endedHow, points }) => [id, endedAt, endedHow, points].join(" "))
    .join("\n");
  useEffect(() => {
    // What attempts came to decides when it is asked again.
    void ends;
    let isLatest = true;
    void ask(store.address, api.readQuestions, { params: { item: itemId } }).then((answer) => {
      if (!isLatest) return;
      if (isFailure(answer)) store.tell("wrong", answer.detail);
      else setFound({ itemId, rows: answer });
    });
    return () => {
      isLatest = false;
    };
  }, [store, itemId, ends]);
  return found?.itemId === itemId ? found.rows : null;
}

/** The answers of a holder, or to a question, of attempts that ended; null until they are there. */
export function useAnswers(itemId: string, query: { holder?: string; question?: string }) {
  const { store } = useWorkbench();
  const { holder, question } = query;
  const key = `${itemId}/${holder}/${question}`;
  const [found, setFound] = useState<{ key: string; answers: api.AnswerRow[] } | null>(null);
  const read = useCallback(async () => {
    const asked = { ...(holder ? { holder } : {}), ...(question ? { question } : {}) };
    const answer = await ask(store.address, api.readAnswers, { params: { item: itemId }, query: asked });
    if (isFailure(answer)) store.tell("wrong", answer.detail);
    else setFound({ key, answers: answer });
  }, [store, itemId, holder, question, key]);
  useEffect(() => void read(), [read]);
  const give = useCallback(
    async (answer: api.AnswerRow, points: number | null) => {
      const marks = [{ attemptId: answer.attemptId, questionId: answer.questionId, points }];
      const stored = await ask(store.address, api.markAnswers, { params: { item: itemId }, body: { marks } });
      if (isFailure(stored)) store.tell("wrong", stored.detail);
      await read();
    },
    [store, itemId, read],
  );
  return { answers: found?.key === key ? found.answers : null, give };
}
