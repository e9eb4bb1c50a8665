/**
 * The stand-in for an institution's identity provider, by OpenID Connect: `tsx demo/identity/serve.ts PORT ORIGIN SECRET`, where
 * ORIGIN is the application's. Everybody of the demo has its password; a second factor is the code that its page names.
 * Loopback only.
 */
import { readFileSync } from "node:fs";
import { createServer, type IncomingMessage, type ServerResponse } from "node:http";
import { join } from "node:path";
import Provider, { type Configuration } from "oidc-provider";
import { endWithParent } from "../stand-in.ts";
import { identities } from "./people.ts";

const [port = "4325", origin = "http://127.0.0.1:4321", secret = ""] = process.argv.slice(2);
const { password } = JSON.parse(readFileSync(join(import.meta.dirname, "../sign-ins.json"), "utf8"));
const secondFactor = "246810";
const people = identities();
const scope = "openid profile email registrar";

const configuration: Configuration = {
  clients: [
    {
      client_id: "amber-weave",
      client_secret: secret,
      redirect_uris: [`${origin}/sign-in/back/college`],
      post_logout_redirect_uris: [`${origin}/sign-in`],
    },
  ],
  scopes: scope.split(" "),
  claims: {
    openid: ["sub", "acr"],
    profile: ["name", "given_name", "family_name", "preferred_username"],
    email: ["email"],
    registrar: ["registrar_id"],
  },
  // What was asked for stands in the ID token.
  conformIdTokenClaims: false,
  acrValues: ["mfa"],
  cookies: { keys: [secret] },
  pkce: { required: () => true },
  interactions: { url: (_, interaction) => `/interaction/${interaction.uid}` },
  features: {
    devInteractions: { enabled: false },
    rpInitiatedLogout: {
      enabled: true,
      // Whoever comes from signing out has said so already.
      logoutSource(context, form) {
        context.body = page(
          "Signing out",
          `${form}<button form="op.logoutForm" name="logout" value="yes">Sign out here too</button>`,
        );
      },
    },
  },
  async findAccount(_, id) {
    const found = people.get(id);
    if (!found) return undefined;
    const { username, sourcedId, givenName, familyName, email } = found;
    return {
      accountId: id,
      claims: async () => ({
        ...{ sub: username, preferred_username: username, registrar_id: sourcedId, email },
        ...{ name: `${givenName} ${familyName}`, given_name: givenName, family_name: familyName },
      }),
    };
  },
  // The institution consents for its people.
  async loadExistingGrant(context) {
    const { oidc } = context;
    const grant = new oidc.provider.Grant({
      clientId: oidc.client?.clientId ?? "",
      accountId: oidc.session?.accountId ?? "",
    });
    grant.addOIDCScope(scope);
    await grant.save();
    return grant;
  },
};
const provider = new Provider(`http://127.0.0.1:${port}`, configuration);

function page(title: string, inner: string): string {
  return `<!doctype html><html lang="en-GB"><head><meta charset="utf-8"><title>${title}</title>
<style>body{font:16px/1.5 system-ui,sans-serif;max-width:24rem;margin:12vh auto;padding:0 1rem;background:#eef3f4;color:#1b2224}
label{display:block;margin:.6rem 0}input{display:block;width:100%;font:inherit;padding:.3rem}button{font:inherit;padding:.4rem 1rem}</style>
</head><body><h1>${title}</h1><p>The stand-in for Tarnbeck College's identity provider.</p>${inner}</body></html>`;
}
const askName = (wrong: string, needsCode: boolean) =>
  page(
    "Who are you?",
    `${wrong && `<p role="alert">${wrong}</p>`}<form method="post"><label>Username<input name="username" autofocus></label>
<label>Password<input name="password" type="password"></label>
${needsCode ? `<label>Code (it is ${secondFactor})<input name="code" inputmode="numeric"></label>` : ""}<button>Continue</button></form>`,
  );

async function readForm(request: IncomingMessage): Promise<URLSearchParams> {
  let text = "";
  for await (const piece of request) if (text.length < 5000) text += piece;
  return new URLSearchParams(text);
}

/** Asks who somebody is, and for the code where a second factor is wanted. */
async function interact(request: IncomingMessage, response: ServerResponse): Promise<void> {
  const { params } = await provider.interactionDetails(request, response);
  const needsCode = String(params.acr_values ?? "") === "mfa";
  let wrong = "";
  if (request.method === "POST") {
    const form = await readForm(request);
    const username = form.get("username") ?? "";
    const isRight = people.has(username) && form.get("password") === password;
    // Without the code somebody is signed in all the same: it is the application that may want more.
    const acr = needsCode && form.get("code") === secondFactor ? { acr: "mfa" } : {};
    if (isRight) {
      const login = { accountId: username, remember: false, ...acr };
      await provider.interactionFinished(request, response, { login }, { mergeWithLastSubmission: false });
      return;
    }
    wrong = "That is not right.";
  }
  response.writeHead(200, { "content-type": "text/html; charset=utf-8" }).end(askName(wrong, needsCode));
}

const answer = provider.callback();
const server = createServer((request, response) => {
  if (request.url?.startsWith("/interaction/")) interact(request, response).catch(() => response.writeHead(400).end());
  else answer(request, response);
}).listen(Number(port), "127.0.0.1");
server.on("error", (error) => {
  console.error(error.message);
  process.exit(1);
});
endWithParent();
