import { Fetched, partOf } from "./fetched.tsx";
import type { RichTextProps } from "./RichText.tsx";

const editor = partOf(async () => (await import("./RichText.tsx")).RichText);

/** The editor of texts where it stands on a page of many parts: it is heavier than most of them together. */
export const RichTextField = (props: RichTextProps) => <Fetched part={editor} props={props} />;
