// @vitest-environment jsdom
import { describe, expect, it } from "vitest";
import { Shading, surfaceOf } from "./shading";

/** Signed volume that triangles close in, positive where all are turned outwards. */
function volume(solid: Parameters<typeof surfaceOf>[0]): number {
  const p = surfaceOf(solid).getAttribute("position");
  let total = 0;
  for (let i = 0; i < p.count; i += 3) {
    const [a, b, c] = [0, 1, 2].map((k) => [p.getX(i + k), p.getY(i + k), p.getZ(i + k)]) as [
      number[],
      number[],
      number[],
    ];
    const [ax = 0, ay = 0, az = 0] = a;
    const [bx = 0, by = 0, bz = 0] = b;
    const [cx = 0, cy = 0, cz = 0] = c;
    total += (ax * (by * cz - bz * cy) + ay * (bz * cx - bx * cz) + az * (bx * cy - by * cx)) / 6;
  }
  return total;
}

const lathe = {
  origin: [1, 2, 3] as [number, number, number],
  axis: [0, 0, 1] as [number, number, number],
  first_way: [1, 0, 0] as [number, number, number],
  radius: [0, 0.5, 0.5, 0],
  height: [0, 0, 2, 2],
  corner: [true, true, true, true],
};

describe("surfaces to be shaded", () => {
  it("close a turned form, all turned outwards", () => {
    expect(volume({ faces: [], lathes: [lathe] })).toBeCloseTo(Math.PI * 0.25 * 2, 1);
  });

  it("leave a hole open in a flat face", () => {
    const square = (h: number): [number, number, number][] => [
      [-h, -h, 1],
      [h, -h, 1],
      [h, h, 1],
      [-h, h, 1],
    ];
    // seen from the origin a face at height 1 closes in a third of its area
    const whole = volume({ faces: [{ normal: [0, 0, 1], rings: [square(1)] }], lathes: [] });
    const holed = volume({ faces: [{ normal: [0, 0, 1], rings: [square(1), square(0.5).reverse()] }], lathes: [] });
    expect([whole, holed]).toEqual([expect.closeTo(4 / 3), expect.closeTo(1)]);
  });

  it("are shaded smooth over a round profile and sharp at its corners", () => {
    const normalsAt = (corner: boolean) => {
      const surface = surfaceOf({
        faces: [],
        lathes: [{ ...lathe, radius: [0.5, 0.4, 0], height: [0, 1, 1.2], corner: [true, corner, true] }],
      });
      const [position, normal] = [surface.getAttribute("position"), surface.getAttribute("normal")];
      const found = new Set<string>();
      for (let i = 0; i < position.count; i++)
        if (Math.abs(position.getZ(i) - 4) < 1e-6) found.add(normal.getZ(i).toFixed(3));
      return found.size;
    };
    expect([normalsAt(true), normalsAt(false)]).toEqual([2, 1]);
  });

  it("cannot be shaded where there is no WebGL, which says so", () => {
    expect(() => new Shading(document.createElement("canvas"))).toThrow();
  });
});
