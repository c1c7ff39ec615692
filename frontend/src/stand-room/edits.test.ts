import { describe, expect, it } from "vitest";
import type { StandFile, StandThing } from "../api/types";
import { putThing, removeThing, seatsFor, stack, thingsOf, turnThing } from "./edits";
import { MEASURES, read, written } from "./fields";
import { withoutPoint, withPoint } from "./outline";

const box = (id: string, more: Partial<StandThing> = {}) =>
  ({ id, kind: "box", size_m: [1, 1, 1], at_m: [0, 0], ...more }) as StandThing;
const file: StandFile = {
  things: [
    box("a", { at_m: [2, 3] }),
    box("b", { on: "a" }),
    box("c", { on: "b" }),
    { id: "cut", kind: "section", of: "a", along: "x", share: 0.5 } as StandThing,
  ],
};

describe("changes to a set-up", () => {
  it("stands a thing over the middle of another, and back on the ground", () => {
    const stacked = stack(file, "c", "a");
    expect(thingsOf(stacked)[2]).toMatchObject({ on: "a", at_m: [2, 3] });
    expect(thingsOf(stack(stacked, "c", null))[2]).toMatchObject({ on: null, base_m: 0 });
  });

  it("offers nothing to stand on that stands on the thing itself", () => {
    expect(seatsFor(file, "a")).toEqual([]);
    expect(seatsFor(file, "c").map((thing) => thing.id)).toEqual(["a", "b"]);
  });

  it("lets down what stood on a thing that is taken off, and takes planes through it along", () => {
    const left = thingsOf(removeThing(file, "a"));
    expect(left.map((thing) => [thing.id, thing.on])).toEqual([
      ["b", null],
      ["c", "b"],
    ]);
  });

  it("puts a thing in the place of its former self, or at the end", () => {
    expect(thingsOf(putThing(file, box("b", { turn_deg: 5 }))).map((thing) => thing.id)).toEqual([
      "a",
      "b",
      "c",
      "cut",
    ]);
    expect(thingsOf(putThing(file, box("d"))).at(-1)?.id).toBe("d");
  });

  it("turns within one turn, and leaves alone what is not there", () => {
    expect(thingsOf(turnThing({ things: [box("a", { turn_deg: 358 })] }, "a", 5))[0]?.turn_deg).toBe(3);
    expect(turnThing(file, "nothing", 5)).toBe(file);
  });
});

describe("measures", () => {
  it("are read and written where they lie", () => {
    const height = MEASURES.box[2];
    if (!height) throw new Error("a box has a height");
    const taller = written(box("a"), height.at, 2);
    expect(read(taller, height.at)).toBe(2);
    expect(read(box("a"), height.at)).toBe(1);
    expect(read(box("a"), ["wall_m"])).toBeNull();
  });
});

describe("points of an outline", () => {
  const ring = {
    points: [
      [0, 0],
      [2, 0],
      [2, 2],
    ] as [number, number][],
    smooth: [2],
  };

  it("are added halfway to the next, the last point's before the first of a closed one", () => {
    expect(withPoint(ring, 0, true)).toEqual({
      points: [
        [0, 0],
        [1, 0],
        [2, 0],
        [2, 2],
      ],
      smooth: [3],
    });
    expect(withPoint(ring, 2, true).points.at(-1)).toEqual([1, 1]);
    expect(withPoint(ring, 2, false).points[2]).toEqual([2, 1]);
  });

  it("are taken away with their curve", () => {
    expect(withoutPoint(ring, 2)).toEqual({
      points: [
        [0, 0],
        [2, 0],
      ],
      smooth: [],
    });
    expect(withoutPoint(ring, 0).smooth).toEqual([1]);
  });
});
