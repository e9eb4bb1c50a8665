import type { ReactNode } from "react";
import { Form } from "react-aria-components";

/** A form whose submission stays on the page; its fields are laid out by what it stands in. */
export function SubmitForm({ onSubmit, children }: { onSubmit(): void; children: ReactNode }) {
  return (
    <Form
      style={{ display: "contents" }}
      onSubmit={(event) => {
        event.preventDefault();
        onSubmit();
      }}
    >
      {children}
    </Form>
  );
}
