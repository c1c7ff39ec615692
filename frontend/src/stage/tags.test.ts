import { describe, expect, it } from "vitest";
import type { Point } from "../api/types";
import { placeTags, TAG, type Tagged } from "./tags";

const line = (id: string, p: Point, q: Point): Tagged => ({ id, p, q });

describe("tags", () => {
  it("sit on the middle of their lines where there is room", () => {
    const places = placeTags([line("a", [0, 0], [200, 0]), line("b", [0, 100], [200, 100])]);
    expect(places.get("a")).toEqual({ at: [100, 0], leader: null });
    expect(places.get("b")).toEqual({ at: [100, 100], leader: null });
  });

  it("never cover one another, and lead back to their line where they leave it", () => {
    // a row of courses, closer together than a tag is high
    const rows = Array.from({ length: 12 }, (_, n) => line(`${n}`, [0, 6 * n], [120, 7 * n]));
    const places = [...placeTags(rows).values()];
    for (const [n, a] of places.entries())
      for (const b of places.slice(0, n))
        expect(Math.abs(a.at[0] - b.at[0]) >= TAG.width || Math.abs(a.at[1] - b.at[1]) >= TAG.height).toBe(true);
    expect(places.some((place) => place.leader)).toBe(true);
  });
});
