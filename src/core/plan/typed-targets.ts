/**
 * Whom people mean by what they type or paste: names either way round, ids, logins, e-mail addresses, groups by name or
 * mark, sections by code, named sets; one a line, or several on one. Source: semantics.md sections 1 and 4.
 */
import { once } from "../memo.ts";
import { fold } from "../text/caseless.ts";
import { groupName, lookup } from "./lookup.ts";
import type { Plan, Target } from "./types.ts";

/** Part of a text that fits nobody, or several; `likely`: the few that it may mean. */
export interface Unclear {
  text: string;
  likely: Target[];
}
export interface TypedTargets {
  /** Each once, in the order of the text. */
  targets: Target[];
  unclear: Unclear[];
}

const mostLikely = 6;
const keyOf = (text: string): string => fold(text).replace(/\s+/g, " ").trim();
const same = (a: Target, b: Target) => a.kind === b.kind && a.id === b.id;

/** What is found by exactly a text, and every name that a part of a text is looked for in. */
interface Names {
  exact: Map<string, Target[]>;
  all: { target: Target; words: string }[];
}
interface Nameable {
  plan: Plan;
  personIds: readonly string[];
}

const namesOf = once(({ plan, personIds }: Nameable): Names => {
  const [exact, all]: [Names["exact"], Names["all"]] = [new Map(), []];
  const add = (target: Target, ...names: (string | null)[]) => {
    const keys = new Set(names.flatMap((name) => (name ? [keyOf(name)] : [])));
    for (const key of keys) exact.set(key, [...(exact.get(key) ?? []), target]);
    all.push({ target, words: [...keys].join(" \n ") });
  };
  for (const layer of lookup(plan).layers)
    for (const group of lookup(plan).groupsOfLayer.get(layer.id) ?? []) {
      const { id, name, label, stripe } = group;
      add({ kind: "group", id }, name, groupName(plan, group), label, stripe.mark);
    }
  for (const { id, name } of Object.values(plan.sets)) add({ kind: "set", id }, name);
  for (const { id, code } of Object.values(plan.sections)) add({ kind: "section", id }, code);
  for (const id of personIds) {
    const one = plan.people[id];
    if (!one) continue;
    const { givenName, familyName, sourcedId, username, email } = one;
    const both = [`${givenName} ${familyName}`, `${familyName}, ${givenName}`, `${familyName} ${givenName}`];
    add({ kind: "person", id }, sourcedId, username, email, ...both);
  }
  return { exact, all };
});

/** "Ada Lovelace <ada@x.example>" is the address alone. */
const bare = (text: string): string => text.match(/<([^<>]+@[^<>]+)>/)?.[1] ?? text;

/** The pieces of a line between commas or semicolons; "Lovelace, Ada" stays one where it names somebody. */
function piecesOf(line: string, isExact: (text: string) => boolean): string[] {
  const parts = line
    .split(/[,;]/)
    .map((part) => part.trim())
    .filter(Boolean);
  const pieces: string[] = [];
  for (let at = 0; at < parts.length; at++) {
    const pair = `${parts[at]}, ${parts[at + 1]}`;
    if (at + 1 < parts.length && isExact(pair)) {
      pieces.push(pair);
      at++;
    } else pieces.push(parts[at] as string);
  }
  // Ids and logins are also written with nothing but blanks between them.
  return pieces.flatMap((piece) => {
    const words = piece.split(/\s+/);
    return words.length > 1 && !isExact(piece) && words.every(isExact) ? words : [piece];
  });
}

/** Reads a text. `personIds`: who can be meant beside groups, sections and sets. */
export function readTargets(names: Nameable, text: string): TypedTargets {
  const { exact, all } = namesOf(names);
  const found: TypedTargets = { targets: [], unclear: [] };
  const exactly = (piece: string) => exact.get(keyOf(bare(piece))) ?? [];
  const isExact = (piece: string) => exactly(piece).length > 0;
  const leave = (piece: string, likely: Target[]) => {
    if (!found.unclear.some(({ text: known }) => known === piece))
      found.unclear.push({ text: piece, likely: likely.slice(0, mostLikely) });
  };
  const take = (target: Target) => {
    if (!found.targets.some((one) => same(one, target))) found.targets.push(target);
  };
  const containing = (words: string[], some: boolean) => {
    const isIn = (one: { words: string }) => (word: string) => one.words.includes(word);
    return all.filter((one) => (some ? words.some(isIn(one)) : words.every(isIn(one)))).map(({ target }) => target);
  };

  /** Whom a piece means: exact before partial; of several, or of none, those that it may mean. */
  function meantBy(piece: string): { one: Target } | { likely: Target[] } {
    const whole = exactly(piece);
    if (whole.length > 0) return whole.length === 1 ? { one: whole[0] as Target } : { likely: whole };
    const words = keyOf(bare(piece))
      .split(/[\s,]+/)
      .filter(Boolean);
    const partly = containing(words, false);
    if (partly.length === 1) return { one: partly[0] as Target };
    const long = words.filter((word) => word.length > 2);
    return { likely: partly.length > 0 ? partly : containing(long, true) };
  }
  function readPiece(piece: string): void {
    const meant = meantBy(piece);
    if ("one" in meant) take(meant.one);
    else leave(piece, meant.likely);
  }
  /** Of a row out of a spreadsheet who it is of: the other cells say more of the same person. */
  function readRow(cells: string[]): boolean {
    const people = cells.flatMap(exactly).filter(({ kind }) => kind === "person");
    const [one] = people;
    if (!one || !people.every((other) => same(one, other))) return false;
    take(one);
    return true;
  }
  for (const line of text.split(/\r\n|\r|\n/)) {
    if (line.trim() === "") continue;
    const cells = line.split("\t").map((cell) => cell.trim());
    if (cells.length > 1 && readRow(cells.filter(Boolean))) continue;
    if (isExact(line)) readPiece(line.trim());
    else for (const piece of cells.flatMap((cell) => piecesOf(cell, isExact))) readPiece(piece);
  }
  return found;
}
