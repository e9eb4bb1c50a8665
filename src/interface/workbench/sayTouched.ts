import { plural } from "../kit/words.ts";
import type { Tried } from "./useReview.ts";

/** Whom what is written would touch, in a few words. */
export const sayTouched = ({ touched, losing, withDraft }: Tried): string =>
  [
    `${withDraft ? "with the draft, touches" : "touches"} ${plural(touched, "student")}`,
    ...(losing > 0 ? [`${losing} ${losing === 1 ? "loses" : "lose"} something`] : []),
  ].join(", ");
