/** Text that somebody wrote for others, as safe HTML. */
import sanitize from "sanitize-html";
import { isCoursePicture, richTags, sameTag } from "../../core/text/rich-text.ts";

/** The words of such a text, a paragraph a line. */
export const textOf = (html: string): string =>
  sanitize(html.replace(/<\/(p|li|h[1-6]|tr)>|<(br|hr)\b[^>]*>/g, "\n"), { allowedTags: [], allowedAttributes: {} })
    .replace(/&amp;/g, "&")
    .replace(/&lt;/g, "<")
    .replace(/&gt;/g, ">")
    .trim();

/** Only what a text may hold (`core/text/rich-text.ts`), and links that lead out. */
export const safeHtml = (html: string): string =>
  sanitize(html, {
    allowedTags: Object.keys(richTags),
    allowedAttributes: {
      ...Object.fromEntries(Object.entries(richTags).map(([tag, attributes]) => [tag, [...attributes]])),
      a: ["href", "rel"],
    },
    allowedSchemes: ["https", "http", "mailto"],
    transformTags: {
      ...Object.fromEntries(Object.entries(sameTag).map(([tag, same]) => [tag, sanitize.simpleTransform(same, {})])),
      a: sanitize.simpleTransform("a", { rel: "noreferrer" }),
    },
    exclusiveFilter: ({ tag, attribs }) => tag === "img" && !isCoursePicture(attribs.src ?? ""),
  });
