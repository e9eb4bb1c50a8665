/** Text with emphasis, lists and links, written as HTML that the server makes safe before anyone reads it. */
import { EditorContent, useEditor, useEditorState } from "@tiptap/react";
import StarterKit from "@tiptap/starter-kit";
import { useId, useState } from "react";
import { Toggle } from "./Button.tsx";
import styles from "./controls.module.css";
import { TextField } from "./Fields.tsx";

interface RichTextProps {
  label: string;
  value: string;
  onChange(html: string): void;
}

export function RichText({ label, value, onChange }: RichTextProps) {
  const id = useId();
  const [link, setLink] = useState<string | null>(null);
  const editor = useEditor({
    extensions: [
      StarterKit.configure({
        heading: { levels: [3] },
        codeBlock: false,
        blockquote: false,
        link: { openOnClick: false },
      }),
    ],
    content: value,
    immediatelyRender: false,
    editorProps: { attributes: { "aria-labelledby": id, role: "textbox", "aria-multiline": "true" } },
    onUpdate: ({ editor: one }) => onChange(one.isEmpty ? "" : one.getHTML()),
  });
  const marks = useEditorState({
    editor,
    selector: ({ editor: one }) => ({
      bold: one?.isActive("bold") ?? false,
      italic: one?.isActive("italic") ?? false,
      bulletList: one?.isActive("bulletList") ?? false,
      orderedList: one?.isActive("orderedList") ?? false,
      link: one?.isActive("link") ?? false,
    }),
  });
  const put = () => {
    const address = (link ?? "").trim();
    const chain = editor?.chain().focus().extendMarkRange("link");
    if (address === "") chain?.unsetLink().run();
    else chain?.setLink({ href: /^(https?:|mailto:)/.test(address) ? address : `https://${address}` }).run();
    setLink(null);
  };
  return (
    <div className={styles.field}>
      <span id={id} className={styles.label}>
        {label}
      </span>
      <div className={styles.rich}>
        <div className={styles.richTools} role="group" aria-label={`Format of ${label}`}>
          <Toggle isSelected={marks?.bold ?? false} onChange={() => editor?.chain().focus().toggleBold().run()}>
            Bold
          </Toggle>
          <Toggle isSelected={marks?.italic ?? false} onChange={() => editor?.chain().focus().toggleItalic().run()}>
            Italic
          </Toggle>
          <Toggle
            isSelected={marks?.bulletList ?? false}
            onChange={() => editor?.chain().focus().toggleBulletList().run()}
          >
            List
          </Toggle>
          <Toggle
            isSelected={marks?.orderedList ?? false}
            onChange={() => editor?.chain().focus().toggleOrderedList().run()}
          >
            Steps
          </Toggle>
          <Toggle
            isSelected={marks?.link ?? false}
            onChange={() => setLink(String(editor?.getAttributes("link").href ?? ""))}
          >
            Link
          </Toggle>
        </div>
        {link !== null && (
          <div className={styles.richTools}>
            <TextField
              label="Address of the link"
              hideLabel
              placeholder="https://"
              value={link}
              onChange={setLink}
              autoFocus
            />
            <Toggle isSelected={false} onChange={put}>
              {link.trim() === "" ? "No link" : "Set the link"}
            </Toggle>
          </div>
        )}
        <EditorContent editor={editor} className={styles.richText} />
      </div>
    </div>
  );
}
