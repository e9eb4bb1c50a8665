/** Keeps in the browser what stands in a form, and puts it back. */
import { intlTag, readersLocale } from "../../../core/text/locale.ts";
import "../../kit/page-locale.ts";
import { v7 } from "uuid";
import { fieldsOf, fileField, fileIn, isChanged, wasOf, write, written } from "./fields.ts";
import { dropFile, fileOf, forget, type KeptForm, keep, keepFile, keptAt, keyOf } from "./kept-forms.ts";
import { type Press, say } from "./line.ts";
import { announce, plainPath } from "./show-page.ts";

const whereabouts = (form: HTMLFormElement) => ({
  account: document.body.dataset.account ?? "",
  path: plainPath(form.getAttribute("action") ?? location.href),
  form: form.dataset.keep ?? "",
});
export const keyOfForm = (form: HTMLFormElement): string => keyOf(whereabouts(form));

const isSame = (a: KeptForm["fields"], b: KeptForm["fields"]) => JSON.stringify(a) === JSON.stringify(b);

/** Keeps what stands in a form; what is as it was is not kept. `anew`: it is another work, though the words are the same. */
export function keepForm(form: HTMLFormElement, anew = false): void {
  if (form.dataset.keep === undefined) return;
  const key = keyOfForm(form);
  const before = keptAt(key);
  const fields = fieldsOf(form);
  // A file that was kept is put back a moment after the words.
  const fileName = fileIn(form)?.name ?? before?.fileName ?? null;
  if (!isChanged(form) && fileName === null) {
    if (before) forget(key);
    return;
  }
  // What may have arrived already keeps its id; another text is another.
  const same =
    !anew && before !== null && isSame(before.fields, fields) && before.fileName === fileName ? before : null;
  const kept: KeptForm = {
    ...whereabouts(form),
    says: form.dataset.says ?? "Your text",
    fields,
    sendId: same?.sendId ?? v7(),
    at: Date.now(),
    waits: same?.waits ?? false,
    fileName,
    uploadUrl: same?.uploadUrl ?? null,
  };
  if (!keep(kept)) say(form, "This browser keeps nothing, so what you write is lost if the page goes. Send it soon.");
}

/** Keeps the file that was chosen; choosing none takes the one before away. */
export function keepChosenFile(form: HTMLFormElement): void {
  const [key, file] = [keyOfForm(form), fileIn(form)];
  if (!file) dropFile(key);
  keepForm(form, true);
  if (file) void keepFile(key, file);
}

/** What is kept of a field; undefined where nothing is. For a field that is drawn after the form was made ready. */
export function keptValueOf(field: HTMLInputElement): string | undefined {
  const kept = field.form?.dataset.keep === undefined ? null : keptAt(keyOfForm(field.form));
  return kept?.fields.find(([name]) => name === field.name)?.[1];
}

export const waiting = "There is no connection. It waits here, and goes by itself when there is one again.";

/** Puts what is kept back into its form. */
export async function restore(form: HTMLFormElement): Promise<void> {
  const key = keyOfForm(form);
  const kept = keptAt(key);
  if (!kept) return;
  for (const field of written(form)) {
    const value = kept.fields.find(([name]) => name === field.name)?.[1];
    if (value !== undefined && value !== field.value) write(field, value);
  }
  const file = kept.fileName === null ? undefined : await fileOf(key);
  const chooser = fileField(form);
  if (file && chooser) {
    const list = new DataTransfer();
    list.items.add(file);
    chooser.files = list.files;
  }
  const fold = form.closest("details");
  if (fold) fold.open = true;
  // A form that comes back refused says why.
  if (form.dataset.refused !== undefined) return;
  say(form, kept.waits ? waiting : `Kept in this browser since ${sayTime(kept.at)}, and not sent yet.`, [
    discard(form),
  ]);
}
const sayTime = (at: number) =>
  new Intl.DateTimeFormat(intlTag(readersLocale()), {
    weekday: "short",
    day: "numeric",
    month: "short",
    hour: "2-digit",
    minute: "2-digit",
  }).format(at);

/** The form as the page had it. */
export function clear(form: HTMLFormElement): void {
  for (const field of written(form)) write(field, wasOf(field));
  const chooser = fileField(form);
  if (chooser) chooser.value = "";
  say(form, "");
}

export const discard = (form: HTMLFormElement): Press => ({
  says: "Throw it away",
  does() {
    forget(keyOfForm(form));
    clear(form);
    announce("Thrown away.");
  },
});
