import { describe, expect, it } from "vitest";
import { dayWords, dueWords, spaced } from "./words";

const DUE = "2026-11-26T19:00:00Z";
const tried = [{ hand_in_id: "h", number: 1, at: DUE, returned_at: null, mark: "", word: "" }];

describe("when an assignment is due", () => {
  it("is told until it is handed in, and after the day as past", () => {
    expect(dueWords({ due_at: DUE, late: false, tries_made: [] })).toBe(`due ${dayWords(DUE)}`);
    expect(dueWords({ due_at: DUE, late: true, tries_made: [] })).toBe(`was due ${dayWords(DUE)}`);
    expect(dueWords({ due_at: DUE, late: false, tries_made: tried })).toBe(`was due ${dayWords(DUE)}`);
    expect(dueWords({ due_at: DUE, late: true, tries_made: tried })).toContain("handed in late");
  });
  it("is nothing where there is no day", () => {
    expect(dueWords({ due_at: null, late: false, tries_made: [] })).toBe("");
  });
});

it("reads a class code out in two groups of four", () => {
  expect(spaced("ABCDEFGH")).toBe("ABCD EFGH");
});
