import { describe, expect, it } from "vitest";
import type { Family } from "../api/types";
import { degreesText, FAMILIES, leanText, PLANES, planeOf } from "./marks";

describe("telling families apart", () => {
  it("goes by letter and dash first: only depth and across, which never stand on one form with left and right, share a dash", () => {
    const names: Family[] = ["left", "right", "upright", "depth", "across", "slope"];
    expect(names.map((name) => FAMILIES[name].letter)).toEqual(["L", "R", "U", "D", "A", "S"]);
    const dashes = names.map((name) => FAMILIES[name].dash);
    expect(new Set(dashes).size).toBe(names.length - 1);
    expect(FAMILIES.depth.dash).toBe(FAMILIES.across.dash);
    expect(Object.keys(FAMILIES).sort()).toEqual([...names].sort());
  });

  it("gives a rim's plane a ring and the letter of the family that its axis follows", () => {
    for (const [plane, mark] of Object.entries(PLANES)) {
      expect(mark.letter).toBe(`◯${FAMILIES[mark.family].letter}`);
      expect(planeOf(mark.family)).toBe(plane);
    }
    expect(planeOf("slope")).toBeNull();
  });

  it("writes degrees with a true minus, and leans in words", () => {
    expect(degreesText(-4.26)).toBe("−4.3°");
    expect(degreesText(-0.01)).toBe("0.0°");
    expect(degreesText(null)).toBe("–");
    expect(leanText(0.01)).toBe("plumb");
    expect(leanText(-1.44)).toBe("1.4° left");
  });
});
