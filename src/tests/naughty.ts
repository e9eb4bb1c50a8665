/** Texts that break what trusts them, a few of each class: what anybody may type, and no page may stumble over. */
export const naughtyStrings: Record<string, string[]> = {
  controls: ["a\u0000b", "a\u0007\u001bb", "a\r\nb", "\u0085\u2028\u2029"],
  "right to left": ["\u202eevil\u202c", "\u2067אבג\u2069", "مرحبا 123"],
  "no width": ["ad\u200bmin", "a\u200d\ufeffb", "\u2060"],
  surrogates: ["\ud800", "x\udc00y", "🐟", "👩‍👩‍👧‍👦".repeat(60)],
  combining: [`Z${"\u0351".repeat(80)}`, "e\u0301", "ﬁ ½ ℌ"],
  lookalikes: ["аdmin", "Ａｄａ", "pаypal.example"],
  formulas: ["=1+1", "+44", "@SUM(A1)", "-2", '=HYPERLINK("//evil")'],
  SQL: ["'; DROP TABLE people; --", "1 OR 1=1", "%' OR '_' LIKE '%", "\\"],
  HTML: ["<script>alert(1)</script>", '"><img src=x onerror=alert(1)>', "&lt;b&gt;", "<!-- -->", "javascript:alert(1)"],
  templates: ["{{7*7}}", "\u0024{7*7}", "<%= 7 %>", "{unknown}", "%s%n%x"],
  paths: ["../../etc/passwd", "C:\\nul", "/%2e%2e/", "a/b\\c"],
  words: ["__proto__", "constructor", "toString", "null", "undefined", "NaN", "-1", "1e309", ""],
};
export const naughty = Object.values(naughtyStrings).flat();
