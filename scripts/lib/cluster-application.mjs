/** Several processes of the application on the nodes of a cluster, and nginx before them. */
import { spawn } from "node:child_process";
import { createWriteStream, readFileSync } from "node:fs";
import { join } from "node:path";
import { dataFolder, endProcess, freePort, makeFolder, pause, root, Stop, serveScript } from "./machine.mjs";
import { nginxProgram, startNginx } from "./nginx.mjs";

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

/** A process that asks these nodes in this order; `log` takes what it writes. */
function makeProcess({ entry, urls, address, port, log }) {
  const env = {
    ...{ ...process.env, AMBER_DATABASE_URL: urls.join(" "), AMBER_ADDRESS: address, AMBER_PROXIES: "1" },
    ...{ HOST: "127.0.0.1", PORT: String(port), NODE_ENV: "production", AMBER_LOG_LEVEL: "warn" },
  };
  const isReady = () =>
    fetch(`http://127.0.0.1:${port}/health/ready`, { signal: AbortSignal.timeout(2000) }).then(
      ({ ok }) => ok,
      () => false,
    );
  let child = null;
  let ended = null;
  return {
    port,
    pid: () => child.pid,
    signal: (signal) => process.kill(child.pid, signal),
    async start() {
      const to = createWriteStream(log, { flags: "a" });
      child = spawn(process.execPath, [serveScript, entry], { cwd: root, env, detached: true });
      ended = new Promise((done) => child.once("exit", done));
      for (const stream of [child.stdout, child.stderr]) stream.pipe(to, { end: false });
      for (const until = Date.now() + 60_000; !(await isReady()); await pause(200))
        if (Date.now() > until || child.exitCode !== null)
          throw new Stop(`A process of the application did not start. Its log: ${log}`);
    },
    async kill() {
      process.kill(child.pid, "SIGKILL");
      await ended;
    },
    stop: () => (child ? endProcess(child.pid) : undefined),
  };
}

/**
 * Starts as many processes as there are nodes, each with another node first, behind nginx. Gives { address, processes, stop };
 * a process can be ended hard, held and started again. `stop` may be called at any moment.
 */
export async function makeApplication({ entry, urls, firstPort }) {
  const program = nginxProgram();
  if (!program) throw new Stop("nginx is not installed, and its package cannot be fetched here: apt-get install nginx");
  const folder = join(dataFolder, "cluster");
  makeFolder(folder);
  const port = await freePort(firstPort);
  const address = `http://127.0.0.1:${port}`;
  const processes = [];
  for (const at of urls.keys()) {
    const own = await freePort((processes.at(-1)?.port ?? port) + 1);
    const order = [...urls.slice(at), ...urls.slice(0, at)];
    const log = join(folder, `application-${at + 1}.log`);
    processes.push(makeProcess({ entry, urls: order, address, port: own, log }));
  }
  let nginx = null;
  return {
    address,
    processes,
    async start() {
      for (const one of processes) await one.start();
      const ports = processes.map((one) => one.port);
      nginx = startNginx(program, join(folder, "nginx"), site(port, ports));
    },
    async stop() {
      await nginx?.stop();
      for (const one of processes) await one.stop();
    },
  };
}
