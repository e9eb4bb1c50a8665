/**
 * The filter language: text to a tree and back. Terms `field:value` and `field<number` side by side for and,
 * `or`, `not`, parentheses, quotes; a bare word looks in names. Source: semantics.md section 7.
 */
export type Comparison = "<" | "<=" | ">" | ">=" | "=";
export type Filter =
  | { kind: "all" }
  | { kind: "and" | "or"; parts: Filter[] }
  | { kind: "not"; part: Filter }
  /** `group:"D1"`, `status@"Report":missing`, a bare word (field `name`), an attribute by its own name. */
  | { kind: "is"; field: string; item: string | null; value: string }
  | {
      kind: "compare";
      field: "mark" | "total";
      item: string | null;
      comparison: Comparison;
      value: number;
    }
  | { kind: "flag"; field: "late" | "unplaced" | "held"; item: string | null; value: string }
  /** Membership as it stood then: `2026-10-01` (its end), `2026-10-01T17:00`, or at a hand-in; over the terms beside it. */
  | { kind: "asof"; at: string };

export interface FilterMistake {
  mistake: true;
  /** Characters from the start of the text. */
  position: number;
  says: string;
}

/** What a filter can name, and by which word a mistake about it speaks. */
export type FilterName = "field" | "group" | "section" | "set" | "layer" | "item" | "status";
/** What a course has of each; `unknown` says what is wrong with a name, null where there is something of that name. */
export interface FilterNames {
  unknown(kind: FilterName, name: string): string | null;
}
const anyName: FilterNames = { unknown: () => null };

const flags = new Set(["late", "unplaced", "held"]);
interface Token {
  kind: "word" | "text" | "(" | ")" | ":" | "@" | Comparison;
  value: string;
  position: number;
  /** No space before it: `field:value` is one term. */
  joined: boolean;
}

class Mistake extends Error {
  constructor(
    readonly position: number,
    says: string,
  ) {
    super(says);
  }
}

function tokenise(text: string): Token[] {
  const tokens: Token[] = [];
  const pattern = /\s*(?:"((?:[^"\\]|\\.)*)"|(<=|>=|[()<>=:@])|([^\s()<>=:@"]+)|(\S))/gy;
  for (let match = pattern.exec(text); match; match = pattern.exec(text)) {
    const [whole, quoted, sign, word, wrong] = match;
    const position = match.index + whole.length - whole.trimStart().length;
    const joined = position === match.index && match.index > 0;
    if (wrong) throw new Mistake(position, "this quote is not closed");
    if (quoted !== undefined) tokens.push({ kind: "text", value: quoted.replace(/\\(.)/g, "$1"), position, joined });
    else if (sign) tokens.push({ kind: sign as Token["kind"], value: sign, position, joined });
    else tokens.push({ kind: "word", value: word as string, position, joined });
  }
  return tokens;
}

class Parser {
  private at = 0;
  constructor(
    private readonly tokens: Token[],
    private readonly length: number,
    private readonly names: FilterNames,
  ) {}

  private peek = (): Token | undefined => this.tokens[this.at];
  private position = (): number => this.peek()?.position ?? this.length;
  private isWord = (word: string): boolean => this.peek()?.kind === "word" && this.peek()?.value.toLowerCase() === word;
  private take(kind: Token["kind"]): Token | undefined {
    const token = this.peek();
    if (token?.kind !== kind) return undefined;
    this.at++;
    return token;
  }

