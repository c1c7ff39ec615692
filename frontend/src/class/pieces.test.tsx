// @vitest-environment jsdom
import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { Piece, PieceFound, RemarkIn, SkillOfClass } from "../api/types";
import { ClassNeedle } from "./ClassNeedle";
import { Counts } from "./Counts";
import { Found } from "./Found";
import { Remarks } from "./Remarks";

afterEach(cleanup);

const FOUND: PieceFound = { of: "sightings", holds: 9, off: 2, unsure: 0, judged: 11, sightings: 11, causes: [] };
const PIECE = {
  document: { sightings: [{ id: "e1", name: "top left, near" }] },
  drawing: null,
  critique: null,
  report: { findings: [{ sighting: "e1", verdict: "off", words: "Climbs too little.", judged_words: "Judged 8°." }] },
} as unknown as Piece;
const remark = (words: string, more: Partial<RemarkIn> = {}): RemarkIn => ({
  words,
  sighting: null,
  at: null,
  ...more,
});

describe("verdicts counted", () => {
  it("say their word to whom sees no mark", () => {
    const { container } = render(<Counts found={FOUND} />);
    expect(container.textContent?.replace(/\s+/g, " ").trim()).toBe("✓ 9 holds✗ 2 off? 0 unsure");
  });
});

describe("what was found on a piece", () => {
  it("is told line by line, judgement and reason together, and chooses its line", () => {
    const choose = vi.fn();
    render(<Found piece={PIECE} selected={null} onSelect={choose} />);
    const line = screen.getByRole("button");
    expect(line.textContent).toContain("off top left, near Judged 8°. Climbs too little.");
    fireEvent.click(line);
    expect(choose).toHaveBeenCalledWith("e1");
  });
});

describe("remarks", () => {
  const show = (remarks: RemarkIn[], change: ((next: RemarkIn[]) => void) | null) =>
    render(
      <Remarks
        piece={PIECE}
        remarks={remarks}
        chosen={0}
        onChoose={() => undefined}
        phrases={["Compare it with the unit."]}
        onRemarks={change}
        onAdd={change && (() => undefined)}
        selected={null}
      />,
    );
  it("say where they are pinned", () => {
    const { container } = show([remark("a", { sighting: "e1" }), remark("b", { at: [1, 2] }), remark("c")], vi.fn());
    for (const where of ["on top left, near", "at a place", "of the whole"])
      expect(container.textContent).toContain(where);
  });
  it("take a phrase, after what is written already", () => {
    const change = vi.fn();
    show([remark("Steeper.")], change);
    fireEvent.click(screen.getByRole("button", { name: "Compare it with the unit." }));
    expect(change).toHaveBeenCalledWith([remark("Steeper. Compare it with the unit.")]);
  });
  it("go one by one", () => {
    const change = vi.fn();
    show([remark("a"), remark("b")], change);
    fireEvent.click(screen.getByRole("button", { name: "Delete remark 1" }));
    expect(change).toHaveBeenCalledWith([remark("b")]);
  });
  it("are only read by the student", () => {
    const { container } = show([remark("Steeper.")], null);
    expect(container.querySelector("textarea")).toBeNull();
    expect(screen.getAllByRole("button")).toHaveLength(1);
  });
});

describe("the class's needle", () => {
  const one = (mean: number, ...biases: number[]) =>
    ({
      tolerance: 5,
      mean,
      students: biases.map((value, n) => ({ name: `s${n}`, stands: { bias: { value } } })),
    }) as unknown as SkillOfClass;
  it("has a thin one for each student and stands upright at nought", () => {
    const { container } = render(<ClassNeedle one={one(0, -5, 5)} />);
    expect(container.querySelectorAll(".needle-one")).toHaveLength(2);
    const mean = container.querySelector(".needle-all");
    expect(Number(mean?.getAttribute("x2"))).toBeCloseTo(0);
    expect(Number(mean?.getAttribute("y2"))).toBeCloseTo(-40);
  });
  it("leans right for too much and stops at its end", () => {
    const tips = [7, 15, 400].map((mean) => {
      const { container } = render(<ClassNeedle one={one(mean, mean)} />);
      const x = Number(container.querySelector(".needle-all")?.getAttribute("x2"));
      cleanup();
      return x;
    });
    expect(tips[0]).toBeGreaterThan(0);
    expect(tips[1]).toBeGreaterThan(tips[0] ?? 0);
    expect(tips[2]).toBeCloseTo(tips[1] ?? 0);
  });
});
