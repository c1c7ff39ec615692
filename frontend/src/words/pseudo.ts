/** A language that is English in other letters: whatever a screen says in plain letters stands in no catalogue. */

/** Its usual name, by which a browser may ask for it. */
export const PSEUDO = "en-XA";

const PLAIN = "aeiouyAEIOUYcn";
const MARKED = "àéîöûýÀÉÎÖÛÝçñ";

/** A text in it, between brackets; what is put into the text stays as it is. */
export function marked(text: string): string {
  const parts = text.split(/(\{\{.*?\}\})/);
  const letters = parts.map((part) =>
    part.startsWith("{{")
      ? part
      : part.replace(/[aeiouyAEIOUYcn]/g, (letter) => MARKED[PLAIN.indexOf(letter)] ?? letter),
  );
  return `⟦${letters.join("")}⟧`;
}

/** A catalogue in it. */
export function pseudo(texts: object): object {
  return Object.fromEntries(
    Object.entries(texts).map(([key, text]) => [key, typeof text === "string" ? marked(text) : pseudo(text)]),
  );
}
