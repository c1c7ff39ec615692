import { describe, expect, it } from "vitest";
import type { Point } from "../api/types";
import {
  curveThrough,
  distance,
  fitView,
  heightAt,
  lineAt,
  lineOnTo,
  ovalThrough,
  roundPoint,
  tiltOf,
  toPicture,
  toScreen,
  wrapTilt,
  zoomAt,
} from "./geometry";

describe("where picture points lie on the stage", () => {
  const view = fitView({ width: 1280, height: 960 }, { width: 860, height: 640 });

  it("fits the whole picture, centred", () => {
    const [x0, y0] = toScreen(view, [0, 0]);
    const [x1, y1] = toScreen(view, [1280, 960]);
    expect(x0 + x1).toBeCloseTo(860);
    expect(y0 + y1).toBeCloseTo(640);
    expect(Math.min(x0, y0)).toBeGreaterThanOrEqual(11.9);
  });

  it("runs a level on beyond the picture that it is given across", () =>
    expect([-640, 0, 1280, 1920].map((x) => heightAt(400, 420, 1280, x))).toEqual([390, 400, 420, 430]));

  it("comes back from the screen to the same point", () => {
    const point: Point = [412.3, 310.5];
    const back = toPicture(view, toScreen(view, point));
    expect(distance(back, point)).toBeLessThan(1e-9);
  });

  it("zooms about the pointer, within limits", () => {
    const at: Point = [300, 200];
    const before = toPicture(view, at);
    const closer = zoomAt(view, at, 3, 0.1, 12);
    expect(closer.k).toBeCloseTo(view.k * 3);
    expect(distance(toPicture(closer, at), before)).toBeLessThan(1e-9);
    expect(zoomAt(view, at, 1e6, 0.1, 12).k).toBe(12);
    expect(zoomAt(view, at, 1e-6, 0.1, 12).k).toBe(0.1);
  });
});

describe("tilts", () => {
  it("are positive when the line rises to the right", () => {
    expect(tiltOf([0, 100], [100, 0])).toBeCloseTo(45);
    expect(tiltOf([100, 0], [0, 100])).toBeCloseTo(45);
    expect(tiltOf([0, 0], [0, 50])).toBeCloseTo(90);
    expect(tiltOf([400, 200], [150, 250])).toBeCloseTo(11.31, 2);
  });

  it("stay above -90 and up to 90", () => {
    for (const angle of [-270, -180, -90, 0, 90, 91, 180, 269]) {
      expect(wrapTilt(angle)).toBeGreaterThan(-90);
      expect(wrapTilt(angle)).toBeLessThanOrEqual(90);
    }
    expect(wrapTilt(-90)).toBe(90);
  });

  it("draw lines of that tilt", () => {
    const [a, b] = lineAt([10, 20], 30, 50);
    expect(tiltOf(a, b)).toBeCloseTo(30);
    expect(distance(a, b)).toBeCloseTo(100);
  });
});

describe("small helpers", () => {
  it("rounds to hundredths of a pixel", () => expect(roundPoint([1.23456, 7.891])).toEqual([1.23, 7.89]));
});

describe("a line drawn on to its vanishing point", () => {
  const view = { k: 1, x: 0, y: 0 };

  it("ends at a near point, stops short of a far one, and runs along a tilt at infinity", () => {
    expect(lineOnTo([0, 0], { x_px: 30, y_px: 40, direction_deg: null }, view, 100)).toEqual([
      [0, 0],
      [30, 40],
    ]);
    expect(lineOnTo([0, 0], { x_px: 9000, y_px: 0, direction_deg: null }, view, 100)?.[1][0]).toBeCloseTo(400);
    expect(lineOnTo([0, 0], { x_px: null, y_px: null, direction_deg: 0 }, view, 100)).toEqual([
      [-100, 0],
      [100, 0],
    ]);
    expect(lineOnTo([0, 0], undefined, view, 100)).toBeNull();
  });
});

describe("an ellipse on the stage", () => {
  it("stands on its major axis and passes through the third point", () => {
    const oval = ovalThrough([380, 400], [620, 400], [500, 460]);
    expect(oval).toEqual({ centre: [500, 400], rx: 120, ry: 60, turn: 0 });
    const off = ovalThrough([380, 400], [620, 400], [560, 400 + 60 * Math.sqrt(0.75)]);
    expect(off.ry).toBeCloseTo(60, 6);
  });

  it("turns with its major axis and is a line through a point on it", () => {
    expect(ovalThrough([0, 0], [30, 30], [15, 15])).toMatchObject({ ry: 0 });
    expect(ovalThrough([0, 0], [30, 30], [15, 15]).turn).toBeCloseTo(45, 9);
  });
});

describe("a smooth line through points", () => {
  const at = (degrees: number, radius = 100): [number, number] => [
    radius * Math.cos((degrees * Math.PI) / 180),
    radius * Math.sin((degrees * Math.PI) / 180),
  ];
  /** The middles of its parts. */
  const middles = (path: string): [number, number][] => {
    const flat = path
      .split(/[MC ,]/)
      .filter(Boolean)
      .map(Number);
    const value = (k: number) => flat[k] ?? Number.NaN;
    return Array.from({ length: (flat.length - 2) / 6 }, (_, part) => {
      const middle = (k: number) => (value(k) + 3 * value(k + 2) + 3 * value(k + 4) + value(k + 6)) / 8;
      return [middle(6 * part), middle(6 * part + 1)];
    });
  };

  it("keeps to the circle between twelve points of it, at its ends and over a wider step too", () => {
    const path = curveThrough([0, 30, 60, 100, 130, 160, 190, 220, 250, 280, 305, 330].map((d) => at(d)));
    expect(middles(path)).toHaveLength(11);
    for (const [x, y] of middles(path)) expect(Math.abs(Math.hypot(x, y) - 100)).toBeLessThan(0.5);
  });

  it("is straight through points in a row", () => {
    const row: [number, number][] = [
      [0, 0],
      [10, 10],
      [40, 40],
    ];
    for (const [x, y] of middles(curveThrough(row))) expect(x).toBeCloseTo(y, 9);
  });
});
