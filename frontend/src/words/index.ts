/** What the screens say. Every text stands in the catalogue of its language under a key that names what it means; a second language is one file beside `en.json`. */
import i18next from "i18next";
import en from "./en.json";
import { PSEUDO, pseudo } from "./pseudo";

type Leaves<Tree> = {
  [Name in keyof Tree & string]: Tree[Name] extends string ? Name : `${Name}.${Leaves<Tree[Name]>}`;
}[keyof Tree & string];
/** A text that counts something has one form for each plural of its language, and is asked for by what they share. */
type Counted<Name extends string> = Name extends `${infer Shared}_${"zero" | "one" | "two" | "few" | "many" | "other"}`
  ? Shared
  : Name;
export type Key = Counted<Leaves<typeof en>>;
/** What is put into a text, by name; `count` chooses the plural. */
export type Parts = Record<string, string | number>;

const HERE = "en";
const others = import.meta.glob<{ default: object }>(["./*.json", "!./en.json"]);

/** The catalogue for the first of these languages that there is one for; English otherwise. */
export async function catalogueFor(languages: readonly string[]): Promise<[string, object]> {
  for (const language of languages) {
    if (language === PSEUDO) return [PSEUDO, pseudo(en)];
    const [spoken = ""] = language.split("-");
    if (spoken === HERE) break;
    const load = others[`./${language}.json`] ?? others[`./${spoken}.json`];
    if (load) return [spoken, (await load()).default];
  }
  return [HERE, en];
}

const [language, texts] = await catalogueFor(globalThis.navigator?.languages ?? [HERE]);
const messages = i18next.createInstance();
await messages.init({
  lng: language,
  fallbackLng: HERE,
  resources: { [HERE]: { translation: en }, [language]: { translation: texts } },
  nsSeparator: false,
  interpolation: { escapeValue: false }, // what is shown is text, never markup
});
if (globalThis.document) globalThis.document.documentElement.lang = language;

/** The text under a key, in the browser's language. */
export function t(key: Key, parts: Parts = {}): string {
  return messages.t(key, parts);
}
