import { describe, expect, it } from "vitest";
import type { Sheet } from "../api/types";
import { handlesOf } from "../stage/handles";
import {
  accept,
  addArcPoint,
  addDivision,
  addEdge,
  addFace,
  addForm,
  addHeight,
  addLength,
  addRim,
  dropArcPoint,
  formsOf,
  inGroups,
  isProposed,
  moveHandle,
  remove,
  rename,
  reorder,
  setFamily,
  setFormKind,
  setHidden,
  setPlane,
  setSlope,
  setUnit,
  sightingsOf,
  slopesOf,
  strikeOut,
  unitOf,
  withoutProposals,
} from "./edits";
import { begin, keep, preview, redo, shown, undo } from "./history";

const blank: Sheet = {
  picture: { width_px: 100, height_px: 80 },
  forms: [{ id: "form-1", name: "Form 1" }],
  sightings: [],
};
const first = addEdge(blank, { form: "form-1", family: "left", p: [1, 2], q: [30, 4], judged_tilt_deg: 5 });
const two = addEdge(first.sheet, { form: "form-1", family: "left", p: [1, 20], q: [30, 14], judged_tilt_deg: null });

describe("names", () => {
  const namesOf = (sheet: Sheet) => sightingsOf(sheet).map((s) => s.name);
  const distinct = (names: unknown[]) => expect(new Set(names).size).toBe(names.length);

  it("never stand twice on a sheet, after an edge was taken off or given another family", () => {
    const laid = addEdge(remove(two.sheet, first.id), {
      form: "form-1",
      family: "left",
      p: [1, 2],
      q: [30, 4],
      judged_tilt_deg: null,
    });
    const other = addEdge(laid.sheet, {
      form: "form-1",
      family: "right",
      p: [1, 2],
      q: [30, 4],
      judged_tilt_deg: null,
    });
    const moved = setFamily(other.sheet, other.id, "left");
    distinct(namesOf(moved));
    expect(namesOf(moved)).toEqual(["left 2", "left 1", "left 3"]);
  });

  it("are told apart over forms: two cups have no rim 1 each, and no two forms one name", () => {
    const forms = addForm(remove(addForm(blank).sheet, "none"));
    const rim = { degree_deg: 30, center: [20, 20] as [number, number], semi_axes_px: [9, 4] as [number, number] };
    const cup = addRim(forms.sheet, { form: "form-1", turn_deg: 0, judged_degree_deg: null, ...rim } as never);
    const pot = addRim(cup.sheet, { form: forms.id, turn_deg: 0, judged_degree_deg: null, ...rim } as never);
    distinct(namesOf(pot.sheet));
    distinct(formsOf(pot.sheet).map((f) => f.name));
  });
});

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

  it("take points along the arc and give back the last", () => {
    const two = addArcPoint(addArcPoint(laid.sheet, "r1", [20, 29]), "r1", [40, 29]);
    expect(rim(two)).toMatchObject({
      points: [
        [20, 29],
        [40, 29],
      ],
    });
    expect(rim(dropArcPoint(two, "r1"))).toMatchObject({ points: [[20, 29]], near: [30, 30] });
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
    expect(handlesOf({ id: "m", kind: "length", ratio: 1.2 })).toEqual([]);
  });

  it("change plane", () => {
    expect(rim(setPlane(laid.sheet, "r1", "right"))).toMatchObject({ plane: "right" });
  });
});

