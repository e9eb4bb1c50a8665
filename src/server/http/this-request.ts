/** The request that is being answered: its id, and in whose locale its answer is written. */
import { AsyncLocalStorage } from "node:async_hooks";
import { randomBytes } from "node:crypto";
import { askLocaleBy, type LocaleSetting } from "../../core/text/locale.ts";

const running = new AsyncLocalStorage<{ id: string; locale: LocaleSetting | null }>();

/** It stands in every line of the log, and on the page of a failure; null where nothing is answered. */
export const requestId = (): string | null => running.getStore()?.id ?? null;

askLocaleBy(() => running.getStore()?.locale ?? null);
/** From now on the answer is written for a reader of this locale. */
export function answerIn(locale: LocaleSetting): void {
  const request = running.getStore();
  if (request) request.locale = locale;
}

/** A proxy of ours may have named the request: its log and ours then say the same. Nobody else is believed. */
export function idFor(request: Request, proxies: number): string {
  const said = proxies > 0 ? (request.headers.get("x-request-id") ?? "") : "";
  return /^[A-Za-z0-9_-]{8,64}$/.test(said) ? said : randomBytes(8).toString("hex");
}

export const withRequestId = <Result>(id: string, work: () => Promise<Result>): Promise<Result> =>
  running.run({ id, locale: null }, work);
