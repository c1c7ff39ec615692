import { describe, expect, it } from "vitest";
import type { Edge, Length, Rim, Sheet } from "../api/types";
import { addAlignmentReading, addRatio, addRimReading, addTilt, dropRepeat, freeLength } from "./edits";

const empty: Sheet = { forms: [{ id: "box", kind: "box" }], sightings: [] };
const first = <S>(sheet: Sheet): S => (sheet.sightings ?? [])[0] as S;
const stick = (value: number) => ({ value, with: "stick" as const });
const top = {
  kind: "edge" as const,
  slot: { form: "box", side: "left" as const, end: 0 },
  again: null,
  words: "top edge, left",
};

describe("readings on the card", () => {
  it("puts a tilt where it was read, with its judgement and what it was read with", () => {
    const { sheet, id } = addTilt(empty, top, 9, { value: 11.3, with: "gauge", held_sd_deg: 0.2 });
    expect(sheet.sightings?.[0]).toMatchObject({
      id,
      family: "left",
      end: "near-top",
      tilt_deg: 11.3,
      judged_tilt_deg: 9,
      taken_with: "gauge",
      held_sd_deg: 0.2,
    });
  });

  it("keeps every reading of the same thing, and any of them can be taken back", () => {
    const one = addTilt(empty, top, 9, stick(11.3));
    const again = addTilt(one.sheet, { ...top, again: one.id }, null, stick(25)).sheet;
    const third = addTilt(again, { ...top, again: one.id }, null, stick(12)).sheet;
    expect(first<Edge>(third).repeats_deg).toEqual([25, 12]);
    expect(first<Edge>(dropRepeat(third, one.id, 1)).repeats_deg).toEqual([12]);
    const without = first<Edge>(dropRepeat(third, one.id, 0));
    expect([without.tilt_deg, without.repeats_deg]).toEqual([25, [12]]);
  });

  it("names a length that is no line of the card, and which way it was measured", () => {
    const what = { kind: "length" as const, slot: freeLength("box"), again: null, words: "length" };
    const { sheet } = addRatio(empty, what, 0.4, { ...stick(0.3), name: "door", along: "across" });
    expect(sheet.sightings?.[0]).toMatchObject({ name: "door", along: "across", ratio: 0.3, judged_ratio: 0.4 });
    expect(first<Length>(sheet).side).toBeNull();
  });

  it("gives a rim a round form of its own, and tells ratio and line of sight apart", () => {
    const what = { kind: "rim" as const, again: null, words: "rim" };
    const one = addRimReading(empty, what, 14, stick(0.33), { down: 0.7 });
    const two = addRimReading(one.sheet, what, null, { value: 18, with: "gauge" }, {});
    const [upper, lower] = two.sheet.sightings as [Rim, Rim];
    expect([upper.ratio, upper.down, lower.sight_deg]).toEqual([0.33, 0.7, 18]);
    expect(new Set([upper.form, lower.form]).size).toBe(2);
    expect(two.sheet.forms?.map((form) => form.kind)).toEqual(["box", "cylinder", "cylinder"]);
  });

  it("tells what stands above what by name", () => {
    const what = { kind: "alignment" as const, along: "plumb" as const, words: "what stands above what" };
    const told = { first: "the lamp", second: "the box", judged: 0.2, beside: 0 };
    expect(addAlignmentReading(empty, what, told).sheet.sightings?.[0]).toMatchObject({
      name: "the lamp / the box",
      beside: 0,
      judged_beside: 0.2,
    });
  });
});
