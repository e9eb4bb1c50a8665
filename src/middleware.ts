import { defineMiddleware } from "astro:middleware";
import type { APIContext, MiddlewareNext } from "astro";
import { noteEvent } from "./server/accounts/security-events.ts";
import { config } from "./server/config.ts";
import { onlyReads } from "./server/http/address.ts";
import { type CountedBody, countBody } from "./server/http/counted-body.ts";
import { failureOf, whyNoRoom } from "./server/http/failures.ts";
import { authorize, tokenOf } from "./server/http/guard.ts";
import { secured } from "./server/http/security.ts";
import { answerIn, idFor, withRequestId } from "./server/http/this-request.ts";
import { startScheduler } from "./server/jobs/scheduler.ts";
import { log } from "./server/log.ts";
import { countAnswer } from "./server/metrics.ts";
import { keepPage } from "./server/student/kept-pages.ts";

startScheduler();

/** The answer of the page or endpoint, where whoever asks may have it. */
async function answer(context: APIContext, next: MiddlewareNext): Promise<Response> {
  const { request, url, params, cookies, routePattern, locals } = context;
  let body: CountedBody | null = null;
  try {
    const asking = { request, url, pattern: routePattern, params, token: tokenOf(cookies) };
    const decision = await authorize(asking);
    if ("refusal" in decision) return decision.refusal;
    const { account, access, member, takes } = decision;
    locals.hasSession = account !== null;
    if (account) locals.account = account;
    // What a call changes is written down for others to read: as it is written for all.
    if (account && (onlyReads(request) || !url.pathname.startsWith("/api/"))) answerIn(account.locale);
    if (access) locals.access = access;
    if (member) locals.member = member;
    const full = await whyNoRoom(request);
    if (full) return full;
    body = countBody(request, { limit: takes, accountId: account?.id ?? null });
    const response = await next();
    // A page may have gone on without what it could not read: that it was cut is the answer.
    const refusal = body.refusal();
    if (refusal) return failureOf(request, refusal);
    return locals.keep ? await keepPage(locals.keep.stamp, locals.keep.until, response) : response;
  } catch (error) {
    return failureOf(request, body?.refusal() ?? error);
  } finally {
    body?.end();
  }
}

export const onRequest = defineMiddleware((context, next) => {
  const id = idFor(context.request, config().AMBER_PROXIES);
  return withRequestId(id, () => answered(context, next, id));
});

async function answered(context: APIContext, next: MiddlewareNext, id: string): Promise<Response> {
  const { request, url } = context;
  const started = Date.now();
  const response = await answer(context, next);
  // Not waited for: what failed may be the database.
  if (response.status >= 500)
    void noteEvent({
      kind: "failed",
      accountId: context.locals.account?.id,
      courseId: context.locals.member?.courseId,
      what: `${request.method} ${context.routePattern}`,
    });
  const ms = Date.now() - started;
  countAnswer(request.method, context.routePattern, response.status, ms);
  log.info(
    {
      method: request.method,
      // Who has the address of a calendar reads it: the log does not keep it.
      path: url.pathname.startsWith("/calendar/") ? "/calendar/…" : url.pathname,
      status: response.status,
      ms,
    },
    "request",
  );
  // False under npm run dev alone.
  const ours = secured(response, { isBuilt: import.meta.env.PROD });
  ours.headers.set("x-request-id", id);
  return ours;
}
