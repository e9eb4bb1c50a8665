import type { ReactNode } from "react";
import { Dialog as AriaDialog, Heading, Modal, ModalOverlay } from "react-aria-components";
import styles from "./dialog.module.css";

interface DialogProps {
  title: string;
  onClose(): void;
  children: ReactNode;
  /** For rows of several fields. */
  wide?: boolean;
}

/** Open as long as it is rendered; Escape and a press outside close it. */
export function Dialog({ title, onClose, children, wide }: DialogProps) {
  return (
    <ModalOverlay
      isOpen
      isDismissable
      onOpenChange={(open) => !open && onClose()}
      className={styles.underlay as string}
    >
      <Modal className={`${styles.modal} ${wide ? styles.wide : ""}`}>
        <AriaDialog className={styles.dialog as string}>
          <Heading slot="title">{title}</Heading>
          {children}
        </AriaDialog>
      </Modal>
    </ModalOverlay>
  );
}

export const Actions = ({ children }: { children: ReactNode }) => <div className={styles.actions}>{children}</div>;
