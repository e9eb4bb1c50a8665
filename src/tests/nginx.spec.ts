/** The configuration for nginx that the operating guide gives: with TLS, streams, large files, and who asks. */
import { spawnSync } from "node:child_process";
import { mkdirSync, readFileSync, rmSync } from "node:fs";
import { join } from "node:path";
import { freePort, which } from "../../scripts/lib/machine.mjs";
import { nginxProgram, startNginx } from "../../scripts/lib/nginx.mjs";
import { application, expect, password, test } from "./helpers.ts";
import { secondProcess } from "./second-process.ts";

const root = join(import.meta.dirname, "../..");
const folder = join(root, ".data/nginx-test");
const stops: (() => unknown)[] = [];
test.afterAll(async () => {
  for (const stop of stops.reverse()) await stop();
  rmSync(folder, { recursive: true, force: true });
});

/** The documented configuration with other ports and a certificate of its own. */
async function configured(port: number, plain: number, to: string): Promise<string> {
  rmSync(folder, { recursive: true, force: true });
  mkdirSync(folder, { recursive: true });
  const [key, certificate] = [join(folder, "key.pem"), join(folder, "certificate.pem")];
  const args = ["req", "-x509", "-newkey", "rsa:2048", "-nodes", "-days", "2", "-subj", "/CN=localhost"];
  expect(spawnSync("openssl", [...args, "-keyout", key, "-out", certificate]).status).toBe(0);
  return readFileSync(join(root, "docs/nginx/amber-weave.conf"), "utf8")
    .replace("127.0.0.1:4321", new URL(to).host)
    .replace("listen 80;", `listen 127.0.0.1:${plain};`)
    .replace("listen 443 ssl", `listen 127.0.0.1:${port} ssl`)
    .replaceAll("weave.example;", "localhost;")
    .replace("/etc/ssl/certs/weave.example.pem", certificate)
    .replace("/etc/ssl/private/weave.example.key", key);
}

test("through it people sign in by TLS, streams arrive as they are sent, large files are taken, and addresses are those it saw", async ({
  browser,
}) => {
  const program = which("openssl") && nginxProgram();
  test.skip(!program, "nginx or openssl is not installed, and Debian's package cannot be fetched here");
  const [port, plain] = [await freePort(5443), await freePort(5480)];
  const address = `https://localhost:${port}`;
  const { child, url } = await secondProcess({ AMBER_ADDRESS: address, AMBER_PROXIES: "1" });
  stops.push(() => child.kill("SIGTERM"));
  const nginx = startNginx(program ?? "", folder, await configured(port, plain, url));
  stops.push(nginx.stop);
  const context = await browser.newContext({ baseURL: address, ignoreHTTPSErrors: true });
  const page = await context.newPage();
  await expect
    .poll(
      () =>
        page.request.get("/health/live").then(
          (answer) => answer.status(),
          () => 0,
        ),
      { timeout: 30_000 },
    )
    .toBe(200);

  await page.goto("/sign-in");
  await page.getByLabel("Username").fill("coordinator");
  await page.getByLabel("Password").fill(password);
  await page.getByRole("button", { name: "Sign in" }).click();
  await expect(page.getByRole("heading", { name: "Your courses" })).toBeVisible();
  const cookie = (await context.cookies()).find(({ name }) => name.endsWith("amber_session"));
  expect(cookie).toMatchObject({ name: "__Host-amber_session", secure: true, httpOnly: true });
  const answer = await page.request.get("/");
  expect(answer.headers()["strict-transport-security"]).toContain("max-age=");
  expect(answer.headers()["x-request-id"]).toMatch(/^[0-9a-f]{32}$/);

  // The workbench hears at once that somebody is there: nothing on the way waits until a buffer is full.
  const href = await page.getByRole("link", { name: /^WSH 240/ }).getAttribute("href");
  await page.goto(`${href}/placement`);
  await expect(page.getByRole("navigation", { name: "Stations" })).toBeVisible();
  const course = href?.split("/")[2];
  const heard = await page.evaluate(async (path) => {
    const stream = await fetch(path);
    const reader = stream.body?.getReader();
    const first = await Promise.race([reader?.read(), new Promise((done) => setTimeout(() => done(null), 5000))]);
    await reader?.cancel();
    return first !== null;
  }, `/api/courses/${course}/live?station=placement`);
  expect(heard).toBe(true);

  // Larger than nginx takes unless it is told otherwise, and larger than what it would keep in memory.
  const big = { name: "levels.csv", mimeType: "text/csv", buffer: Buffer.alloc(6_000_000, "1,2\n") };
  const sent = await page.request.post(`/api/courses/${course}/files`, {
    headers: { origin: address },
    multipart: { file: big },
  });
  expect(sent.status()).toBeLessThan(300);

  // What a client writes of its own address is not what it is known by.
  const wrong = { username: "nobody.behind.nginx", password: "not this one" };
  await page.request.post("/sign-in", {
    headers: { origin: address, "x-forwarded-for": "203.0.113.9" },
    form: wrong,
  });
  const admin = await (await browser.newContext({ baseURL: application().url })).newPage();
  await admin.request.post("/sign-in", {
    headers: { origin: application().url },
    form: { username: "administrator", password },
  });
  await admin.goto("/administration/sign-in");
  const failed = admin.getByRole("table").last();
  await expect(failed).toContainText("127.0.0.1");
  await expect(failed).not.toContainText("203.0.113.9");

  // Whoever comes without TLS is led to it.
  const unsafe = await page.request.get(`http://127.0.0.1:${plain}/sign-in?next=%2Fself`, {
    headers: { host: "localhost" },
    maxRedirects: 0,
  });
  expect([unsafe.status(), unsafe.headers().location]).toEqual([301, "https://localhost/sign-in?next=%2Fself"]);
  for (const one of [page, admin]) await one.context().close();
});
