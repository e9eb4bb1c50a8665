/** Sends a form without leaving its page, and tells what came of it. */

export type Sent =
  /** Taken: the page as it is now, and its address. */
  | { kind: "taken"; page: Document; url: string }
  /** Refused, with the sentence that says why, and the page as it is now. */
  | { kind: "refused"; says: string; page: Document }
  /** The session has ended. */
  | { kind: "signed out" }
  /** The server is not reached, or is not able now. */
  | { kind: "no answer" };

export interface Sending {
  path: string;
  data: FormData;
  /** How much of it is on its way, 0 to 1; only where it is known. */
  onProgress(share: number): void;
}

/** A request that tells how far it is, which `fetch` cannot. */
function post({ path, data, onProgress }: Sending): Promise<XMLHttpRequest | null> {
  return new Promise((resolve) => {
    const request = new XMLHttpRequest();
    request.open("POST", path);
    request.setRequestHeader("accept", "text/html");
    request.upload.onprogress = ({ lengthComputable, loaded, total }) => {
      if (lengthComputable && total > 0) onProgress(loaded / total);
    };
    request.onload = () => resolve(request);
    request.onerror = () => resolve(null);
    request.onabort = () => resolve(null);
    request.send(data);
  });
}

export async function send(sending: Sending): Promise<Sent> {
  const answer = await post(sending);
  // 429 and what begins with 5 say that it may go later.
  if (!answer || answer.status === 429 || answer.status >= 500) return { kind: "no answer" };
  const page = new DOMParser().parseFromString(answer.responseText, "text/html");
  if (answer.status === 401 || new URL(answer.responseURL).pathname === "/sign-in") return { kind: "signed out" };
  if (answer.status < 300) return { kind: "taken", page, url: answer.responseURL };
  const says = page.querySelector('main [role="alert"]')?.textContent?.trim();
  return { kind: "refused", says: says || gone, page };
}
const gone =
  "This is not taken any more: the page may have closed for you, or it was taken away. What you wrote is kept here; copy it if you need it.";
