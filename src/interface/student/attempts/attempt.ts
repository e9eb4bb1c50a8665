/**
 * The page of an attempt that runs: saves answers as they are given, keeps those that could not be sent until they can,
 * shows the clock by the server's time, and says what is unanswered. Without it the page's form saves and hands in by itself.
 */
import type { NewAnswer, SavedAnswers } from "../../../api/attempts.ts";
import type { Answer } from "../../../core/attempts/marking.ts";
import { plural } from "../../../core/text/plural.ts";
import { keyOfAnswers } from "../forms/kept-forms.ts";

const article = document.querySelector<HTMLElement>("[data-attempt]") as HTMLElement;
const form = article.querySelector<HTMLFormElement>("[data-answers]") as HTMLFormElement;
const attemptId = article.dataset.attempt as string;
const part = <One extends HTMLElement>(name: string): One => article.querySelector<One>(`[data-${name}]`) as One;
const questions = [...article.querySelectorAll<HTMLElement>("[data-question]")];

/** How long after a key an answer is sent, and how long after one could not be sent it is tried again; milliseconds. */
const sendAfter = 700;
const retryAfter = 3000;
/** How often the server is asked how the clock stands while nothing is written. */
const askEvery = 10_000;

const idOf = (question: HTMLElement): string => question.dataset.question as string;
const fieldsOf = (question: HTMLElement) => [
  ...question.querySelectorAll<HTMLInputElement | HTMLTextAreaElement>("[name^='answer ']"),
];
const sequenceField = (question: HTMLElement) =>
  question.querySelector<HTMLInputElement>("[name^='sequence ']") as HTMLInputElement;

const isChoice = (field: HTMLElement): field is HTMLInputElement =>
  field instanceof HTMLInputElement && (field.type === "radio" || field.type === "checkbox");

/** What a question's fields say; null where it is answered by a file, which goes by a form of its own. */
function answerIn(question: HTMLElement): Answer | null {
  const fields = fieldsOf(question);
  if (fields.length === 0) return null;
  const chosen = fields.filter((field) => field instanceof HTMLInputElement && field.checked).map(({ value }) => value);
  if (question.dataset.kind === "several") return chosen;
  return question.dataset.kind === "one" ? (chosen[0] ?? "") : (fields[0]?.value ?? "");
}
function show(question: HTMLElement, answer: Answer): void {
  for (const field of fieldsOf(question)) {
    if (isChoice(field)) field.checked = Array.isArray(answer) ? answer.includes(field.value) : answer === field.value;
    else field.value = typeof answer === "string" ? answer : "";
  }
}
const isAnswered = (question: HTMLElement): boolean => {
  const answer = answerIn(question);
  if (answer === null) return question.dataset.sent !== undefined;
  return typeof answer === "string" ? answer.trim() !== "" : (answer as string[]).length > 0;
};

/** Whether its fields say something else than they came with. */
const isChanged = (question: HTMLElement): boolean =>
  fieldsOf(question).some((field) =>
    isChoice(field) ? field.checked !== field.defaultChecked : field.value !== field.defaultValue,
  );

// What is to be sent still, by question; kept in the browser too, so that a page that is closed loses nothing.
const storageKey = keyOfAnswers(document.body.dataset.account ?? "", attemptId);
const unsent = new Map<string, NewAnswer>();
function keep(): void {
  try {
    if (unsent.size === 0) localStorage.removeItem(storageKey);
    else localStorage.setItem(storageKey, JSON.stringify([...unsent.values()]));
  } catch {
    // A browser without room keeps it in the page alone.
  }
}
function takeUp(except: HTMLElement[]): void {
  try {
    for (const one of JSON.parse(localStorage.getItem(storageKey) ?? "[]") as NewAnswer[]) {
      const question = questions.find((each) => idOf(each) === one.questionId);
      if (!question || except.includes(question)) continue;
      unsent.set(one.questionId, one);
      show(question, one.answer);
    }
  } catch {
    localStorage.removeItem(storageKey);
  }
}

