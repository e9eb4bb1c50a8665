/** Forms about people: into a group and out of it, a message, a look. */
import { after, done, type Form } from "./form.ts";
import { groupNamed, isNotUnderstood, targetsNamed } from "./names.ts";

export const placeForm: Form = {
  example: "00240037 into Day 2",
  says: "into a group, or with out of from it",
  words: ["into", "place", "group"],
  read(text, context) {
    const both = /^(.+?)\s+(into|to|out of)\s+(.+)$/i.exec(text);
    if (!both || /^(write|message|rename|move|look)\b/i.test(text)) return null;
    const group = groupNamed(context, both[3] as string);
    const people = targetsNamed(context, both[1] as string);
    if (isNotUnderstood(people)) return isNotUnderstood(group) ? null : people;
    if (isNotUnderstood(group)) return group;
    const personIds = people.flatMap(({ kind, id }) => (kind === "person" ? [id] : []));
    if (personIds.length < people.length)
      return { word: both[1] as string, says: "Only people are placed by a line.", could: [] };
    const kind = both[2]?.toLowerCase() === "out of" ? "placement.remove" : "placement.place";
    return done({ kind, groupId: group.id, personIds });
  },
};

export const writeForm: Form = {
  example: "write to Evening",
  says: "begins a message",
  words: ["write", "message", "mail", "email", "letter", "announce", "notify"],
  read(text, context) {
    const names = after(text, "write to", "message to", "message", "mail to", "e-?mail");
    if (names === null) return null;
    const to = targetsNamed(context, names.replaceAll(/\s+and\s+/gi, ", "));
    return isNotUnderstood(to) ? to : { way: { kind: "write", to } };
  },
};

export const lookForm: Form = {
  example: "look as 00240037 on Friday",
  says: "the course through somebody's eyes",
  words: ["look", "view", "preview", "see", "as"],
  read(text, context) {
    const rest = after(text, "look as", "look through", "view as");
    if (rest === null) return null;
    const [, name = rest, when = ""] = /^(.+?)\s+(?:on|at)\s+(.+)$/i.exec(rest) ?? [];
    const found = targetsNamed(context, name);
    if (isNotUnderstood(found)) return found;
    const [one] = found;
    return one?.kind === "person"
      ? { way: { kind: "look", personId: one.id, when } }
      : { word: name, says: "One looks as one person.", could: [] };
  },
};
