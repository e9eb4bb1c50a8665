import { partOf } from "../kit/fetched.tsx";

/** The dialog in which a message is written, fetched with the first one. */
export const messageDialog = partOf(async () => (await import("./MessageDialog.tsx")).MessageDialog);
