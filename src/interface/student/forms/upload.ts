/** Sends a large file in pieces, ahead of its form: a cut connection, or another page, goes on where it was. */
import { type KeptForm, keepUploadUrl } from "./kept-forms.ts";

/** Files below this go with their form. */
const large = 1024 * 1024;
/** At least this much of a file is not sent again. */
const pieceBytes = 1024 * 1024;

export type Uploaded =
  /** It is there whole, under this id. */
  | { kind: "whole"; id: string }
  /** The server is not reached, or is not able now. */
  | { kind: "no answer" }
  /** It goes with its form: it is small, or is not taken by itself, of which the form's answer says why. */
  | { kind: "with its form" };

export async function upload(kept: KeptForm, file: File, onProgress: (share: number) => void): Promise<Uploaded> {
  if (file.size < large) return { kind: "with its form" };
  const { Upload, DetailedError } = await import("tus-js-client");
  return new Promise((resolve) => {
    const one = new Upload(file, {
      endpoint: "/uploads",
      uploadUrl: kept.uploadUrl ?? null,
      chunkSize: pieceBytes,
      retryDelays: [500, 2000],
      metadata: { filename: file.name },
      // What goes on is kept with its form: whoever signs out leaves nothing behind.
      storeFingerprintForResuming: false,
      onUploadUrlAvailable: () => keepUploadUrl(kept, one.url),
      onProgress: (sent, all) => onProgress(sent / all),
      onSuccess: () => resolve({ kind: "whole", id: one.url?.split("/").at(-1) ?? "" }),
      onError(error) {
        const status = error instanceof DetailedError ? error.originalResponse?.getStatus() : undefined;
        const mayGoLater = status === undefined || status === 0 || status === 429 || status >= 500;
        resolve({ kind: mayGoLater ? "no answer" : "with its form" });
      },
    });
    one.start();
  });
}
