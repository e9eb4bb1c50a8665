/** What is written in a form of a student's pages, and whether anything is. */

/** What a form says of itself: `data-keep` names it on its page, `data-says` to a person. */
export const keptForms = () => [...document.querySelectorAll<HTMLFormElement>("form[data-keep]")];

export type Field = HTMLInputElement | HTMLTextAreaElement;

/** Fields that are written in: texts, links, and rich text, which stands in a hidden field that says what it was. */
export const written = (form: HTMLFormElement): Field[] =>
  [...form.querySelectorAll<Field>("input, textarea")].filter(
    (field) =>
      field instanceof HTMLTextAreaElement || field.dataset.was !== undefined || /^(text|url)$/.test(field.type),
  );
export const wasOf = (field: Field): string => field.dataset.was ?? field.defaultValue;

/** Writes into a field; rich text is drawn by its own editor, which listens. */
export function write(field: Field, value: string): void {
  field.value = value;
  field.dispatchEvent(new CustomEvent("restore", { detail: value }));
}

export const fileField = (form: HTMLFormElement) => form.querySelector<HTMLInputElement>('input[type="file"]');
export const fileIn = (form: HTMLFormElement): File | undefined => fileField(form)?.files?.[0];

export const isChanged = (form: HTMLFormElement): boolean =>
  // A form that comes back refused holds what was written as if it had always stood there.
  form.dataset.refused !== undefined ||
  fileIn(form) !== undefined ||
  written(form).some((field) => field.value !== wasOf(field));

/** Names and values of all that goes with the form, but the file and the id that it is sent by. */
export const fieldsOf = (form: HTMLFormElement): [string, string][] =>
  [...new FormData(form)].flatMap(([name, value]): [string, string][] =>
    typeof value === "string" && name !== "send" ? [[name, value]] : [],
  );

/** Whether somebody is writing right now, in a form other than one. */
export function isWritingBeside(form: HTMLFormElement | null): boolean {
  const active = document.activeElement;
  const isField = active?.closest("main :is(input:not([type=submit]), textarea, [contenteditable])") ?? null;
  return isField !== null && !(form?.contains(active) ?? false);
}