  whole(): Filter {
    if (this.tokens.length === 0) return { kind: "all" };
    const filter = this.either();
    if (this.peek())
      throw new Mistake(this.position(), `"${this.peek()?.value}" stands where a term or the end was expected`);
    return filter;
  }
  private either(): Filter {
    const parts = [this.both()];
    while (this.isWord("or")) {
      this.at++;
      parts.push(this.both());
    }
    return parts.length === 1 ? (parts[0] as Filter) : { kind: "or", parts };
  }
  private both(): Filter {
    const parts = [this.one()];
    while (this.peek() && !this.isWord("or") && this.peek()?.kind !== ")") {
      if (this.isWord("and")) this.at++;
      const at = this.position();
      const part = this.one();
      if (part.kind === "asof" && parts.some(({ kind }) => kind === "asof"))
        throw new Mistake(at, "a second asof stands beside the first: put each in parentheses with its own terms");
      parts.push(part);
    }
    return parts.length === 1 ? (parts[0] as Filter) : { kind: "and", parts };
  }
  private one(): Filter {
    if (this.isWord("not")) {
      this.at++;
      return { kind: "not", part: this.one() };
    }
    if (this.take("(")) {
      const inside = this.either();
      if (!this.take(")")) throw new Mistake(this.position(), "a closing parenthesis was expected");
      return inside;
    }
    return this.term();
  }
  private term(): Filter {
    const head = this.take("word") ?? this.take("text");
    if (!head || (head.kind === "word" && head.value.toLowerCase() === "or")) {
      throw new Mistake(head?.position ?? this.position(), "a term such as group:D1 or a name was expected");
    }
    const field = head.kind === "word" ? head.value.toLowerCase() : head.value;
    const item = this.take("@") ? this.named("item", this.place(`an item after ${field}@`)) : null;
    if (this.take(":")) return this.valued(head, field, item);
    const sign = (["<=", ">=", "<", ">", "="] as const).find((kind) => this.peek()?.kind === kind);
    if (sign) return this.compared(head, field, item, sign);
    if (head.kind === "word" && flags.has(field)) return { kind: "flag", field: field as "late", item, value: "yes" };
    if (item !== null) throw new Mistake(this.position(), `":" or a comparison was expected after ${field}@`);
    return { kind: "is", field: "name", item: null, value: head.value };
  }
  /** The rest of a term after `field:`. */
  private valued(head: Token, field: string, item: string | null): Filter {
    const { value, position } = this.place(`a value after ${field}:`);
    if (field === "asof") return { kind: "asof", at: momentOf(value, position) };
    if (flags.has(field)) {
      if (!/^(yes|no)$/i.test(value)) {
        if (field === "late") throw new Mistake(position, `yes or no was expected after late:, not "${value}"`);
        this.named("layer", { value, position });
      }
      return { kind: "flag", field: field as "late", item, value };
    }
    if (field === "mark" || field === "total")
      throw new Mistake(head.position, `${field} is compared, as in ${field === "mark" ? 'mark@"Lab 1"' : field}<50`);
    if (!known.has(field)) this.named("field", head);
    else if (field !== "name") this.named(field as FilterName, { value, position });
    return { kind: "is", field: known.has(field) ? field : head.value, item, value };
  }
  /** The rest of a term after a sign that compares. */
  private compared(head: Token, field: string, item: string | null, sign: Comparison): Filter {
    this.at++;
    const { value: text, position } = this.place(`a number after ${field}${sign}`);
    const number = Number(text.replace(/\s*%$/, ""));
    if (!Number.isFinite(number)) throw new Mistake(position, `a number was expected, not "${text}"`);
    if (field !== "mark" && field !== "total")
      throw new Mistake(head.position, `only mark and total are compared; write ${field}:value`);
    if (field === "mark" && item === null)
      throw new Mistake(head.position, 'mark is compared in one column: name it, as in mark@"Lab 1"<50');
    return { kind: "compare", field, item, comparison: sign, value: number };
  }
  /** A name that something must bear. */
  private named(kind: FilterName, { value, position }: { value: string; position: number }): string {
    const trouble = this.names.unknown(kind, value);
    if (trouble !== null) throw new Mistake(position, trouble);
    return value;
  }
  private place(expected: string): { value: string; position: number } {
    const token = this.take("word") ?? this.take("text");
    if (!token) throw new Mistake(this.position(), `${expected} was expected`);
    return token;
  }
}

const known = new Set(["group", "layer", "section", "name", "status", "set"]);

/** A day, a day with a time, or "handin", as it is kept. */
function momentOf(value: string, position: number): string {
  if (/^hand-?in$/i.test(value)) return "handin";
  const found = /^(\d{4}-\d{2}-\d{2})(?:[T ](\d{2}:\d{2}))?$/.exec(value);
  const day = found?.[1] ?? "";
  const midnight = new Date(`${day}T00:00Z`);
  const real = !Number.isNaN(midnight.getTime()) && midnight.toISOString().startsWith(day);
  const time = found?.[2];
  if (!real || (time && time > "23:59"))
    throw new Mistake(
      position,
      `a day such as 2026-10-01, with a time or without, or handin was expected, not "${value}"`,
    );
  return time ? `${day}T${time}` : day;
}

/** The tree of a text, or the first mistake in it. Without `names` any name is taken for one that there is. */
export function parseFilter(text: string, names: FilterNames = anyName): Filter | FilterMistake {
  try {
    return new Parser(tokenise(text), text.length, names).whole();
  } catch (error) {
    if (error instanceof Mistake) return { mistake: true, position: error.position, says: error.message };
    throw error;
  }
}

const reserved = /^(or|and|not|late|unplaced|held)$/i;
/** A name as a filter writes it: in quotes where it needs them. */
export const quote = (text: string) =>
  /^[^\s()<>=:@"]+$/.test(text) && !reserved.test(text) ? text : `"${text.replace(/["\\]/g, "\\$&")}"`;
const at = (item: string | null) => (item === null ? "" : `@${quote(item)}`);

/** The text of a filter; parsing it gives the filter again. */
export function printFilter(filter: Filter): string {
  switch (filter.kind) {
    case "all":
      return "";
    case "asof":
      return `asof:${quote(filter.at)}`;
    case "and":
      return filter.parts
        .map((part) => (part.kind === "or" || part.kind === "and" ? `(${printFilter(part)})` : printFilter(part)))
        .join(" ");
    case "or":
      return filter.parts
        .map((part) => (part.kind === "or" ? `(${printFilter(part)})` : printFilter(part)))
        .join(" or ");
    case "not":
      return filter.part.kind === "and" || filter.part.kind === "or"
        ? `not (${printFilter(filter.part)})`
        : `not ${printFilter(filter.part)}`;
    case "is":
      return filter.field === "name" && filter.item === null
        ? quote(filter.value)
        : `${quote(filter.field)}${at(filter.item)}:${quote(filter.value)}`;
    case "compare":
      return `${filter.field}${at(filter.item)}${filter.comparison}${filter.value}`;
    case "flag":
      return filter.item === null && filter.value === "yes"
        ? filter.field
        : `${filter.field}${at(filter.item)}:${quote(filter.value)}`;
  }
}

export const isMistake = (value: Filter | FilterMistake): value is FilterMistake => "mistake" in value;
