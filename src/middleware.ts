import { defineMiddleware } from "astro:middleware";
import { authorize, tokenOf } from "./server/http/guard.ts";
import { problem } from "./server/http/problem.ts";
import { secured } from "./server/http/security.ts";
import { startScheduler } from "./server/jobs/scheduler.ts";
import { log } from "./server/log.ts";
import { keepPage } from "./server/student/kept-pages.ts";

startScheduler();

export const onRequest = defineMiddleware(async (context, next) => {
  const { request, url, params, cookies, routePattern } = context;
  const started = Date.now();
  let response: Response;
  try {
    const decision = await authorize({
      request,
      url,
      pattern: routePattern,
      courseId: params.course,
      token: tokenOf(cookies),
    });
    if ("refusal" in decision) {
      response = decision.refusal;
    } else {
      context.locals.hasSession = decision.account !== null;
      if (decision.account) context.locals.account = decision.account;
      if (decision.access) context.locals.access = decision.access;
      response = await next();
      const { keep } = context.locals;
      if (keep) response = await keepPage(keep.stamp, keep.until, response);
    }
  } catch (error) {
    log.error({ error: error instanceof Error ? error.stack : String(error), path: url.pathname }, "request failed");
    response = problem(
      500,
      "Something failed here",
      "Nothing was changed. Try again; if it fails again, tell whoever runs this server.",
    );
  }
  log.info(
    {
      method: request.method,
      // Who has the address of a calendar reads it: the log does not keep it.
      path: url.pathname.startsWith("/calendar/") ? "/calendar/…" : url.pathname,
      status: response.status,
      ms: Date.now() - started,
    },
    "request",
  );
  return secured(response);
});
