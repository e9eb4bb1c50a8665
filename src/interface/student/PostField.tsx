import { useState } from "react";
import { RichText } from "../kit/RichText.tsx";

/** Rich text as a field of a plain form. */
export function PostField({ label, text }: { label: string; text: string }) {
  const [html, setHtml] = useState(text);
  return (
    <>
      <RichText label={label} value={text} onChange={setHtml} />
      <input type="hidden" name="post" value={html} />
    </>
  );
}
