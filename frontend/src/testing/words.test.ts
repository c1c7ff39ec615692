/** Everything that is read on a screen stands in its room's `words.ts`, so that one file a room is all that is translated. */
import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import ts from "typescript";
import { describe, expect, it } from "vitest";

const SRC = join(import.meta.dirname, "..");
const READ_ALOUD = new Set(["aria-label", "title", "placeholder", "label", "alt", "aria-description"]);
const words = (text: string) => /\p{L}{2}/u.test(text);

function screens(folder: string): string[] {
  return readdirSync(folder, { withFileTypes: true }).flatMap((entry) => {
    const path = join(folder, entry.name);
    if (entry.isDirectory()) return entry.name === "testing" ? [] : screens(path);
    return entry.name.endsWith(".tsx") && !entry.name.includes(".test.") ? [path] : [];
  });
}

/** Words that a component writes itself. */
function written(path: string): string[] {
  const source = ts.createSourceFile(path, readFileSync(path, "utf8"), ts.ScriptTarget.Latest, true, ts.ScriptKind.TSX);
  const found: string[] = [];
  const visit = (node: ts.Node): void => {
    if (ts.isJsxText(node) && words(node.text)) found.push(node.text.trim());
    if (ts.isJsxAttribute(node) && READ_ALOUD.has(node.name.getText()) && node.initializer) {
      const value = node.initializer;
      if (ts.isStringLiteral(value) && words(value.text)) found.push(value.text);
    }
    ts.forEachChild(node, visit);
  };
  visit(source);
  return found;
}

describe("words of the screens", () => {
  it.each(screens(SRC).map((path) => [path.slice(SRC.length + 1), path]))("%s takes them from its room", (_, path) => {
    expect(written(path)).toEqual([]);
  });
});
