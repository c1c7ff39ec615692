import { describe, expect, it } from "vitest";
import type { StandDrawing } from "../api/types";
import { along, arc, rest, strokesOf } from "./strokes";

const rim = {
  thing: "tin",
  name: "top",
  plane: "level",
  centre_px: [100, 50],
  middle_px: [100, 49],
  major_px: 80,
  minor_px: 20,
  major_tilt_deg: 0,
  degree_deg: 14.5,
  visible: [[0.5, 1]],
} as unknown as StandDrawing["rims"][number];

describe("the exact drawing as strokes", () => {
  it("runs a rim from the right end of its major axis, anticlockwise as seen", () => {
    const turn = arc(rim, 0, 1);
    expect(turn[0]).toEqual([140, 50]);
    expect(Math.min(...turn.slice(0, turn.length / 2).map(([, y]) => y))).toBeCloseTo(40);
    expect(arc(rim, 0.5, 1)[0]?.[0]).toBeCloseTo(60);
    expect(arc({ ...rim, major_tilt_deg: 90 }, 0, 0.1)[0]).toEqual([expect.closeTo(100), expect.closeTo(10)]);
  });

  it("tells what is hidden from what is seen", () => {
    expect(rest([])).toEqual([[0, 1]]);
    expect(rest([[0, 1]])).toEqual([]);
    expect(
      rest([
        [0.6, 1],
        [0, 0.2],
      ]),
    ).toEqual([[0.2, 0.6]]);
  });

  it("cuts a line at shares of its drawn length", () => {
    const bent = [
      [0, 0],
      [10, 0],
      [10, 30],
    ] as [number, number][];
    expect(along(bent, 0.125, 0.5)).toEqual([
      [5, 0],
      [10, 0],
      [10, 10],
    ]);
  });

  it("groups what is seen by family and leaves the rest to the hidden", () => {
    const edge = { thing: "box", family: "left", name: "", p: [0, 0], q: [10, 0], visible: [[0, 0.4]] };
    const drawing = {
      edges: [edge, { ...edge, family: "upright", visible: [] }],
      rims: [rim],
      outlines: [],
      curves: [],
      shadows: [],
      construction: [],
    } as unknown as StandDrawing;
    const { seen, hidden } = strokesOf(drawing);
    expect(seen.left).toBe("M0.00 0.00L4.00 0.00");
    expect(seen.upright).toBeUndefined();
    expect(hidden.startsWith("M4.00 0.00L10.00 0.00M0.00 0.00L10.00 0.00M140.00 50.00")).toBe(true);
  });
});
