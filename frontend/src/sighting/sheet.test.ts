import { describe, expect, it } from "vitest";
import type { Sheet } from "../api/client";
import { isTyping, KEY_SHEET } from "../app/keys";
import {
  addArcPoint,
  addEdge,
  addForm,
  addRim,
  dropArcPoint,
  formsOf,
  handlesOf,
  moveHandle,
  remove,
  rename,
  reorder,
  setFamily,
  setFormKind,
  setPlane,
  setSlope,
  sightingsOf,
  slopesOf,
} from "./edits";
import { degreesText, FAMILIES, FAMILY_KEYS, leanText, PLANES, planeOf } from "./families";
import { begin, keep, preview, redo, shown, undo } from "./history";
import { sheetsOff, spreadOut } from "./LongTable";

const blank: Sheet = {
  picture: { width_px: 100, height_px: 80 },
  forms: [{ id: "form-1", name: "Form 1" }],
  sightings: [],
};
const first = addEdge(blank, { form: "form-1", family: "left", p: [1, 2], q: [30, 4], judged_tilt_deg: 5 });
const two = addEdge(first.sheet, { form: "form-1", family: "left", p: [1, 20], q: [30, 14], judged_tilt_deg: null });

describe("history", () => {
  it("undoes and redoes, and forgets the future after a change", () => {
    let h = keep(keep(begin(1), 2), 3);
    h = undo(h);
    expect(shown(h)).toBe(2);
    expect(shown(redo(h))).toBe(3);
    h = keep(h, 9);
    expect(redo(h)).toBe(h);
    expect(shown(undo(undo(h)))).toBe(1);
    expect(undo(begin(1)).present).toBe(1);
  });

  it("shows a change while it is made without keeping it", () => {
    const h = preview(begin(1), 7);
    expect(shown(h)).toBe(7);
    expect(shown(preview(h, null))).toBe(1);
    expect(h.past).toHaveLength(0);
  });

  it("keeps nothing when nothing changed", () => expect(keep(begin("a"), "a").past).toHaveLength(0));
});

describe("changing a sheet", () => {
  it("numbers edges of a family and never reuses an id", () => {
    expect(sightingsOf(two.sheet).map((s) => s.name)).toEqual(["left 1", "left 2"]);
    const third = addEdge(remove(two.sheet, "e1"), {
      form: "form-1",
      family: "right",
      p: [0, 0],
      q: [9, 9],
      judged_tilt_deg: 1,
    });
    expect(new Set(sightingsOf(third.sheet).map((s) => s.id)).size).toBe(2);
  });

  it("leaves the sheet it came from untouched", () => {
    const moved = moveHandle(two.sheet, "e1", "q", [50, 50]);
    expect(moved).not.toBe(two.sheet);
    expect(sightingsOf(two.sheet)[0]).toMatchObject({ q: [30, 4] });
    expect(sightingsOf(moved)[0]).toMatchObject({ q: [50, 50], judged_tilt_deg: 5 });
  });

  it("renames with the family only what was named after it", () => {
    expect(sightingsOf(setFamily(two.sheet, "e1", "upright"))[0]?.name).toBe("upright 1");
    const named = rename(two.sheet, "e1", "Ridge");
    expect(sightingsOf(setFamily(named, "e1", "slope"))[0]).toMatchObject({ name: "Ridge", slope: "slope-1" });
  });

  it("forgets the slope when an edge is no slope any more", () => {
    const sloping = setSlope(setFamily(two.sheet, "e1", "slope"), "e1", "slope-2");
    expect(slopesOf(sloping, "form-1")).toEqual(["slope-2"]);
    expect(sightingsOf(setFamily(sloping, "e1", "left"))[0]).not.toHaveProperty("slope");
  });

  it("reorders within the list", () => {
    expect(sightingsOf(reorder(two.sheet, "e1", 1)).map((s) => s.id)).toEqual(["e2", "e1"]);
    expect(reorder(two.sheet, "e1", -1)).toBe(two.sheet);
  });

  it("adds forms under fresh names", () => {
    const added = addForm(addForm(blank).sheet);
    expect(formsOf(added.sheet).map((f) => f.id)).toEqual(["form-1", "form-2", "form-3"]);
  });
});

describe("the long table", () => {
  it("counts in sheet widths from the nearer edge", () => {
    expect(sheetsOff(-640, 1280)).toBe("0.5 sheets left");
    expect(sheetsOff(3200, 1280)).toBe("1.5 sheets right");
    expect(sheetsOff(600, 1280)).toBe("on the sheet");
  });

  it("gives labels that would touch rows of their own", () => {
    const rows = spreadOut(
      [0, 10, 20, 200].map((x) => ({ x, half: 30 })),
      4,
    ).map((l) => l.row);
    expect(rows).toEqual([0, 1, 2, 0]);
  });
});

