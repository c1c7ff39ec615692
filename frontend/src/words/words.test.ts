/** Everything that is read on a screen stands in the catalogue, and everything in the catalogue is read somewhere. */
import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import ts from "typescript";
import { describe, expect, it } from "vitest";
import en from "./en.json";
import { catalogueFor, t } from "./index";
import { marked, PSEUDO, pseudo } from "./pseudo";

const SRC = join(import.meta.dirname, "..");
const READ_ALOUD = new Set([
  "aria-label",
  "title",
  "placeholder",
  "label",
  "alt",
  "aria-description",
  "button",
  "more",
]);
// what looks like a sentence and is none: names that the server gives, keys, rules of style
const NO_TEXT =
  /^(assignment templates|after handing in|as it comes|piece report|not begun|handed in|upright lean|notes of ?|near upright|anchor line|eye level|phone link|not yet|edges and rims|straight (up|down)|once judged|at once|per cent|near uprights|input:not.*|measure measure.*|\(.*)$/;

function sources(folder: string): string[] {
  return readdirSync(folder, { withFileTypes: true }).flatMap((entry) => {
    const path = join(folder, entry.name);
    if (entry.isDirectory()) return ["testing", "words"].includes(entry.name) ? [] : sources(path);
    return /\.tsx?$/.test(entry.name) && !/\.test\.|schema\.d/.test(entry.name) ? [path] : [];
  });
}
const FILES = sources(SRC).map((path) => ({
  name: path.slice(SRC.length + 1),
  text: readFileSync(path, "utf8"),
  path,
}));

/** Words that a file writes itself. */
function written({ text, path }: (typeof FILES)[number]): string[] {
  const kind = path.endsWith("x") ? ts.ScriptKind.TSX : ts.ScriptKind.TS;
  const source = ts.createSourceFile(path, text, ts.ScriptTarget.Latest, true, kind);
  const found: string[] = [];
  const visit = (node: ts.Node): void => {
    if (ts.isImportDeclaration(node) || ts.isTypeNode(node) || ts.isInterfaceDeclaration(node)) return;
    if (ts.isCallExpression(node) && node.expression.getText() === "t") {
      for (const part of node.arguments.slice(1)) visit(part);
      return;
    }
    if (ts.isJsxText(node) && /\p{L}{2}/u.test(node.text)) found.push(node.text.trim());
    if (ts.isJsxAttribute(node)) {
      const value = node.initializer;
      if (!READ_ALOUD.has(node.name.getText()) && value && !ts.isJsxExpression(value)) return;
      if (node.name.getText() === "className") return;
      if (value && ts.isStringLiteral(value) && /\p{L}{2}/u.test(value.text)) found.push(value.text);
    } else if (ts.isStringLiteral(node) || ts.isTemplateExpression(node) || ts.isNoSubstitutionTemplateLiteral(node)) {
      const isKey = ts.isPropertyAssignment(node.parent) && node.parent.name === node;
      const plain = ts.isTemplateExpression(node)
        ? [node.head.text, ...node.templateSpans.map((span) => span.literal.text)].join(" ")
        : node.text;
      const sentence = /\p{L}{2,}[,:;.]? \p{L}{2,}/u.test(plain) && !/[a-z]+-[a-z]+/.test(plain);
      if (!isKey && sentence && !NO_TEXT.test(plain.trim())) found.push(plain);
    }
    ts.forEachChild(node, visit);
  };
  visit(source);
  return found;
}

const PLURAL = /_(zero|one|two|few|many|other)$/;
function leaves(tree: object, above = ""): [string, string][] {
  return Object.entries(tree).flatMap(([name, below]) =>
    typeof below === "string" ? [[`${above}${name}`, below] as [string, string]] : leaves(below, `${above}${name}.`),
  );
}
const TEXTS = leaves(en);

describe("words of the screens", () => {
  it.each(FILES)("$name takes them from the catalogue", (file) => {
    expect(written(file)).toEqual([]);
  });

  it("are all read somewhere", () => {
    const code = FILES.map((file) => file.text).join("\n");
    const named = new Set([...code.matchAll(/"([a-zA-Z0-9.]+)"/g)].map((match) => match[1]));
    const made = [...code.matchAll(/`([a-zA-Z.]+\.)\$\{/g)].map((match) => match[1] ?? "");
    const keys = TEXTS.map(([key]) => key.replace(PLURAL, ""));
    expect(keys.filter((key) => !named.has(key) && !made.some((begin) => key.startsWith(begin)))).toEqual([]);
  });

  it("have a form for one where they have one for many", () => {
    const keys = new Set(TEXTS.map(([key]) => key));
    const many = [...keys].filter((key) => key.endsWith("_other"));
    expect(many.filter((key) => !keys.has(key.replace("_other", "_one")))).toEqual([]);
    expect(many.length).toBeGreaterThan(10);
    expect(t("worksheets.pages", { count: 1 })).toBe("1 page, and as many with the answers");
    expect(t("worksheets.pages", { count: 240 })).toBe("240 pages, and as many with the answers");
  });
});

describe("the language", () => {
  it("is the first of the browser's that there is a catalogue for", async () => {
    expect((await catalogueFor(["zu", "en-GB", PSEUDO]))[0]).toBe("en");
    expect((await catalogueFor([]))[0]).toBe("en");
    expect((await catalogueFor([PSEUDO, "en"]))[0]).toBe(PSEUDO);
  });

  it("of tests marks every text, and leaves what is put in", () => {
    expect(marked("Keep {{value}} units")).toBe("⟦Kéép {{value}} ûñîts⟧");
    const texts = leaves(pseudo(en));
    expect(texts.map(([key]) => key)).toEqual(TEXTS.map(([key]) => key));
    expect(texts.every(([, text]) => text.startsWith("⟦") && text.endsWith("⟧"))).toBe(true);
  });
});
