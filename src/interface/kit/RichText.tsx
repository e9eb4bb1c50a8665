/** Text with emphasis, lists and links, written as HTML that the server makes safe before anyone reads it. */
import { type Editor, EditorContent, useEditor, useEditorState } from "@tiptap/react";
import { useId, useState } from "react";
import { notKept } from "../../core/text/rich-text.ts";
import { Button, Toggle } from "./Button.tsx";
import styles from "./controls.module.css";
import { Choice, TextField } from "./Fields.tsx";
import { richExtensions } from "./rich-extensions.ts";

export interface RichTextProps {
  label: string;
  value: string;
  onChange(html: string): void;
  /** Files of the course that may stand in the text as pictures, by address. */
  pictures?: { value: string; label: string }[];
}

export function RichText({ label, value, onChange, pictures }: RichTextProps) {
  const id = useId();
  const [lost, setLost] = useState<string[]>([]);
  const editor = useEditor({
    extensions: richExtensions,
    content: value,
    immediatelyRender: false,
    editorProps: {
      attributes: { "aria-labelledby": id, role: "textbox", "aria-multiline": "true" },
      transformPastedHTML(html) {
        setLost(notKept(html));
        return html;
      },
    },
    onUpdate: ({ editor: one }) => onChange(one.isEmpty ? "" : one.getHTML()),
  });
  return (
    <div className={styles.field}>
      <span id={id} className={styles.label}>
        {label}
      </span>
      <div className={styles.rich}>
        {editor && <Tools editor={editor} label={label} />}
        {lost.length > 0 && (
          <p role="status" className={styles.hint}>
            Not kept of what was pasted: {lost.join(", ")}. The words are.
          </p>
        )}
        {pictures && pictures.length > 0 && (
          <Choice
            label="Picture of the course"
            value=""
            onChange={(src) => {
              const alt = pictures.find((one) => one.value === src)?.label ?? "";
              if (src !== "") editor?.chain().focus().setImage({ src, alt }).run();
            }}
            options={[{ value: "", label: "Put in a picture; it is seen by whoever sees its file" }, ...pictures]}
          />
        )}
        <EditorContent editor={editor} className={styles.richText} />
      </div>
    </div>
  );
}

/** What is done to the words that are chosen, and what is put among them. */
function Tools({ editor, label }: { editor: Editor; label: string }) {
  const [link, setLink] = useState<string | null>(null);
  const marks = useEditorState({
    editor,
    selector: ({ editor: one }) => ({
      bold: one.isActive("bold"),
      italic: one.isActive("italic"),
      bulletList: one.isActive("bulletList"),
      orderedList: one.isActive("orderedList"),
      heading: one.isActive("heading"),
      table: one.isActive("table"),
      link: one.isActive("link"),
    }),
  });
  const put = () => {
    const address = (link ?? "").trim();
    const chain = editor.chain().focus().extendMarkRange("link");
    if (address === "") chain.unsetLink().run();
    else chain.setLink({ href: /^(https?:|mailto:)/.test(address) ? address : `https://${address}` }).run();
    setLink(null);
  };
  return (
    <>
      <div className={styles.richTools} role="group" aria-label={`Format of ${label}`}>
        <Toggle isSelected={marks.bold} onChange={() => editor.chain().focus().toggleBold().run()}>
          Bold
        </Toggle>
        <Toggle isSelected={marks.italic} onChange={() => editor.chain().focus().toggleItalic().run()}>
          Italic
        </Toggle>
        <Toggle isSelected={marks.bulletList} onChange={() => editor.chain().focus().toggleBulletList().run()}>
          List
        </Toggle>
        <Toggle isSelected={marks.orderedList} onChange={() => editor.chain().focus().toggleOrderedList().run()}>
          Steps
        </Toggle>
        <Toggle isSelected={marks.heading} onChange={() => editor.chain().focus().toggleHeading({ level: 3 }).run()}>
          Heading
        </Toggle>
        <Toggle
          isSelected={marks.table}
          onChange={(isOn) =>
            isOn
              ? editor.chain().focus().insertTable({ rows: 3, cols: 2, withHeaderRow: true }).run()
              : editor.chain().focus().deleteTable().run()
          }
        >
          Table
        </Toggle>
        <Toggle isSelected={marks.link} onChange={() => setLink(String(editor.getAttributes("link").href ?? ""))}>
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
      {marks.table && <TableTools editor={editor} />}
    </>
  );
}

/** Rows and columns of the table in which the cursor stands. */
function TableTools({ editor }: { editor: Editor }) {
  const chain = () => editor.chain().focus();
  const steps: [string, () => boolean][] = [
    ["Add a row", () => chain().addRowAfter().run()],
    ["Add a column", () => chain().addColumnAfter().run()],
    ["Remove the row", () => chain().deleteRow().run()],
    ["Remove the column", () => chain().deleteColumn().run()],
  ];
  return (
    <div className={styles.richTools}>
      {steps.map(([label, run]) => (
        <Button key={label} quiet onPress={run}>
          {label}
        </Button>
      ))}
    </div>
  );
}
