/** In whose way the page writes dates and numbers: the server said so in its first tag. Imported by each island for what it does. */
import { setLocale } from "../../core/text/locale.ts";

// The server imports islands too.
const said = typeof document === "undefined" ? undefined : document.documentElement.dataset.locale;
if (said) setLocale(JSON.parse(said));
