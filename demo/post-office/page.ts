/** The post office's own page: what arrived, the latest first, and how it works at the moment. Plain forms, no script. */
export interface Letter {
  id: string;
  at: number;
  to: string;
  subject: string;
  text: string;
}
export const moods = ["delivers", "is down", "refuses"] as const;
export interface PostOffice {
  letters: Letter[];
  mood: (typeof moods)[number];
}

const inHtml = (text: string) =>
  text.replace(
    /[&<>"']/g,
    (letter) => ({ "&": "&amp;", "<": "&lt;", ">": "&gt;", '"': "&quot;", "'": "&#39;" })[letter] as string,
  );
const style = `body{font:15px/1.5 system-ui,sans-serif;max-width:60rem;margin:2rem auto;padding:0 1rem;background:#faf6ee;color:#221b12}
h1{font-size:1.4rem;margin:0}article{border-top:1px solid #d9d0bf;padding:.6rem 0}h2{font-size:1.05rem;margin:0}
p{margin:.2rem 0;white-space:pre-line}form{display:inline}button,input{font:inherit;margin-right:.4rem}small{color:#5b5042}`;
const most = 200;

export function postOfficePage({ letters, mood }: PostOffice, to: string): string {
  const wanted = to.trim().toLowerCase();
  const shown = letters.filter((one) => one.to.toLowerCase().includes(wanted)).reverse();
  const list = shown
    .slice(0, most)
    .map(
      ({ to: address, subject, text, at }) =>
        `<article><h2>${inHtml(subject)}</h2><small>to ${inHtml(address)}, ${new Date(at).toISOString().slice(0, 16).replace("T", " ")}</small><p>${inHtml(text)}</p></article>`,
    )
    .join("");
  return `<!doctype html><html lang="en-GB"><head><meta charset="utf-8"><title>Post office</title><style>${style}</style></head><body>
<h1>Post office</h1><p>It plays the mail server. It ${mood}. ${moods
    .filter((one) => one !== mood)
    .map(
      (one) => `<form method="post" action="/?mood=${encodeURIComponent(one)}"><button>Now it ${one}</button></form>`,
    )
    .join("")}</p>
<form method="get"><label>To <input name="to" value="${inHtml(to)}"></label><button>Find</button></form>
<p>${shown.length} ${shown.length === 1 ? "letter" : "letters"}${shown.length > most ? `, the latest ${most} of them here` : ""}</p>${list}</body></html>`;
}
