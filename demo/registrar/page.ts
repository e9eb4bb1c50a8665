/** The stand-in's own page: what the registrar says, and buttons to change it. Plain forms, no script. */
import { moods, type Registrar, type User } from "./state.ts";

const inHtml = (text: string) =>
  text.replace(
    /[&<>"']/g,
    (letter) => ({ "&": "&amp;", "<": "&lt;", ">": "&gt;", '"': "&quot;", "'": "&#39;" })[letter] as string,
  );
const nameOf = (user: User) => inHtml(`${user.familyName}, ${user.givenName}`);
const option = (value: string, label: string, selected = false) =>
  `<option value="${inHtml(value)}"${selected ? " selected" : ""}>${label}</option>`;

const style = `body{font:15px/1.5 system-ui,sans-serif;max-width:60rem;margin:2rem auto;padding:0 1rem;background:#faf6ee;color:#221b12}
h1{font-size:1.4rem;margin:0}h2{font-size:1.1rem;margin:1.5rem 0 .3rem}table{border-collapse:collapse;width:100%}
td{border-top:1px solid #d9d0bf;padding:.15rem .5rem .15rem 0}form{display:inline}button,select{font:inherit;margin-right:.4rem}
summary{cursor:pointer;font-weight:600}`;

export function registrarPage(registrar: Registrar): string {
  const { classes, students, users, mood } = registrar;
  const sorted = Object.values(users).sort((a, b) => nameOf(a).localeCompare(nameOf(b)));
  const sections = classes.map(({ sourcedId, classCode, title }) => {
    const own = students[sourcedId] ?? [];
    const rows = sorted
      .filter((user) => own.includes(user.sourcedId))
      .map(
        (user) => `<tr><td>${nameOf(user)}</td><td>${inHtml(user.sourcedId)}</td><td>
<form method="post" action="/drop"><input type="hidden" name="user" value="${inHtml(user.sourcedId)}"><input type="hidden" name="class" value="${inHtml(sourcedId)}"><button aria-label="Drop ${nameOf(user)}">Drop</button></form>
<form method="post" action="/move"><input type="hidden" name="user" value="${inHtml(user.sourcedId)}"><input type="hidden" name="class" value="${inHtml(sourcedId)}"><select name="to" aria-label="Move ${nameOf(user)} to">${classes
          .filter((other) => other.sourcedId !== sourcedId)
          .map((other) => option(other.sourcedId, inHtml(other.classCode)))
          .join("")}</select><button>Move</button></form></td></tr>`,
      )
      .join("");
    return `<details><summary>${inHtml(classCode)} ${inHtml(title)}, ${own.length} students</summary>
<p><form method="post" action="/add"><input type="hidden" name="class" value="${inHtml(sourcedId)}"><select name="user" aria-label="Add to ${inHtml(classCode)}">${sorted
      .filter((user) => !own.includes(user.sourcedId))
      .map((user) => option(user.sourcedId, `${nameOf(user)}, ${inHtml(user.sourcedId)}`))
      .join("")}</select><button>Add to ${inHtml(classCode)}</button></form></p><table>${rows}</table></details>`;
  });
  return `<!doctype html><html lang="en-GB"><head><meta charset="utf-8"><title>Registrar stand-in</title><style>${style}</style></head><body>
<h1>Registrar stand-in</h1><p>It plays the institution's registrar for the demo. What you change here is what the next pull brings.</p>
<form method="post" action="/mood"><label>The service is <select name="mood">${moods.map((each) => option(each, each, each === mood)).join("")}</select></label><button>Set</button></form>
<h2>Classes</h2>${sections.join("")}</body></html>`;
}
