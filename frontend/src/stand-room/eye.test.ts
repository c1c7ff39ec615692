import { describe, expect, it } from "vitest";
import { axesOf, cross, distanceTo, metresAPixel, projectionOf, raised, type Spot, walked, wholeView } from "./eye";

const view = wholeView({ eye_m: [0.2, -3, 1.6], heading_deg: 10, pitch_deg: -12 });
const pivot: Spot = [0.1, 0.3, 0.4];

/** Where a point shows, in pixels. */
function seen(from: typeof view, point: Spot): [number, number] {
  const { right, up, ahead } = axesOf(from);
  const off = point.map((v, n) => v - (from.eye_m[n] ?? 0)) as Spot;
  const dot = (a: Spot) => a[0] * off[0] + a[1] * off[1] + a[2] * off[2];
  const p = [dot(right), dot(up), -dot(ahead), 1];
  const m = projectionOf(from, 0.1, 100);
  const row = (r: number) => p.reduce((sum, v, c) => sum + (m[4 * c + r] ?? 0) * v, 0);
  return [((row(0) / row(3) + 1) / 2) * from.width_px, ((1 - row(1) / row(3)) / 2) * from.height_px];
}

describe("the eye", () => {
  it("looks along +y at heading 0, to the right of it with a positive heading, up with a positive pitch", () => {
    expect(axesOf(wholeView({})).ahead).toEqual([0, 1, 0]);
    expect(axesOf(wholeView({ heading_deg: 90 })).ahead[0]).toBeCloseTo(1);
    expect(axesOf(wholeView({ pitch_deg: 90 })).ahead[2]).toBeCloseTo(1);
  });

  it("has three axes square to one another, however it is turned", () => {
    for (const pitch_deg of [-80, 0, 35])
      for (const roll_deg of [0, 25]) {
        const { right, up, ahead } = axesOf(wholeView({ heading_deg: 77, pitch_deg, roll_deg }));
        for (const [n, v] of cross(right, up).entries()) expect(v).toBeCloseTo(-(ahead[n] ?? 0));
      }
  });

  it("dips its right when it is rolled clockwise", () => {
    expect(axesOf(wholeView({ roll_deg: 10 })).right[2]).toBeLessThan(0);
  });

  it("keeps what it walks round at its place and distance", () => {
    const after = walked(view, pivot, 40);
    expect(distanceTo(after, pivot)).toBeCloseTo(distanceTo(view, pivot));
    for (const [n, v] of seen(after, pivot).entries()) expect(v).toBeCloseTo(seen(view, pivot)[n] ?? 0);
    expect(walked(after, pivot, -40).eye_m[0]).toBeCloseTo(view.eye_m[0]);
  });

  it("rises straight up, and what it looks at keeps its height in the picture", () => {
    const after = raised(view, pivot, 0.7);
    expect(after.eye_m).toEqual([0.2, -3, 2.3]);
    expect(after.pitch_deg).toBeLessThan(view.pitch_deg);
    const straight = wholeView({ eye_m: [0.1, -3, 1.6], pitch_deg: -12 });
    expect(seen(raised(straight, pivot, 0.7), pivot)[1]).toBeCloseTo(seen(straight, pivot)[1], 3);
  });

  it("goes on looking level, straight up or straight down while it rises", () => {
    for (const pitch_deg of [0, 90, -90]) expect(raised(wholeView({ pitch_deg }), pivot, 1).pitch_deg).toBe(pitch_deg);
  });

  it("shows a metre in every parallel view as long as it says", () => {
    const flat = { eye_m: [0, 0, 0] as Spot, px_per_m: 100 };
    const square = wholeView({ ...flat, parallel: "square" });
    expect(seen(square, [1, 5, 0])[0] - 640).toBeCloseTo(100);
    const iso = wholeView({ ...flat, parallel: "isometric", heading_deg: -45 });
    for (const end of [
      [1, 0, 0],
      [0, 1, 0],
      [0, 0, 1],
    ] as Spot[]) {
      const [x, y] = seen(iso, end);
      expect(Math.hypot(x - 640, y - 480)).toBeCloseTo(100);
    }
    const oblique = wholeView({ ...flat, parallel: "oblique", oblique_deg: 45, depth_scale: 0.5 });
    const [x, y] = seen(oblique, [0, 1, 0]);
    expect([x - 640, 480 - y].map((v) => v / 50)).toEqual([expect.closeTo(Math.SQRT1_2), expect.closeTo(Math.SQRT1_2)]);
  });

  it("tells what a pixel measures where it looks", () => {
    expect(metresAPixel(wholeView({ eye_m: [0, -2, 0], focal_35mm: 36 }), [0, 0, 0])).toBeCloseTo(2 / 1280);
    expect(metresAPixel(wholeView({ parallel: "square", px_per_m: 50 }), pivot)).toBe(0.02);
  });
});
