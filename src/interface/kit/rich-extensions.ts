/** What the editor of texts can make: no more than `core/text/rich-text.ts` keeps, which a test holds it to. */
import Image from "@tiptap/extension-image";
import { TableKit } from "@tiptap/extension-table";
import StarterKit from "@tiptap/starter-kit";

export const richExtensions = [
  StarterKit.configure({
    heading: { levels: [3, 4] },
    codeBlock: false,
    blockquote: false,
    link: { openOnClick: false },
  }),
  TableKit.configure({ table: { resizable: false } }),
  Image.extend({
    // A picture has an address and words for whoever does not see it, and nothing else.
    addAttributes: () => ({ src: { default: null }, alt: { default: null } }),
  }),
];
