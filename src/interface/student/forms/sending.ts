/**
 * Sends what is kept of a form without leaving its page. Whoever goes on writing meanwhile loses nothing: what was
 * written since stays kept, as another text.
 */
import { fileIn, isWritingBeside, keptForms } from "./fields.ts";
import { clear, discard, keyOfForm, waiting } from "./keeping.ts";
import { fileOf, forget, type KeptForm, keep, keptAt, keptOf, keyOf } from "./kept-forms.ts";
import { say } from "./line.ts";
import { type Sent, send } from "./send.ts";
import { announce, plainPath, showPage } from "./show-page.ts";
import { upload } from "./upload.ts";

interface Going {
  key: string;
  kept: KeptForm;
  /** Where it stands on this page; null where it is of another. */
  form: HTMLFormElement | null;
}

/**
 * Sends what is kept of a form; only one page of a browser does. `pressed`: somebody waits for it, so that it goes after what
 * is being sent just now; else it is left to whoever sends already.
 */
export async function sendKept(key: string, form: HTMLFormElement | null, { pressed = true } = {}): Promise<void> {
  await alone(key, !pressed, async () => {
    const kept = keptAt(key);
    if (!kept) return;
    const file = kept.fileName === null ? undefined : ((form && fileIn(form)) ?? (await fileOf(key)));
    if (kept.fileName !== null && !file) {
      if (form) say(form, `Choose ${kept.fileName} again: this browser could not keep it.`, [], "alert");
      return;
    }
    const going = { key, kept, form };
    settle(going, await sendFrom(going, file));
  });
}

/** Does something after what is done of the same, or only where nothing is; a browser without locks, as without TLS, does it at once. */
const alone = async (key: string, ifAvailable: boolean, work: () => Promise<void>): Promise<void> =>
  "locks" in navigator
    ? await navigator.locks.request(key, { ifAvailable }, async (lock) => {
        if (lock) await work();
      })
    : await work();

async function sendFrom({ kept, form }: Going, file: File | undefined): Promise<Sent> {
  if (form) setBusy(form, true);
  const onProgress = (share: number) => {
    if (file && form) say(form, `Sending ${file.name}: ${Math.round(share * 100)} %`);
  };
  const sent = await sendWith(kept, file, onProgress);
  if (form) setBusy(form, false);
  return sent;
}

async function sendWith(kept: KeptForm, file: File | undefined, onProgress: (share: number) => void): Promise<Sent> {
  const data = new FormData();
  for (const [name, value] of kept.fields) data.append(name, value);
  data.append("send", kept.sendId);
  if (file) {
    const uploaded = await upload(kept, file, onProgress);
    if (uploaded.kind === "no answer") return uploaded;
    if (uploaded.kind === "whole") data.append("upload", uploaded.id);
    else data.append("file", file);
  }
  return send({ path: kept.path, data, onProgress });
}

function setBusy(form: HTMLFormElement, isBusy: boolean): void {
  for (const button of form.querySelectorAll<HTMLButtonElement>('button[type="submit"]')) button.disabled = isBusy;
  if (isBusy) say(form, "Sending");
}

/** Whether nothing was written in the form since it was sent. */
const stands = ({ key, kept }: Going): boolean => keptAt(key)?.sendId === kept.sendId;

function settle(going: Going, sent: Sent) {
  if (sent.kind === "taken") return taken(going, sent);
  const { key, form } = going;
  // As it is kept now: where its file is on its way to may have been noted meanwhile.
  const now = keptAt(key);
  if (now && stands(going)) keep({ ...now, waits: sent.kind === "no answer" });
  if (!form) return;
  if (sent.kind === "refused") return refused(form, sent);
  if (sent.kind === "no answer")
    return say(form, waiting, [{ says: "Try now", does: () => void sendKept(key, form) }, discard(form)]);
  const signIn = () => location.assign(`/sign-in?next=${encodeURIComponent(location.pathname + location.search)}`);
  say(form, "You were signed out meanwhile. Sign in again: what you wrote is kept here.", [
    { says: "Sign in", does: signIn },
  ]);
}

/** The page shows what was stored, unless somebody writes elsewhere on it: nobody's keys go astray. */
function taken(going: Going, { page, url }: Extract<Sent, { kind: "taken" }>) {
  const { key, kept, form } = going;
  const isWhole = stands(going);
  if (isWhole) forget(key);
  if (kept.path !== plainPath(location.href)) return announce(`${kept.says}, which had waited, was sent.`);
  if (isWhole && !isWritingBeside(form)) return showPage(page, url, kept.form);
  if (!form) return announce(`${kept.says} was sent.`);
  if (isWhole) clear(form);
  const show = { says: "Show the page as it is now", does: () => location.assign(url) };
  say(form, isWhole ? "Sent." : "Sent; what you wrote since is not.", [show]);
}

/** The page as it is now, with why it was refused, and what was written put back into its form. */
function refused(form: HTMLFormElement, { says, page }: Extract<Sent, { kind: "refused" }>) {
  const next = page.querySelector<HTMLElement>(`form[data-keep="${CSS.escape(form.dataset.keep ?? "")}"]`);
  if (!next || isWritingBeside(form)) return say(form, says, [], "alert");
  next.dataset.refused = "";
  showPage(page, location.href);
  const why = document.querySelector<HTMLElement>('form[data-refused] [role="alert"]');
  if (!why) return;
  why.tabIndex = -1;
  why.focus();
}

/** What waits is sent when the server may be there again, from whichever page is open. */
export function sendWaiting(account: string): void {
  for (const kept of keptOf(account).filter(({ waits }) => waits)) {
    const key = keyOf(kept);
    void sendKept(key, keptForms().find((form) => keyOfForm(form) === key) ?? null, { pressed: false });
  }
}
