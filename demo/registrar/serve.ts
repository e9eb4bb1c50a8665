/** The registrar stand-in: `tsx demo/registrar/serve.ts PORT STATE-FILE TOKEN`. Loopback only. */
import { createServer, type IncomingMessage, type ServerResponse } from "node:http";
import { endWithParent } from "../stand-in.ts";
import { answer, bases, giveToken } from "./answers.ts";
import { registrarPage } from "./page.ts";
import { keepRegistrar, moods, type Registrar } from "./state.ts";

const [port = "4322", file = "registrar.json", token = ""] = process.argv.slice(2);
const { state, save } = keepRegistrar(file);

async function readForm(request: IncomingMessage): Promise<URLSearchParams> {
  let text = "";
  for await (const chunk of request) {
    text += chunk;
    if (text.length > 10_000) break;
  }
  return new URLSearchParams(text);
}

/** One change by a form of the page; whatever it does not understand changes nothing. */
function change(registrar: Registrar, action: string, form: URLSearchParams): void {
  const [user, from, to] = [form.get("user") ?? "", form.get("class") ?? "", form.get("to") ?? ""];
  const { students, users } = registrar;
  const take = () => {
    if (students[from]) students[from] = students[from].filter((id) => id !== user);
  };
  const give = (into: string) => {
    if (students[into] && users[user] && !students[into].includes(user)) students[into].push(user);
  };
  if (action === "/add") give(from);
  if (action === "/teach" && from) state.teachers = { ...state.teachers, [from]: [form.get("user") ?? ""] };
  if (action === "/drop") take();
  if (action === "/move" && students[to]) {
    take();
    give(to);
  }
  const mood = moods.find((each) => each === form.get("mood"));
  if (action === "/mood" && mood) registrar.mood = mood;
}

async function serve(request: IncomingMessage, response: ServerResponse): Promise<void> {
  const path = (request.url ?? "/").split("?")[0] as string;
  if (bases.some((base) => path.startsWith(base))) {
    answer(state, token, request, response);
    return;
  }
  if (path === "/token" && request.method === "POST") {
    giveToken(request, await readForm(request), response);
    return;
  }
  if (request.method === "POST") {
    const { origin, host } = request.headers;
    if (origin && new URL(origin).host !== host) {
      response.writeHead(403).end();
      return;
    }
    change(state, path, await readForm(request));
    save();
    response.writeHead(303, { location: "/" }).end();
    return;
  }
  if (path !== "/") {
    response.writeHead(404).end();
    return;
  }
  response.writeHead(200, { "content-type": "text/html; charset=utf-8" }).end(registrarPage(state));
}

const server = createServer((request, response) => {
  serve(request, response).catch(() => response.destroy());
}).listen(Number(port), "127.0.0.1");
server.on("error", (error) => {
  console.error(error.message);
  process.exit(1);
});
endWithParent();
