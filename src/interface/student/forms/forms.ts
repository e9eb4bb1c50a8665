/**
 * Forms of a student's pages: what is written is kept as it is typed, over reload, back and forth, other tabs and the end
 * of a session; sending stays on the page; without a network it waits, says so, and goes by itself, once.
 * A page without scripts has the same forms, plain.
 */
import { keptForms } from "./fields.ts";
import { clear, keepChosenFile, keepForm, keyOfForm, restore } from "./keeping.ts";
import { answersOf, forget, keptAt, keptOf, keyOf } from "./kept-forms.ts";
import { say } from "./line.ts";
import { sendKept, sendWaiting } from "./sending.ts";

/** Makes the forms of the page ready, also those that come with a newer page. */
function prepareForms(): void {
  for (const form of keptForms()) {
    if (form.dataset.ready !== undefined) continue;
    form.dataset.ready = "";
    void restore(form);
    form.addEventListener("input", () => keepForm(form));
    form.addEventListener("change", ({ target }) => {
      if (target instanceof HTMLInputElement && target.type === "file") keepChosenFile(form);
    });
    form.addEventListener("submit", (event) => {
      keepForm(form);
      // Of a form with nothing in it the server says what it wants.
      if (!keptAt(keyOfForm(form))) return;
      event.preventDefault();
      void sendKept(keyOfForm(form), form);
    });
  }
}

/** What another tab wrote or sent is so here, unless it is written in here. */
function followOtherTabs({ key }: StorageEvent): void {
  const form = keptForms().find((one) => keyOfForm(one) === key);
  if (!form || key === null || form.contains(document.activeElement)) return;
  if (keptAt(key)) void restore(form);
  else clear(form);
}

/** Signing out leaves nothing of one's writing to whoever sits there next; what was not sent is told first. */
function signOut(event: SubmitEvent, form: HTMLFormElement, account: string): void {
  const kept = keptOf(account);
  const answers = answersOf(account);
  if (kept.length === 0 && answers.length === 0) return;
  if (form.dataset.told !== undefined) {
    for (const one of kept) forget(keyOf(one));
    for (const key of answers) localStorage.removeItem(key);
    return;
  }
  event.preventDefault();
  form.dataset.told = "";
  const unsent = [...kept.map(({ says }) => says), ...answers.map(() => "answers of an attempt")];
  const places = [...new Set(unsent)].join(", ");
  say(form, `Not sent yet: ${places}. Sign out again to throw it away.`);
}

/** Once a page: its forms, the network, other tabs, signing out. */
export function watchForms(): void {
  const { account } = document.body.dataset;
  if (!account) return;
  prepareForms();
  document.addEventListener("page shown", prepareForms);
  addEventListener("online", () => sendWaiting(account));
  setInterval(() => sendWaiting(account), 15_000);
  sendWaiting(account);
  addEventListener("storage", followOtherTabs);
  for (const form of document.querySelectorAll<HTMLFormElement>('form[action="/sign-out"]'))
    form.addEventListener("submit", (event) => signOut(event, form, account));
}