describe("measuring", () => {
  const length = addLength(two.sheet, "form-1", [0, 0], [0, 40], null);
  const face = addFace(
    length.sheet,
    "form-1",
    ["left", "upright"],
    [
      [0, 40],
      [30, 50],
      [30, 0],
      [0, 10],
    ],
  );
  const part = addDivision(face.sheet, face.id, [14, 20], 0.5);

  it("makes the first length the unit, and another in its place", () => {
    expect(unitOf(length.sheet)?.id).toBe("m1");
    const more = addLength(length.sheet, "form-1", [0, 0], [20, 0], 0.5);
    expect(sightingsOf(more.sheet).find((s) => s.id === more.id)).toMatchObject({ unit: false, judged_ratio: 0.5 });
    expect(unitOf(setUnit(more.sheet, more.id))?.id).toBe(more.id);
  });

  it("takes the parts of a face away with it", () => {
    expect(sightingsOf(remove(part.sheet, face.id)).map((s) => s.id)).toEqual(["e1", "e2", "m1"]);
  });

  it("moves corners, places, feet and tops", () => {
    const tall = addHeight(part.sheet, [50, 70], [50, 20], { judged_m: 2 });
    const moved = ["corner2", "spot", "p", "q"].map((key, n) => {
      const id = [face.id, part.id, tall.id, tall.id][n] ?? "";
      return sightingsOf(moveHandle(tall.sheet, id, key, [9, 9])).find((s) => s.id === id);
    });
    expect(moved[0]).toMatchObject({
      corners: [
        [0, 40],
        [30, 50],
        [9, 9],
        [0, 10],
      ],
    });
    expect(moved[1]).toMatchObject({ point: [9, 9] });
    expect(moved[2]).toMatchObject({ foot: [9, 9], top: [50, 20] });
    expect(moved[3]).toMatchObject({ foot: [50, 70], top: [9, 9] });
  });

  it("groups by form and kind, and moves a slip among its own", () => {
    const second = addForm(part.sheet);
    const other = addEdge(second.sheet, {
      form: second.id,
      family: "left",
      p: [1, 2],
      q: [3, 4],
      judged_tilt_deg: null,
    });
    expect(inGroups(other.sheet).map((g) => [g.form, g.sightings.map((s) => s.id)])).toEqual([
      ["form-1", ["e1", "e2", "m1", "f1", "d1"]],
      [second.id, ["e3"]],
    ]);
    const turned = reorder(other.sheet, "e1", 1);
    expect(inGroups(turned)[0]?.sightings.map((s) => s.id)).toEqual(["e2", "e1", "m1", "f1", "d1"]);
    expect(reorder(other.sheet, "e3", -1)).toBe(other.sheet);
  });

  it("says which end is cut off, and takes it back", () => {
    const cut = setHidden(two.sheet, "e1", "q", true);
    expect(sightingsOf(cut)[0]).toMatchObject({ hidden: ["q"] });
    expect(sightingsOf(setHidden(cut, "e1", "q", false))[0]).toMatchObject({ hidden: [] });
  });
});

describe("proposals on a sheet", () => {
  const found: Sheet = {
    ...two.sheet,
    forms: [
      { id: "form-1", name: "Form 1" },
      { id: "form-2", name: "Box" },
    ],
    sightings: [
      ...sightingsOf(two.sheet),
      {
        id: "x1",
        kind: "edge",
        family: "right",
        form: "form-2",
        p: [5, 5],
        q: [50, 9],
        proposed: true,
        confidence: 0.9,
      },
      {
        id: "x2",
        kind: "edge",
        family: "right",
        form: "form-2",
        p: [5, 9],
        q: [50, 19],
        proposed: true,
        confidence: 0.4,
      },
    ],
  };
  const ids = (sheet: Sheet) => sightingsOf(sheet).map((s) => s.id);

  it("become sightings like any other when they are accepted", () => {
    const accepted = accept(found, ["x1"]);
    const [one, other] = sightingsOf(accepted).slice(2);
    expect(one).not.toHaveProperty("proposed");
    expect(one).not.toHaveProperty("confidence");
    expect(other && isProposed(other)).toBe(true);
    expect(ids(accepted)).toEqual(ids(found));
  });

  it("take their form with them when nothing is left of it", () => {
    expect(formsOf(strikeOut(found, ["x1"]))).toHaveLength(2);
    const struck = strikeOut(found, ["x1", "x2"]);
    expect(formsOf(struck).map((f) => f.id)).toEqual(["form-1"]);
    expect(ids(struck)).toEqual(ids(two.sheet));
  });

  it("are not shown before they may be seen, and a sheet without them is itself", () => {
    expect(ids(withoutProposals(found))).toEqual(ids(two.sheet));
    expect(withoutProposals(two.sheet)).toBe(two.sheet);
  });
});
