import { type ReactNode, useRef } from "react";
import { Button } from "./Button.tsx";

interface FileButtonProps {
  children: ReactNode;
  /** Endings, as `.ics,.csv`. */
  accept: string;
  testId: string;
  isDisabled?: boolean;
  onChoose(file: File): void;
}

/** A button that asks for a file; the same file can be chosen again. */
export function FileButton({ children, accept, testId, isDisabled, onChoose }: FileButtonProps) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <>
      <input
        ref={input}
        type="file"
        hidden
        accept={accept}
        data-testid={testId}
        onChange={(event) => {
          const file = event.target.files?.[0];
          if (file) onChoose(file);
          event.target.value = "";
        }}
      />
      <Button onPress={() => input.current?.click()} isDisabled={isDisabled ?? false}>
        {children}
      </Button>
    </>
  );
}
