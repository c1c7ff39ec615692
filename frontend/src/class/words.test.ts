import { describe, expect, it } from "vitest";
import { dayWords, dueWords, spaced, toldBackWords } from "./words";

const DUE = "2026-11-26T19:00:00Z";
const tried = [{ hand_in_id: "h", number: 1, at: DUE, returned_at: null, mark: "", word: "" }];

describe("what came back with a piece", () => {
  const remarks = [{ at: [0.4, 0.5] as [number, number], number: 1, sighting: null, words: "Compare it once more." }];
  it("is never “without a word” above a remark", () => {
    expect(toldBackWords({ word: "", remarks })).toBe("Given back with remarks, below.");
    expect(toldBackWords({ word: "Good.", remarks })).toBe("Good.");
    expect(toldBackWords({ word: "", remarks: [] })).toBe("Given back without a word.");
  });
});

describe("when an assignment is due", () => {
  const before = new Date("2026-11-20T10:00:00Z");
  const after = new Date("2026-11-28T10:00:00Z");
  it("is told as past after the day, and never before it, handed in or not", () => {
    expect(dueWords({ due_at: DUE, late: false, tries_made: [] }, before)).toBe(`due ${dayWords(DUE)}`);
    expect(dueWords({ due_at: DUE, late: false, tries_made: tried }, before)).toBe(`due ${dayWords(DUE)}`);
    expect(dueWords({ due_at: DUE, late: true, tries_made: [] }, after)).toBe(`was due ${dayWords(DUE)}`);
    expect(dueWords({ due_at: DUE, late: false, tries_made: tried }, after)).toBe(`was due ${dayWords(DUE)}`);
    expect(dueWords({ due_at: DUE, late: true, tries_made: tried }, after)).toContain("handed in late");
  });
  it("is nothing where there is no day", () => {
    expect(dueWords({ due_at: null, late: false, tries_made: [] })).toBe("");
  });
});

it("reads a class code out in two groups of four", () => {
  expect(spaced("ABCDEFGH")).toBe("ABCD EFGH");
});
