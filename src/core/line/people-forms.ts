/** Forms about people: into a group and out of it, a message, a look. */
import { intoGroup } from "../placement/groups/into-group.ts";
import { after, done, type Form } from "./form.ts";
import {
  groupNamed,
  isNotUnderstood,
  type LineContext,
  layerNamed,
  type NotUnderstood,
  targetsNamed,
} from "./names.ts";

/** The people that a text names, and nobody else. */
function peopleNamed(context: LineContext, text: string): string[] | NotUnderstood {
  const targets = targetsNamed(context, text);
  if (isNotUnderstood(targets)) return targets;
  const personIds = targets.flatMap(({ kind, id }) => (kind === "person" ? [id] : []));
  return personIds.length === targets.length
    ? personIds
    : { word: text, says: "Only people are placed by a line.", could: [] };
}

export const placeForm: Form = {
  example: "00240037 into Day 2",
  says: "people into a group; with “out of” they leave it",
  words: ["into", "place", "group"],
  read(text, context) {
    const both = /^(.+?)\s+(into|to|out of)\s+(.+)$/i.exec(text);
    if (!both || /^(write|message|rename|move|look)\b/i.test(text)) return null;
    const group = groupNamed(context, both[3] as string);
    const personIds = peopleNamed(context, both[1] as string);
    if (isNotUnderstood(personIds)) return isNotUnderstood(group) ? null : personIds;
    if (isNotUnderstood(group)) return group;
    const kind = both[2]?.toLowerCase() === "out of" ? "placement.remove" : "placement.place";
    return done({ kind, groupId: group.id, personIds });
  },
};

export const groupForm: Form = {
  example: "new group Study room of 00240037, 00240074",
  says: "people become a group of a private layer, with a page; or, with “in Teams” at the end, of that layer",
  words: ["group", "new", "into", "form"],
  read(text, context, id) {
    const rest = after(text, "new group", "group");
    const both = rest === null ? null : /^(.+?)\s+(?:of|for|with)\s+(.+)$/i.exec(rest);
    if (!both) return null;
    const [, name = "", who = ""] = both;
    const [, names = who, within] = /^(.+)\s+in\s+(.+)$/i.exec(who) ?? [];
    const layer = within === undefined ? null : layerNamed(context, within);
    if (layer && isNotUnderstood(layer)) return layer;
    const personIds = peopleNamed(context, names.replaceAll(/\s+and\s+/gi, ", "));
    if (isNotUnderstood(personIds)) return personIds;
    const made = layer ? { id: layer.id } : { name, rule: "any number" as const, isPrivate: true, withPage: true };
    return { commands: intoGroup(context.plan, { layer: made, group: { name }, personIds }, id).commands };
  },
};

export const writeForm: Form = {
  example: "write to Evening: The room has changed.",
  says: "begins a message, with its text if you like",
  words: ["write", "message", "mail", "email", "letter", "announce", "notify"],
  read(text, context) {
    const rest = after(text, "write to", "message to", "message", "mail to", "e-?mail");
    if (rest === null) return null;
    const [, names = rest, body = ""] = /^(.+?):\s+(.+)$/.exec(rest) ?? [];
    const to = targetsNamed(context, names.replaceAll(/\s+and\s+/gi, ", "));
    return isNotUnderstood(to) ? to : { way: { kind: "write", to, body } };
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
