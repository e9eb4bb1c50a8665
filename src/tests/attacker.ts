/** Requests that no browser would send, and what became of them. */
import { once } from "node:events";
import { type ClientRequest, type IncomingMessage, type OutgoingHttpHeaders, request as open } from "node:http";

/** The answer stands on the request as soon as there is one. */
type Sent = ClientRequest & { res?: IncomingMessage };

export interface Raw {
  method?: string;
  headers?: OutgoingHttpHeaders;
  /** What is sent, piece by piece, as fast as it is taken. */
  pieces?: Iterable<Buffer>;
  /** Whether the request is left open after its pieces. */
  isLeftOpen?: boolean;
}
export interface Answered {
  status: number;
  headers: NodeJS.Dict<string | string[]>;
  text: string;
  milliseconds: number;
}

/** Writes the pieces as fast as they are taken, and ends the request after them, unless it is to stay open. */
async function write(request: Sent, pieces: Iterable<Buffer>, isLeftOpen: boolean): Promise<void> {
  request.flushHeaders();
  for (const piece of pieces) {
    if (request.destroyed || request.res) return;
    if (!request.write(piece)) await Promise.race([once(request, "drain"), once(request, "close")]);
  }
  if (!isLeftOpen) request.end();
}

/** Sends a request byte for byte; an answer that comes before all was sent ends the sending. A broken connection is status 0. */
export function rawly(
  url: string,
  path: string,
  { method = "GET", headers = {}, pieces = [], isLeftOpen = false }: Raw = {},
) {
  return new Promise<Answered>((resolve) => {
    const begun = performance.now();
    const { hostname, port } = new URL(url);
    const request: Sent = open({ hostname, port, path, method, headers: { origin: url, ...headers }, agent: false });
    const end = (status: number, found: NodeJS.Dict<string | string[]> = {}, text = "") =>
      resolve({ status, headers: found, text, milliseconds: performance.now() - begun });
    request.on("response", (response) => {
      let text = "";
      response.setEncoding("utf8");
      response.on("data", (piece: string) => {
        text += piece;
      });
      response.on("close", () => {
        end(response.statusCode ?? 0, response.headers, text);
        request.destroy();
      });
    });
    // Once there was an answer it has said all there is.
    request.on("error", () => request.res ?? end(0));
    write(request, pieces, isLeftOpen).catch(() => end(0));
  });
}

/** Signs in and gives the cookie; null where it was refused. */
export async function cookieOf(url: string, username: string, password: string): Promise<string | null> {
  const answer = await fetch(`${url}/sign-in`, {
    method: "POST",
    redirect: "manual",
    headers: { origin: url, "content-type": "application/x-www-form-urlencoded" },
    body: new URLSearchParams({ username, password }),
  });
  return answer.status === 303 ? ((answer.headers.get("set-cookie") ?? "").split(";")[0] ?? null) : null;
}