describe("telling families apart", () => {
  it("gives each a letter and a dash of its own, and a key", () => {
    const marks = Object.values(FAMILIES);
    expect(new Set(marks.map((m) => m.letter)).size).toBe(marks.length);
    expect(new Set(Object.values(FAMILY_KEYS)).size).toBe(marks.length);
  });

  it("writes degrees with a true minus, and leans in words", () => {
    expect(degreesText(-4.26)).toBe("−4.3°");
    expect(degreesText(-0.01)).toBe("0.0°");
    expect(degreesText(null)).toBe("–");
    expect(leanText(0.01)).toBe("plumb");
    expect(leanText(-1.44)).toBe("1.4° left");
  });
});

describe("keys", () => {
  it("belong to text fields while somebody types", () => {
    const field = document.createElement("input");
    const box = document.createElement("input");
    box.type = "checkbox";
    expect(isTyping(field)).toBe(true);
    expect(isTyping(document.createElement("textarea"))).toBe(true);
    expect(isTyping(box)).toBe(false);
    expect(isTyping(document.body)).toBe(false);
  });

  it("are all listed on the sheet of keys", () => {
    const listed = KEY_SHEET.flatMap((part) => part.lines.map((line) => line.keys)).join(" ");
    for (const key of Object.keys(FAMILY_KEYS)) expect(listed).toContain(key.toUpperCase());
  });
});

describe("rims on a sheet", () => {
  const laid = addRim(blank, {
    form: "form-1",
    plane: "level",
    ends: [
      [10, 20],
      [50, 20],
    ],
    near: [30, 30],
    judged_degree_deg: 25,
  });
  const rim = (sheet: Sheet) => sightingsOf(sheet)[0];

  it("make an empty form a cylinder, and leave one with edges as it is", () => {
    expect(formsOf(laid.sheet)[0]?.kind).toBe("cylinder");
    const beside = addRim(first.sheet, {
      form: "form-1",
      plane: "left",
      ends: [
        [1, 1],
        [9, 9],
      ],
      near: [4, 8],
      judged_degree_deg: null,
    });
    expect(formsOf(beside.sheet)[0]?.kind).toBeUndefined();
    expect(formsOf(setFormKind(beside.sheet, "form-1", "other"))[0]?.kind).toBe("other");
    expect(beside.id).toBe("r1");
  });

  it("take points along the arc and give them back, but keep what makes a rim", () => {
    const two = addArcPoint(addArcPoint(laid.sheet, "r1", [20, 29]), "r1", [40, 29]);
    expect(rim(two)).toMatchObject({
      points: [
        [20, 29],
        [40, 29],
      ],
    });
    const none = dropArcPoint(dropArcPoint(dropArcPoint(two, "r1"), "r1"), "r1");
    expect(rim(none)).toMatchObject({ points: [], near: [30, 30] });
    const bare: Sheet = {
      ...blank,
      sightings: [
        {
          id: "r1",
          kind: "rim",
          points: [
            [1, 1],
            [2, 2],
            [3, 3],
            [4, 4],
            [5, 5],
          ],
        },
      ],
    };
    expect(dropArcPoint(bare, "r1")).toEqual(bare);
  });

  it("have a handle for every point, and each moves its own", () => {
    const sheet = addArcPoint(laid.sheet, "r1", [20, 29]);
    const sighting = rim(sheet);
    expect(sighting && handlesOf(sighting).map((h) => h.key)).toEqual(["end0", "end1", "near", "at0"]);
    let moved = moveHandle(sheet, "r1", "end1", [55, 21]);
    moved = moveHandle(moveHandle(moved, "r1", "near", [31, 33]), "r1", "at0", [19, 28]);
    expect(rim(moved)).toMatchObject({
      ends: [
        [10, 20],
        [55, 21],
      ],
      near: [31, 33],
      points: [[19, 28]],
    });
    expect(handlesOf({ id: "m", kind: "length", p: [0, 0], q: [1, 1] })).toEqual([]);
  });

  it("change plane, each with a letter of its own, by the key of the family their axis follows", () => {
    expect(rim(setPlane(laid.sheet, "r1", "right"))).toMatchObject({ plane: "right" });
    expect(new Set(Object.values(PLANES).map((p) => p.letter)).size).toBe(5);
    expect([planeOf("upright"), planeOf("left"), planeOf("slope")]).toEqual(["level", "left", null]);
  });
});
