/** Starts the stand-in for an identity provider on loopback; the application is told of it by its environment. */
import { spawn } from "node:child_process";
import { join } from "node:path";
import { endProcess, freePort, root } from "./machine.mjs";

const secret = "tarnbeck identity";

/** `origin`: the application's. Gives its address, the environment for the application, and how to stop it. */
export async function startIdentity(origin, firstPort) {
  const port = await freePort(firstPort);
  const child = spawn(
    process.execPath,
    ["--import", "tsx", join(root, "demo/identity/serve.ts"), String(port), origin, secret],
    // It warns of being no provider for an institution, which it is not.
    { cwd: root, stdio: ["ignore", "ignore", "ignore", "ipc"] },
  );
  // Not waited for: a provider that is not there yet is a case the application knows.
  child.channel?.unref();
  const url = `http://127.0.0.1:${port}`;
  const client = { clientId: "amber-weave", clientSecret: secret, claim: "registrar_id" };
  const provider = { id: "college", name: "Tarnbeck College", issuer: url, ...client };
  const asked = { scope: "openid profile email registrar", administratorsAcr: "mfa" };
  return {
    url,
    env: { AMBER_IDENTITY_PROVIDERS: JSON.stringify([{ ...provider, ...asked }]) },
    stop: () => endProcess(child.pid),
  };
}