let endsAt = article.dataset.ends ? Number(article.dataset.ends) : null;
let ahead = Number(article.dataset.now) - Date.now();
const begunAt = Number(article.dataset.begun);
const serverNow = (): number => Date.now() + ahead;

const state = part("state");
function say(words: string, isTrouble = false): void {
  if (state.textContent !== words) state.textContent = words;
  state.toggleAttribute("data-trouble", isTrouble);
}

let timer: ReturnType<typeof setTimeout> | undefined;
let sending: Promise<void> | null = null;
const soon = (wait: number): void => {
  timer ??= setTimeout(() => {
    timer = undefined;
    void send();
  }, wait);
};

/** Sends what is to be sent; what is answered meanwhile goes afterwards. */
function send(): Promise<void> {
  sending ??= post().finally(() => {
    sending = null;
    if (unsent.size > 0) soon(state.hasAttribute("data-trouble") ? retryAfter : sendAfter);
  });
  return sending;
}
const ended = "Your session has ended. Sign in again in another window; what you write here is kept and sent then.";
const failed = "It could not be saved. What you write is kept here, and sent as soon as it can be.";
async function post(): Promise<void> {
  const answers = [...unsent.values()];
  if (answers.length > 0) say("Saving");
  try {
    const answer = await fetch(`${location.pathname}/save`, {
      method: "POST",
      headers: { "content-type": "application/json", accept: "application/json" },
      body: JSON.stringify({ attemptId, answers }),
    });
    if (answer.ok) took(answers, (await answer.json()) as SavedAnswers);
    else if (answer.status === 404) leave();
    else say(answer.status === 401 ? ended : failed, true);
  } catch {
    say("No connection. What you write is kept here, and sent as soon as there is one.", true);
  }
}

/** Goes to the item's page. What came too late to be kept stays in no browser that others may sit at. */
function leave(): void {
  unsent.clear();
  keep();
  location.replace(article.dataset.back as string);
}

function took(answers: NewAnswer[], saved: SavedAnswers): void {
  endsAt = saved.endsAt;
  ahead = saved.now - Date.now();
  if (saved.over) {
    leave();
    return;
  }
  for (const { questionId, sequence } of answers) {
    const question = questions.find((each) => idOf(each) === questionId) as HTMLElement;
    const stands = saved.sequences[questionId] ?? saved.elsewhere[questionId]?.sequence ?? sequence;
    sequenceField(question).value = String(stands);
    const waiting = unsent.get(questionId);
    if (waiting && waiting.sequence <= sequence) unsent.delete(questionId);
    else if (waiting) unsent.set(questionId, { ...waiting, sequence: stands + 1 });
    const other = saved.elsewhere[questionId];
    if (other) sayElsewhere(question, other.answer);
  }
  keep();
  if (unsent.size === 0) say("Everything is saved.");
}

/** An answer that was given on another device stands; what was written here can be put in its place. */
function sayElsewhere(question: HTMLElement, other: Answer): void {
  const mine = answerIn(question);
  const note = question.querySelector<HTMLElement>("[data-elsewhere]") as HTMLElement;
  show(question, other);
  note.hidden = false;
  note.textContent = "This was answered elsewhere meanwhile, and that answer stands.";
  if (mine === null) return;
  const press = document.createElement("button");
  press.type = "button";
  press.dataset.quiet = "";
  press.textContent = "Put in what I wrote here";
  press.addEventListener("click", () => {
    show(question, mine);
    note.hidden = true;
    changed(question);
  });
  note.append(press);
}

function changed(question: HTMLElement): void {
  const answer = answerIn(question);
  if (answer === null) return;
  const questionId = idOf(question);
  const sent = Number(sequenceField(question).value);
  unsent.set(questionId, {
    questionId,
    answer,
    sequence: Math.max(sent, sending ? (unsent.get(questionId)?.sequence ?? 0) : 0) + 1,
  });
  keep();
  lookOver();
  if (!state.hasAttribute("data-trouble")) say("Saving");
  soon(sendAfter);
}

