// The one way from a text in the code to what is said: the English text is its key in the catalogue of each language.
// The language is settled before anything of the interface is loaded (`startLanguage`), and a page has one.
import i18next from "i18next";

import { type Manner, manner, setManner } from "@/lib/manner";

const translator = i18next.createInstance();
void translator.init({
  lng: "en",
  fallbackLng: false,
  initAsync: false,
  keySeparator: false,
  nsSeparator: false,
  resources: {},
  interpolation: { prefix: "{", suffix: "}", escapeValue: false, skipOnVariables: true },
});

export type Args = Record<string, unknown>;
export type Words = Record<string, string>;

/** Numbers as the language writes them. */
function written(args: Args): Args {
  return Object.fromEntries(Object.entries(args).map(([k, v]) => [k, typeof v === "number" ? number(v) : (v ?? "")]));
}

/** A text in the page's language; `{name}` in it is filled from `args`. */
export function tr(text: string, args: Args = {}): string {
  return contracted(translator.t(text, { replace: written(args) }));
}

/** Spanish writes *de el* and *a el* as one word, which is only seen once a text is filled. */
const contracted = (text: string): string => (manner().language === "es" ? text.replace(/\b(de|a) el\b/gi, "$1l") : text);

/** A text that depends on how many: `{count}` in it. The catalogue has a form for each plural of its language. */
export function trn(one: string, many: string, count: number, args: Args = {}): string {
  return translator.t(one, { count, defaultValue_one: one, defaultValue_other: many, replace: { ...written(args), count: number(count) } });
}

/** A number with the language's own signs; as many decimals as asked, else as many as it has. */
export function number(value: number, decimals?: number): string {
  const digits = decimals === undefined ? { maximumFractionDigits: 6 } : { minimumFractionDigits: decimals, maximumFractionDigits: decimals };
  return new Intl.NumberFormat(locale(), digits).format(value);
}

/** Of the page's language, for dates and numbers. English writes day before month, as the academy does. */
export const locale = () => (manner().language === "en" ? "en-GB" : manner().language);

/** *a, b and c*. */
export const listed = (words: readonly string[]) => new Intl.ListFormat(locale(), { type: "conjunction" }).format(words);

/** What follows is said in this manner. */
export function speak(how: Manner, words: Words): void {
  translator.addResourceBundle(how.language, "translation", words, false, true);
  void translator.changeLanguage(how.language);
  setManner(how);
  document.documentElement.lang = how.language;
}

/** A text that is kept or compared as it stands, and said in the page's language where it is shown (`tr`). */
export const mark = <T extends string>(text: T): T => text;
