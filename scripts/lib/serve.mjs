/** The built application as a server whose limits of a connection are ours: `node scripts/lib/serve.mjs ENTRY`. */
import { pathToFileURL } from "node:url";

// Node gives up a quiet connection after 5 s. A client, or a proxy before us, that sends on it at that very moment
// gets a reset instead of an answer. Ours stays open longer than the usual proxy's (60 s) keeps its own.
const quietMs = 75_000;

process.env.ASTRO_NODE_AUTOSTART = "disabled";
const { startServer } = await import(pathToFileURL(process.argv[2]).href);
startServer().server.server.keepAliveTimeout = quietMs;
