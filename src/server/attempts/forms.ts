/** What a student's forms about attempts send: the beginning, a file, answers where no script runs, the hand-in. */
import type { NewAnswer } from "../../api/attempts.ts";
import type { Answer } from "../../core/attempts/marking.ts";
import type { Question } from "../../core/plan/questions.ts";
import { plural } from "../../core/text/plural.ts";
import { countQuizTry, forgetQuizTries } from "../accounts/sign-in-tries.ts";
import { now } from "../clock.ts";
import type { SentForm } from "../http/body.ts";
import type { CourseAccess } from "../http/guard.ts";
import { keepFile, type Refused } from "../student/student-work.ts";
import { type Attempt, answersOf } from "./rows.ts";
import { type BeginAnswer, begin, handIn, ownAttempts, type Place, placeOf, save } from "./working.ts";

/** Begins an attempt where a form asks for it; null where it asks for something else. */
export async function takeBegin(
  view: Parameters<typeof placeOf>[0],
  itemId: string,
  form: FormData,
): Promise<"begun" | "not theirs" | Refused | null> {
  if (!form.has("begin")) return null;
  const place = placeOf(view, itemId);
  if (!place) return "not theirs";
  const answer = await tryToBegin(place, String(form.get("word") ?? ""));
  return "failure" in answer ? { failure: answer.failure, text: "", thread: null } : "begun";
}

/** Begins with what was typed as its password: whoever guesses waits longer each time. */
async function tryToBegin(place: Place, word: string): Promise<BeginAnswer> {
  const { item, personId, limits } = place;
  if (limits.accessWord === null || word.trim() === "") return begin(place, word);
  const { wait } = await countQuizTry(item.id, personId, now());
  if (wait > 0) {
    const failure = `That was tried several times. Try again in ${plural(wait, "second")}; nothing has begun.`;
    return { failure };
  }
  const answer = await begin(place, word);
  if ("attempt" in answer) await forgetQuizTries(item.id, personId);
  return answer;
}

/** The attempt that runs, for whoever looks; null where none does. */
export async function runningOf(place: Place): Promise<Attempt | null> {
  const t = now();
  const attempts = await ownAttempts(place);
  return attempts.find(({ endedAt, endsAt }) => endedAt === null && (endsAt === null || endsAt > t)) ?? null;
}

/** An answer as a form's fields say it; null where the form says nothing of the question. */
export function answerIn(form: FormData, { id, kind }: Question): Answer | null {
  if (kind === "file") return null;
  const given = form.getAll(`answer ${id}`).map(String);
  if (kind === "several") return given.filter(Boolean);
  return given[0] ?? null;
}

/** The answers of a form, each as the one after that which the form was shown with. */
const answersIn = (form: FormData, { paper }: Attempt): NewAnswer[] =>
  paper.questions.flatMap((question) => {
    const answer = answerIn(form, question);
    const shown = Number(form.get(`sequence ${question.id}`) ?? Number.NaN);
    return answer === null || !Number.isSafeInteger(shown)
      ? []
      : [{ questionId: question.id, answer, sequence: shown + 1 }];
  });

export type AttemptAnswer = "saved" | "handed in" | "not theirs" | { failure: string };

/** Takes what the page of an attempt sends: what was answered, then a file or the hand-in. */
export async function takeAttempt(
  access: CourseAccess,
  accountId: string,
  place: Place,
  attempt: Attempt,
  { form, file }: SentForm,
): Promise<AttemptAnswer> {
  const saved = await save(place, attempt.id, answersIn(form, attempt));
  if (!saved) return "not theirs";
  const fileFor = attempt.paper.questions.find(({ id, kind }) => kind === "file" && id === form.get("file for"));
  if (fileFor) {
    if (!file) return { failure: "Choose a file first." };
    if (saved.over) return { failure: "The time was up before the file was here. It was not taken." };
    const kept = await keepFile(access, accountId, file);
    if ("trouble" in kept) return { failure: `${kept.trouble} The file was not taken.` };
    const before = (await answersOf([attempt.id])).find(({ questionId }) => questionId === fileFor.id)?.sequence ?? 0;
    const answer = { id: kept.fileId ?? "", name: file.name, size: file.size };
    await save(place, attempt.id, [{ questionId: fileFor.id, answer, sequence: before + 1 }]);
    return "saved";
  }
  if (!form.has("hand in")) return "saved";
  return (await handIn(place, attempt.id)) ? "handed in" : "not theirs";
}
