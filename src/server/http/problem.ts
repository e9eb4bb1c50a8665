/** Answers that are not pages: JSON, and errors as problem details (RFC 9457). */
import { log } from "../log.ts";

export const json = (body: unknown, init: ResponseInit = {}): Response =>
  new Response(JSON.stringify(body), {
    ...init,
    headers: { "content-type": "application/json; charset=utf-8", ...init.headers },
  });

/** `detail` says what is wrong, where, and what to do next. */
export function problem(status: number, title: string, detail: string, more: Record<string, unknown> = {}): Response {
  return new Response(JSON.stringify({ type: "about:blank", title, status, detail, ...more }), {
    status,
    headers: { "content-type": "application/problem+json; charset=utf-8" },
  });
}

/** An answer with an ETag; 304 where the asker has it already. */
export function tagged(request: Request, tag: string, make: () => Response): Response {
  const etag = `"${tag}"`;
  const headers = { etag, "cache-control": "private, no-cache" };
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
