/** Starts the post office, a stand-in for a mail server, on loopback; the application is told where it is by its environment. */
import { spawn } from "node:child_process";
import { join } from "node:path";
import { endProcess, freePort, root } from "./machine.mjs";

/** Gives the address of its page, the environment for the application, and how to stop it. */
export async function startPostOffice(folder, firstPort) {
  const smtp = await freePort(firstPort);
  const page = await freePort(smtp + 1);
  const child = spawn(
    process.execPath,
    [
      "--import",
      "tsx",
      join(root, "demo/post-office/serve.ts"),
      String(smtp),
      String(page),
      join(folder, "post.jsonl"),
    ],
    { cwd: root, stdio: ["ignore", "inherit", "inherit", "ipc"] },
  );
  // Not waited for: letters wait until it is there.
  child.channel?.unref();
  return {
    url: `http://127.0.0.1:${page}`,
    env: { AMBER_SMTP_URL: `smtp://127.0.0.1:${smtp}` },
    stop: () => endProcess(child.pid),
  };
}
