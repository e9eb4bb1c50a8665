/**
 * npm run cluster: three nodes of the database, three processes of the application and nginx before them, all on this machine,
 * with the demo. Each process asks a node of its own first, and the others where that one is away. Ctrl-C stops all of it; what
 * was done in it goes.
 */
import { spawn } from "node:child_process";
import { readFileSync } from "node:fs";
import { join } from "node:path";
import { makeCluster } from "./lib/cluster.mjs";
import {
  dataFolder,
  endProcess,
  ensureBuild,
  ensureModules,
  freePort,
  pause,
  root,
  runScript,
  Stop,
  say,
  serveScript,
} from "./lib/machine.mjs";
import { nginxProgram, startNginx } from "./lib/nginx.mjs";

const stops = [];
let isStopping = false;
async function stopAll(code) {
  if (isStopping) return;
  isStopping = true;
  for (const stop of stops.reverse()) await stop();
  process.exit(code);
}

/**
 * nginx before the processes, which it asks as the documented site does: one that does not answer is passed over, and asked
 * again after two seconds.
 */
function site(port, ports) {
  const documented = readFileSync(join(root, "docs/nginx/amber-weave.conf"), "utf8");
  const [location] = documented.match(/^ {2}location \/ \{.*?^ {2}\}/ms);
  const servers = ports.map((one) => `server 127.0.0.1:${one} max_fails=1 fail_timeout=2s;`).join(" ");
  return `upstream amber_weave { ${servers} keepalive 32; }
server {
listen 127.0.0.1:${port};
client_max_body_size 0;
${location}
}`;
}

/** Starts a process of the application that asks these nodes in this order; gives where it answers. */
async function startProcess(entry, urls, address, firstPort) {
  const port = await freePort(firstPort);
  const env = {
    ...{ ...process.env, AMBER_DATABASE_URL: urls.join(" "), AMBER_ADDRESS: address, AMBER_PROXIES: "1" },
    ...{ HOST: "127.0.0.1", PORT: String(port), NODE_ENV: "production", AMBER_LOG_LEVEL: "warn" },
  };
  const child = spawn(process.execPath, [serveScript, entry], { cwd: root, env, stdio: "inherit", detached: true });
  stops.push(() => endProcess(child.pid));
  const isReady = () =>
    fetch(`http://127.0.0.1:${port}/health/ready`).then(
      ({ ok }) => ok,
      () => false,
    );
  for (const until = Date.now() + 60_000; !(await isReady()); await pause(200))
    if (Date.now() > until || child.exitCode !== null) throw new Stop("A process of the application did not start.");
  return port;
}

async function main() {
  await ensureModules();
  const entry = await ensureBuild();
  const program = nginxProgram();
  if (!program) throw new Stop("nginx is not installed, and its package cannot be fetched here: apt-get install nginx");
  const cluster = await makeCluster();
  stops.push(cluster.stop);
  await cluster.start();
  await runScript("demo/load.ts", [], { AMBER_DATABASE_URL: cluster.urls.join(" ") });
  const port = await freePort(Number(process.env.AMBER_PORT ?? 4600));
  const address = `http://127.0.0.1:${port}`;
  const ports = [];
  for (const at of cluster.urls.keys()) {
    const urls = [...cluster.urls.slice(at), ...cluster.urls.slice(0, at)];
    ports.push(await startProcess(entry, urls, address, port + 1 + ports.length));
  }
  stops.push(startNginx(program, join(dataFolder, "cluster-nginx"), site(port, ports)).stop);
  const { password, accounts } = JSON.parse(readFileSync(join(root, "demo/sign-ins.json"), "utf8"));
  say(`\nAmber Weave is at ${address}, by the processes at ${ports.map((one) => `127.0.0.1:${one}`).join(", ")}`);
  for (const { name, url, pid } of cluster.nodes) say(`  ${name}: ${new URL(url).host}, process ${pid()}`);
  say(`\n  ${accounts.map(({ username }) => username).join(", ")}; password ${password}\n\nCtrl-C stops it.\n`);
}

for (const signal of ["SIGINT", "SIGTERM", "SIGHUP"]) process.on(signal, () => stopAll(0));
main().catch(async (error) => {
  if (isStopping) return;
  console.error(error instanceof Stop ? `\n${error.message}\n` : error);
  await stopAll(1);
});
