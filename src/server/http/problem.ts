/** Answers that are not pages: JSON, and errors as problem details (RFC 9457). */
import { ReadableStream as WebStream } from "node:stream/web";
import { log } from "../log.ts";
import { jsonPieces } from "../store/json-pieces.ts";

export const isJson = { "content-type": "application/json; charset=utf-8" };
export const json = (body: unknown, init: ResponseInit = {}): Response =>
  new Response(JSON.stringify(body), { ...init, headers: { ...isJson, ...init.headers } });

/** The same of a value that may be large: it is written down while it is sent, and others have their turn meanwhile. */
export const longJson = (body: unknown, init: ResponseInit = {}): Response =>
  new Response(WebStream.from(encoded(jsonPieces(body))) as unknown as BodyInit, {
    ...init,
    headers: { ...isJson, ...init.headers },
  });

async function* encoded(pieces: AsyncIterable<string>): AsyncGenerator<Uint8Array> {
  const encoder = new TextEncoder();
  for await (const piece of pieces) yield encoder.encode(piece);
}

/** `detail` says what is wrong, where, and what to do next. */
export function problem(status: number, title: string, detail: string, more: Record<string, unknown> = {}): Response {
  return new Response(JSON.stringify({ type: "about:blank", title, status, detail, ...more }), {
    status,
    headers: { "content-type": "application/problem+json; charset=utf-8" },
  });
}

const escaped = (text: string) => text.replace(/[&<>"]/g, (sign) => `&#${sign.charCodeAt(0)};`);

/** The same said on a page, for whoever asked in a browser. */
export function problemPage(status: number, title: string, detail: string): Response {
  const page = `<!doctype html><html lang="en-GB"><head><meta charset="utf-8"><title>${escaped(title)} - Amber Weave</title>
<meta name="viewport" content="width=device-width"><link rel="stylesheet" href="/plain.css"></head>
<body><main><h1>${escaped(title)}</h1><p>${escaped(detail)}</p>
<p><a href="/">Go to your courses</a></p></main></body></html>`;
  return new Response(page, { status, headers: { "content-type": "text/html; charset=utf-8" } });
}

/** A page that leads on by itself, to an address that may be another site's. */
export function pageLeadingTo(address: string, title: string, says: string): Response {
  const page = `<!doctype html><html lang="en-GB"><head><meta charset="utf-8"><title>${escaped(title)} - Amber Weave</title>
<meta name="viewport" content="width=device-width"><meta http-equiv="refresh" content="0;url=${escaped(address)}">
<link rel="stylesheet" href="/plain.css"></head>
<body><main><h1>${escaped(title)}</h1><p><a href="${escaped(address)}">${escaped(says)}</a></p></main></body></html>`;
  return new Response(page, { status: 200, headers: { "content-type": "text/html; charset=utf-8" } });
}

/** What went wrong, as whoever asked reads it: a page in a browser, problem details in the API and for scripts. */
export function failure(request: Request, status: number, title: string, detail: string): Response {
  const isApi = new URL(request.url).pathname.startsWith("/api/");
  const isForPeople = !isApi && (request.headers.get("accept") ?? "").includes("text/html");
  return isForPeople ? problemPage(status, title, detail) : problem(status, title, detail);
}

/** An answer with an ETag; 304 where the asker has it already. `keeping`: what a browser may do with it beside. */
export function tagged(
  request: Request,
  tag: string,
  make: () => Response,
  keeping: "no-cache" | "no-store" = "no-cache",
): Response {
  const etag = `"${tag}"`;
  const headers = { etag, "cache-control": `private, ${keeping}` };
  const known = (request.headers.get("if-none-match") ?? "").split(",").map((one) => one.trim().replace(/^W\//, ""));
  if (known.includes(etag)) return new Response(null, { status: 304, headers });
  const answer = make();
  for (const [name, value] of Object.entries(headers)) answer.headers.set(name, value);
  return answer;
}

/** Work that tells how far it is: lines of JSON, the last of which is what it answers, with its status. */
export function streamed(work: (told: (done: number, of: number) => void) => Promise<Response>): Response {
  const encoder = new TextEncoder();
  const body = new ReadableStream<Uint8Array>({
    async start(controller) {
      const line = (value: unknown) => controller.enqueue(encoder.encode(`${JSON.stringify(value)}\n`));
      try {
        const answer = await work((done, of) => line({ done, of }));
        line({ status: answer.status, body: await answer.json() });
      } catch (error) {
        log.error({ error: error instanceof Error ? error.stack : String(error) }, "request failed");
        const detail = "Something failed here, and nothing was changed. Try again.";
        line({ status: 500, body: { title: "Something failed here", detail } });
      }
      controller.close();
    },
  });
  return new Response(body, { headers: { "content-type": "application/x-ndjson; charset=utf-8" } });
}
