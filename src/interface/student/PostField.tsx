import { useState } from "react";
import { RichText } from "../kit/RichText.tsx";

/** Rich text as a field of a plain form. */
export function PostField({ label, text, name = "post" }: { label: string; text: string; name?: string }) {
  const [html, setHtml] = useState(text);
  return (
    <>
      <RichText label={label} value={text} onChange={setHtml} />
      <input type="hidden" name={name} value={html} data-was={text} />
    </>
  );
}
