/** What of an outline an archive has no words for. */
import { lookup } from "../../../plan/lookup.ts";
import { possibleIn, questionsOf } from "../../../plan/questions.ts";
import type { Item, Plan } from "../../../plan/types.ts";

export const asks = ({ quiz }: Item): boolean => quiz !== null && questionsOf(quiz).length > 0;
/** Whether its points are those of its questions: a test says no others. */
const sums = ({ quiz, points }: Item): boolean => quiz !== null && possibleIn(quiz) === points;

/** What an archive does not say of an outline, a sentence each: the standard has no place for it. */
export function leftUnsaid(plan: Plan): string[] {
  const items = Object.values(plan.items);
  const count = (says: string, of: (item: Item) => boolean): string[] => {
    const found = items.filter(of);
    return found.length === 0 ? [] : [`${says}: ${found.length === 1 ? found[0]?.title : `${found.length} items`}.`];
  };
  const { overridesOfItem } = lookup(plan);
  return [
    ...count(
      "Dates and limits",
      ({ id, dates }) => Object.values(dates).some((one) => one != null) || overridesOfItem.has(id),
    ),
    ...count("Whom it is for", ({ audience }) => audience.to !== "everyone" || audience.minus.length > 0),
    ...count("Release conditions", ({ condition, variants }) => condition !== null || variants.length > 0),
    ...count("How groups are kept apart", ({ split }) => split !== null),
    ...count(
      "That it is a quiz or an event; it goes out as a page",
      (item) => item.kind === "event" || (item.kind === "quiz" && !asks(item)),
    ),
    ...count("Which attempt counts, when answers are shown, and whether choices are mixed", asks),
    ...count(
      "Points of what is no assignment",
      (item) => item.points !== null && item.kind !== "assignment" && !(asks(item) && sums(item)),
    ),
    ...count("That it is not published", ({ published }) => !published),
  ];
}
