/**
 * The forms of a typed line. Each reads a text into commands, says that a part of it is not understood, or leaves it to
 * the others. What the tray says of a change is in one of these forms, so that what one reads one can type.
 */
import { audienceForm, eachForm, newForm } from "./audience-forms.ts";
import { datesForm } from "./dates-form.ts";
import type { Form } from "./form.ts";
import { copyForm, moveForm, publishForm, removeForm, renameForm, splitForm } from "./outline-forms.ts";
import { groupForm, lookForm, placeForm, writeForm } from "./people-forms.ts";

/** In the order in which they are tried: a form with a word of its own before one that is told by what stands in it. */
export const forms: Form[] = [
  publishForm,
  splitForm,
  renameForm,
  moveForm,
  copyForm,
  removeForm,
  groupForm,
  newForm,
  writeForm,
  lookForm,
  datesForm,
  eachForm,
  audienceForm,
  placeForm,
];
