/**
 * The post office: `tsx demo/post-office/serve.ts SMTP-PORT PAGE-PORT FILE`. A local stand-in for a mail server, with a
 * page to read what arrived. Loopback only. A letter that comes again (the same Message-ID) is kept once.
 */
import { appendFileSync, existsSync, readFileSync } from "node:fs";
import { createServer } from "node:http";
import { simpleParser } from "mailparser";
import { SMTPServer } from "smtp-server";
import { endWithParent } from "../stand-in.ts";
import { type Letter, moods, type PostOffice, postOfficePage } from "./page.ts";

const [smtpPort = "2525", pagePort = "4323", file = "post.jsonl"] = process.argv.slice(2);
const office: PostOffice = { letters: [], mood: "delivers" };
if (existsSync(file))
  for (const line of readFileSync(file, "utf8").split("\n")) if (line) office.letters.push(JSON.parse(line) as Letter);
const known = new Set(office.letters.map(({ id }) => id));

const failing = (code: number, says: string) => Object.assign(new Error(says), { responseCode: code });
const smtp = new SMTPServer({
  authOptional: true,
  disabledCommands: ["AUTH", "STARTTLS"],
  logger: false,
  onConnect: (_session, done) =>
    done(office.mood === "is down" ? failing(421, "The post office is closed") : undefined),
  onRcptTo: (_address, _session, done) =>
    done(office.mood === "refuses" ? failing(550, "The post office does not know this address") : undefined),
  onData(stream, session, done) {
    simpleParser(stream)
      .then((mail) => {
        const id = mail.messageId ?? `${Date.now()}`;
        if (!known.has(id)) {
          const to = session.envelope.rcptTo.map(({ address }) => address).join(", ");
          const letter: Letter = { id, at: Date.now(), to, subject: mail.subject ?? "", text: mail.text ?? "" };
          appendFileSync(file, `${JSON.stringify(letter)}\n`);
          known.add(id);
          office.letters.push(letter);
        }
        done();
      })
      .catch((error: Error) => done(error));
  },
});
// A sender that was cut off is no trouble of ours.
smtp.on("error", (error: Error & { code?: string }) => error.code !== "ECONNRESET" && console.error(error.message));
smtp.listen(Number(smtpPort), "127.0.0.1");

createServer((request, response) => {
  const url = new URL(request.url ?? "/", "http://127.0.0.1");
  if (request.method === "POST") {
    const { origin, host } = request.headers;
    const mood = moods.find((one) => one === url.searchParams.get("mood"));
    if ((origin && new URL(origin).host !== host) || !mood) {
      response.writeHead(403).end();
      return;
    }
    office.mood = mood;
    response.writeHead(303, { location: "/" }).end();
    return;
  }
  if (url.pathname === "/letters.json") {
    response.writeHead(200, { "content-type": "application/json" }).end(JSON.stringify(office.letters));
    return;
  }
  if (url.pathname !== "/") {
    response.writeHead(404).end();
    return;
  }
  const page = postOfficePage(office, url.searchParams.get("to") ?? "");
  response.writeHead(200, { "content-type": "text/html; charset=utf-8" }).end(page);
})
  .listen(Number(pagePort), "127.0.0.1")
  .on("error", (error) => {
    console.error(error.message);
    process.exit(1);
  });
endWithParent();
