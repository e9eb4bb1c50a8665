/** The built application as a server whose limits of a connection are ours: `node scripts/lib/serve.mjs ENTRY`. */
import { dirname, join } from "node:path";
import { pathToFileURL } from "node:url";
import compression from "compression";
import sirv from "sirv";

// Node gives up a quiet connection after 5 s. A client, or a proxy before us, that sends on it at that very moment
// gets a reset instead of an answer. Ours stays open longer than the usual proxy's (60 s) keeps its own.
const quietMs = 75_000;
/** A request is received whole within this, its headers much sooner. */
const requestMs = 300_000;
const headersMs = 20_000;
const methods = new Set(["GET", "HEAD", "POST", "PATCH", "DELETE"]);
/** A year, in seconds: whoever came by TLS comes by TLS. */
const strictTransport = "max-age=31536000; includeSubDomains";

process.env.ASTRO_NODE_AUTOSTART = "disabled";
process.env.AMBER_THREADS_FILE ??= join(dirname(process.argv[2]), "threads.mjs");
const { startServer } = await import(pathToFileURL(process.argv[2]).href);
const { server } = startServer().server;
Object.assign(server, { keepAliveTimeout: quietMs, requestTimeout: requestMs, headersTimeout: headersMs });

/** Proxies of ours before this server. What a client writes of its own address is believed of none of them. */
const proxies = Number(process.env.AMBER_PROXIES ?? 0);
function believeProxies({ headers }) {
  const said = String(headers["x-forwarded-for"] ?? "")
    .split(",")
    .map((one) => one.trim());
  for (const name of Object.keys(headers)) if (name.startsWith("x-forwarded-")) delete headers[name];
  const seen = proxies > 0 ? said.at(-proxies) : "";
  if (seen) headers["x-forwarded-for"] = seen;
}

/** What is being answered. */
const open = new Set();
/** How long a stop waits for what is being answered; whoever ends processes hard waits twenty seconds. */
const stopMs = 15_000;
let isStopping = false;

/** A stop cuts no request: no new connection is taken, what is being answered is answered, streams of events end. */
function stop() {
  if (isStopping) return;
  isStopping = true;
  server.close(() => process.exit(0));
  for (const response of open) {
    const isStream = String(response.getHeader("content-type") ?? "").startsWith("text/event-stream");
    // Whoever listened listens again, elsewhere or when this is back.
    if (isStream) response.destroy();
    else if (!response.headersSent) response.setHeader("connection", "close");
  }
  server.closeIdleConnections();
  setTimeout(() => process.exit(0), stopMs).unref();
}
for (const signal of ["SIGTERM", "SIGINT"]) process.on(signal, stop);

/** Scripts and styles bear their content's name, so that a browser asks once; compressed beforehand, beside the build. */
const built = "/_astro/";
const files = sirv(join(dirname(process.argv[2]), "..", "client"), {
  brotli: true,
  gzip: true,
  immutable: true,
  maxAge: 31_536_000,
  dotfiles: false,
});

/** Data of a course is long and repeats itself. Pages stay plain: what they repeat of a request may stand beside a secret. */
const compressed = compression({
  filter: (_, response) => /^application\/json\b/.test(String(response.getHeader("content-type") ?? "")),
});

const isSecure = (process.env.AMBER_ADDRESS ?? "").startsWith("https:");
const [answer] = server.listeners("request");
server.removeAllListeners("request");
server.on("request", (request, response) => {
  open.add(response);
  response.once("close", () => open.delete(response));
  if (isStopping) response.setHeader("connection", "close");
  // Files of the build pass by the application, which sets these for all else.
  response.setHeader("x-content-type-options", "nosniff");
  if (isSecure) response.setHeader("strict-transport-security", strictTransport);
  believeProxies(request);
  if (request.url.startsWith(built) && /^(GET|HEAD)$/.test(request.method))
    return files(request, response, () => answer(request, response));
  if (methods.has(request.method)) return compressed(request, response, () => answer(request, response));
  response.writeHead(405, { allow: [...methods].join(", "), connection: "close" });
  response.end();
});
