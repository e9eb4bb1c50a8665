/** In whose way a worker of a page writes dates and numbers: the page said so in the worker's name. */
import { setLocale } from "../core/text/locale.ts";

if (self.name) setLocale(JSON.parse(self.name));
