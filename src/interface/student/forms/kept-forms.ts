/**
 * What somebody writes in a form of a page is kept in their browser, by account, page and form, until the server has it.
 * Texts stand in the local storage, which is written before a page can go away; files in a database of the browser.
 */
import { createStore, del, get, set } from "idb-keyval";

export interface KeptForm {
  account: string;
  /** Where it is sent: path and query of the page. */
  path: string;
  /** Which form of the page it is. */
  form: string;
  /** What is said of it in a list: "Your text". */
  says: string;
  /** Names and values of the fields that are written in, and those that go with them. */
  fields: [string, string][];
  /** So that it is stored once, however often it is sent. Another text gets another. */
  sendId: string;
  /** When it was written last, epoch milliseconds. */
  at: number;
  /** Whether it was sent and no answer came: it goes by itself when the server is there again. */
  waits: boolean;
  /** The name of the file that goes with it; null where none does. */
  fileName: string | null;
  /** Where its file is on its way to, in pieces; null where it was not begun. */
  uploadUrl: string | null;
}

const prefix = "amber kept ";
export const keyOf = ({ account, path, form }: Pick<KeptForm, "account" | "path" | "form">): string =>
  `${prefix}${account} ${path} ${form}`;

/** Whether what the browser holds of its own accord is such a form. */
function readKept(text: string | null): KeptForm | null {
  if (text === null) return null;
  try {
    const found = JSON.parse(text);
    return typeof found?.sendId === "string" && Array.isArray(found.fields) ? found : null;
  } catch {
    return null;
  }
}
export const keptAt = (key: string): KeptForm | null => readKept(localStorage.getItem(key));

/** All that an account has kept in this browser, the oldest first. */
export function keptOf(account: string): KeptForm[] {
  const mine = `${prefix}${account} `;
  return Object.keys(localStorage)
    .filter((key) => key.startsWith(mine))
    .flatMap((key) => keptAt(key) ?? [])
    .sort((a, b) => a.at - b.at);
}

/** False where the browser keeps nothing: it is full, or was told to. */
export function keep(kept: KeptForm): boolean {
  try {
    localStorage.setItem(keyOf(kept), JSON.stringify(kept));
    return true;
  } catch {
    return false;
  }
}

/** Notes where the file of a form is on its way to, unless something else was written in it since. */
export function keepUploadUrl(sent: KeptForm, uploadUrl: string | null): void {
  const kept = keptAt(keyOf(sent));
  if (kept?.sendId === sent.sendId) keep({ ...kept, uploadUrl });
}

const files = () => createStore("amber-kept", "files");
/** Keeps the file that goes with a form; a browser without room for it keeps the words alone. */
export const keepFile = (key: string, file: File): Promise<boolean> =>
  set(key, file, files()).then(
    () => true,
    () => false,
  );
export const fileOf = (key: string): Promise<File | undefined> => get<File>(key, files()).catch(() => undefined);

/** Takes the file of a form away; its words stay. */
export function dropFile(key: string): void {
  const kept = keptAt(key);
  if (kept) keep({ ...kept, fileName: null });
  void del(key, files()).catch(() => {});
}

export function forget(key: string): void {
  localStorage.removeItem(key);
  void del(key, files()).catch(() => {});
}

const answersPrefix = "amber answers ";
/** Where answers of an attempt are kept that could not be sent yet. */
export const keyOfAnswers = (account: string, attemptId: string): string => `${answersPrefix}${account} ${attemptId}`;
/** Keys of all answers that an account has kept in this browser. */
export const answersOf = (account: string): string[] =>
  Object.keys(localStorage).filter((key) => key.startsWith(`${answersPrefix}${account} `));
