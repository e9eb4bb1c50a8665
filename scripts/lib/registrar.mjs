/** Starts the registrar stand-in on loopback; the application is told where it is by its environment. */
import { spawn } from "node:child_process";
import { join } from "node:path";
import { endProcess, freePort, root } from "./machine.mjs";

const token = "stand-in";

/** Gives its address, the environment for the application, and how to stop it. */
export async function startRegistrar(folder, firstPort) {
  const port = await freePort(firstPort);
  const child = spawn(
    process.execPath,
    ["--import", "tsx", join(root, "demo/registrar/serve.ts"), String(port), join(folder, "registrar.json"), token],
    { cwd: root, stdio: ["ignore", "inherit", "inherit", "ipc"] },
  );
  // Not waited for: a registrar that is not there yet is a case the application knows.
  child.channel?.unref();
  const url = `http://127.0.0.1:${port}`;
  return {
    url,
    env: { AMBER_REGISTRAR_URL: url, AMBER_REGISTRAR_TOKEN: token },
    stop: () => endProcess(child.pid),
  };
}
