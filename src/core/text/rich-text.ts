/** What a text that somebody writes for others may hold: one list for the editor, for what is made safe, and for archives. */

/** Tags and their attributes. */
export const richTags: Readonly<Record<string, readonly string[]>> = {
  p: [],
  br: [],
  h3: [],
  h4: [],
  strong: [],
  em: [],
  u: [],
  s: [],
  code: [],
  a: ["href"],
  ul: [],
  ol: ["start", "type"],
  li: [],
  hr: [],
  table: [],
  tbody: [],
  tr: [],
  th: ["colspan", "rowspan"],
  td: ["colspan", "rowspan"],
  img: ["src", "alt"],
};

/** Other tags that mean one of those. */
export const sameTag: Readonly<Record<string, string>> = {
  b: "strong",
  i: "em",
  del: "s",
  strike: "s",
  h1: "h3",
  h2: "h3",
  h5: "h4",
  h6: "h4",
};

/** Tags of which the words are all that there is to keep. */
const plainTags = new Set(
  "html head title meta body div span font small section article header footer main center thead tfoot colgroup col pre blockquote wbr o:p".split(
    " ",
  ),
);

/** A picture stands in a text where it is a file of a course: one from elsewhere would tell who reads what, and when. */
export const isCoursePicture = (address: string): boolean => /^\/course\/[\w-]+\/file\/[\w-]+$/.test(address);

/** What some HTML holds beside words and is not kept, by tag, each once: "video", "picture from elsewhere". */
export function notKept(html: string): string[] {
  const found = new Set<string>();
  for (const [tag, name = ""] of html.matchAll(/<([a-z][\w:-]*)\b[^>]*>/gi)) {
    const plain = name.toLowerCase();
    if (plain === "img") {
      const address = /\bsrc\s*=\s*["']?([^"'\s>]*)/i.exec(tag)?.[1] ?? "";
      if (!isCoursePicture(address)) found.add("a picture from elsewhere");
    } else if (!(plain in richTags) && !(plain in sameTag) && !plainTags.has(plain)) found.add(plain);
  }
  return [...found];
}

/** The words of an HTML text. */
export const wordsIn = (html: string): string =>
  html
    .replace(/<[^>]*>/g, " ")
    .replace(/&nbsp;/g, " ")
    .replace(/&lt;/g, "<")
    .replace(/&gt;/g, ">")
    .replace(/&quot;/g, '"')
    .replace(/&amp;/g, "&")
    .replace(/ +/g, " ")
    .trim();

/** A text as it stands in HTML or XML, in an attribute too. */
export const asMarkup = (text: string): string =>
  text.replace(/&/g, "&amp;").replace(/</g, "&lt;").replace(/>/g, "&gt;").replace(/"/g, "&quot;");
