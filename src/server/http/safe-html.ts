/** Text that somebody wrote for others, as safe HTML. */
import sanitize from "sanitize-html";

/** The words of such a text, a paragraph a line. */
export const textOf = (html: string): string =>
  sanitize(html.replace(/<\/(p|li|h3)>/g, "\n"), { allowedTags: [], allowedAttributes: {} })
    .replace(/&amp;/g, "&")
    .replace(/&lt;/g, "<")
    .replace(/&gt;/g, ">")
    .trim();

/** Only what the editor makes: paragraphs, emphasis, lists, headings and links that lead out. */
export const safeHtml = (html: string): string =>
  sanitize(html, {
    allowedTags: ["p", "br", "strong", "em", "ul", "ol", "li", "a", "h3"],
    allowedAttributes: { a: ["href", "rel"] },
    allowedSchemes: ["https", "http", "mailto"],
    transformTags: { a: sanitize.simpleTransform("a", { rel: "noreferrer" }) },
  });
