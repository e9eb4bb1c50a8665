/** Debian's nginx for tests: the installed one, or its package unpacked beside our data, so that no service is started. */
import { spawn, spawnSync } from "node:child_process";
import { readdirSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { dataFolder, endProcess, makeFolder, which } from "./machine.mjs";

const unpacked = join(dataFolder, "nginx-package");

/** Where the program is; null where it is not installed and cannot be fetched, as without a network. */
export function nginxProgram() {
  const installed = which("nginx");
  if (installed) return installed;
  const program = join(unpacked, "usr/sbin/nginx");
  makeFolder(unpacked);
  const done = (command, ...args) => spawnSync(command, args, { cwd: unpacked, stdio: "ignore" }).status === 0;
  if (!readdirSync(unpacked).includes("usr")) {
    // Lists of packages may be missing, or name versions that are no longer there.
    const isThere =
      done("apt-get", "download", "nginx") ||
      (done("apt-get", "-qq", "update") && done("apt-get", "download", "nginx"));
    const file = readdirSync(unpacked).find((name) => name.endsWith(".deb"));
    if (!isThere || !file || !done("dpkg", "-x", file, ".")) return null;
  }
  return program;
}

/** Starts nginx with a configuration for its http block, in a folder of its own; gives how to stop it. */
export function startNginx(program, folder, http) {
  makeFolder(folder);
  const places = ["client_body", "proxy", "fastcgi", "uwsgi", "scgi"]
    .map((name) => `${name}_temp_path ${join(folder, name)};`)
    .join("\n");
  const whole = `daemon off;\npid ${join(folder, "nginx.pid")};\nerror_log ${join(folder, "error.log")};
events { worker_connections 4096; }\nhttp {\naccess_log off;\n${places}\n${http}\n}\n`;
  const file = join(folder, "nginx.conf");
  writeFileSync(file, whole);
  const child = spawn(program, ["-p", folder, "-e", join(folder, "error.log"), "-c", file], {
    stdio: ["ignore", "ignore", "inherit"],
  });
  return { stop: () => endProcess(child.pid) };
}
