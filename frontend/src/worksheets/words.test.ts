import { describe, expect, it } from "vitest";
import { anySeed, madeWords, pagesWords } from "./words";

describe("worksheets in words", () => {
  it("counts a page for each exercise of each copy", () => {
    expect(pagesWords(8, 30)).toBe("240 pages, and as many with the answers");
    expect(pagesWords(1, 1)).toBe("1 page, and as many with the answers");
  });

  it("tells the day by the browser's own way", () => {
    expect(madeWords("2026-11-05T18:00:00Z")).toContain("November");
  });

  it("draws seeds that the server takes", () => {
    for (let k = 0; k < 50; k++) {
      const seed = anySeed();
      expect(Number.isInteger(seed) && seed >= 0 && seed < 2 ** 31).toBe(true);
    }
  });
});
