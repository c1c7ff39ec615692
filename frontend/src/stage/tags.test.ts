import { describe, expect, it } from "vitest";
import type { Point } from "../api/types";
import { placeTags, TAG, type Tagged } from "./tags";

const STAGE = { width: 800, height: 600 };
const line = (id: string, p: Point, q: Point): Tagged => ({ id, p, q });

describe("tags", () => {
  it("sit on the middle of their lines where there is room", () => {
    const places = placeTags([line("a", [30, 40], [170, 40]), line("b", [30, 100], [170, 100])], STAGE);
    expect(places.get("a")).toEqual({ at: [100, 40], leader: null });
    expect(places.get("b")).toEqual({ at: [100, 100], leader: null });
  });

  it("never cover one another, and lead back to their line where they leave it", () => {
    // a row of courses, closer together than a tag is high
    const rows = Array.from({ length: 12 }, (_, n) => line(`${n}`, [30, 60 + 6 * n], [150, 60 + 7 * n]));
    const places = [...placeTags(rows, STAGE).values()];
    for (const [n, a] of places.entries())
      for (const b of places.slice(0, n))
        expect(Math.abs(a.at[0] - b.at[0]) >= TAG.width || Math.abs(a.at[1] - b.at[1]) >= TAG.height).toBe(true);
    expect(places.some((place) => place.leader)).toBe(true);
  });

  it("stay on the stage while any of their line shows", () => {
    const places = placeTags([line("a", [300, -400], [300, 60]), line("b", [-900, 200], [40, 200])], STAGE);
    for (const { at } of places.values()) {
      expect(at[0]).toBeGreaterThanOrEqual(TAG.width / 2);
      expect(at[1]).toBeGreaterThanOrEqual(TAG.height / 2);
    }
    expect(placeTags([line("off", [0, -90], [50, -80])], STAGE).get("off")?.leader).toBeNull();
  });
});