/** Which questions are unanswered, each a link to it. */
function lookOver(): void {
  const open = questions.flatMap((question, at) => (isAnswered(question) ? [] : [at + 1]));
  const says = part("unanswered");
  if (open.length === 0) {
    says.textContent = "Every question is answered. It cannot be changed afterwards.";
    return;
  }
  says.replaceChildren(`${plural(open.length, "question is", "questions are")} unanswered: `);
  for (const [place, at] of open.entries()) {
    const link = document.createElement("a");
    link.href = `#question-${at}`;
    link.textContent = String(at);
    says.append(...(place === 0 ? [] : [", "]), link);
  }
}

const words = (milliseconds: number): string => {
  const seconds = Math.max(0, Math.ceil(milliseconds / 1000));
  if (seconds < 120) return plural(seconds, "second");
  if (seconds < 7200) return plural(Math.ceil(seconds / 60), "minute");
  return `${plural(Math.floor(seconds / 3600), "hour")}, ${plural(Math.ceil((seconds % 3600) / 60), "minute")}`;
};
const spoken = new Set<string>();
/** The clock speaks at the half, at five minutes and at one. */
function speak(left: number, whole: number): void {
  const due = [
    { name: "half", at: whole / 2, says: "Half of the time is over." },
    { name: "five", at: 300_000, says: "Five minutes are left." },
    { name: "one", at: 60_000, says: "One minute is left." },
  ].filter(({ at }) => at < whole && left <= at);
  const last = due.at(-1);
  for (const { name } of due.slice(0, -1)) spoken.add(name);
  if (!last || spoken.has(last.name)) return;
  spoken.add(last.name);
  part("speaks").textContent = last.says;
}
let isOver = false;
function tick(): void {
  const clock = part("clock");
  clock.hidden = endsAt === null;
  if (endsAt === null) return;
  const [left, whole] = [endsAt - serverNow(), endsAt - begunAt];
  clock.style.setProperty("--left", String(Math.max(0, Math.min(1, left / whole))));
  const says = part("left");
  const text = left > 0 ? `${words(left)} left` : "The time is up. What is saved is handed in.";
  if (says.textContent !== text) says.textContent = text;
  speak(left, whole);
  if (left > 0 || isOver) return;
  isOver = true;
  // What was written in the last second goes with it; the server decides what was in time.
  void send().then(() => setTimeout(() => void send(), 500));
}

const hiding = "the clock of attempts";
function hideClock(isHidden: boolean): void {
  part("clock").toggleAttribute("data-hidden", isHidden);
  part("hide").textContent = isHidden ? "Show the clock" : "Hide the clock";
  sessionStorage.setItem(hiding, isHidden ? "hidden" : "shown");
}

// The page can be answered as soon as it is shown: what was given before this script ran is newer than what is kept.
const early = questions.filter(isChanged);
takeUp(early);
for (const question of early) changed(question);
lookOver();
hideClock(sessionStorage.getItem(hiding) === "hidden");
part("hide").addEventListener("click", () => hideClock(!part("clock").hasAttribute("data-hidden")));
part("save").hidden = true;
form.addEventListener("input", (event) => {
  const question = (event.target as HTMLElement).closest<HTMLElement>("[data-question]");
  if (question) changed(question);
});
/** Whatever leaves the page by a form goes after what is written was saved. */
for (const each of article.querySelectorAll<HTMLFormElement>("form"))
  each.addEventListener("submit", (event) => {
    if (each.dataset.saved !== undefined) return;
    event.preventDefault();
    const { submitter } = event;
    void (async () => {
      clearTimeout(timer);
      timer = undefined;
      await sending;
      if (unsent.size > 0) await send();
      if (unsent.size > 0) return;
      each.dataset.saved = "";
      // Not while the form is still being asked whether it may be sent.
      setTimeout(() => each.requestSubmit(submitter));
    })();
  });
window.addEventListener("online", () => void send());
setInterval(tick, 1000);
setInterval(() => void send(), askEvery);
tick();
if (unsent.size > 0) void send();
