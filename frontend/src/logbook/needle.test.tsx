// @vitest-environment jsdom
import { cleanup, render } from "@testing-library/react";
import { afterEach, describe, expect, it } from "vitest";
import type { LoggedSkill } from "../api/types";
import { SkillNeedle } from "./SkillNeedle";

afterEach(cleanup);

type Stands = LoggedSkill["whole"];
const NONE: Stands = { n: 3, bias: null, spread: null };
const stands = (bias: number, spread: number): Stands => ({
  n: 12,
  bias: { value: bias, low: bias - 1, high: bias + 1 },
  spread: { value: spread, low: spread / 2, high: spread * 2 },
});

const row = (whole: Stands, month_ago: Stands = NONE): LoggedSkill => ({
  skill: "lower rim",
  title: "Lower rims",
  group: "rims",
  group_title: "Rims",
  unit: "degrees",
  tolerance: 5,
  over: "too round",
  under: "too flat",
  whole,
  recent: NONE,
  month_ago,
  trend: null,
  words: "",
  trend_words: "",
  last_at: "2026-03-14T19:30:00Z",
});

const drawn = (one: LoggedSkill) => {
  const { container } = render(<SkillNeedle row={one} />);
  const mean = container.querySelector(".needle-mean");
  return {
    x: mean && Number(mean.getAttribute("x2")),
    y: mean && Number(mean.getAttribute("y2")),
    fan: container.querySelector(".needle-fan"),
    before: container.querySelector(".needle-before"),
  };
};

describe("a skill's own needle", () => {
  it("points straight up where there is no bias, right of it above and left below", () => {
    expect(drawn(row(stands(0, 2))).x).toBeCloseTo(0);
    expect(drawn(row(stands(4, 2))).x).toBeGreaterThan(10);
    expect(drawn(row(stands(-4, 2))).x).toBeLessThan(-10);
  });

  it("stands at its end beyond three tolerances", () => {
    const end = drawn(row(stands(15, 2)));
    expect(drawn(row(stands(80, 2))).x).toBeCloseTo(end.x ?? 0);
    expect(end.y).toBeLessThan(0);
  });

  it("has a fan for the spread, and a grey one only where there was enough a month ago", () => {
    const now = drawn(row(stands(2, 3)));
    expect(now.fan).not.toBeNull();
    expect(now.before).toBeNull();
    expect(drawn(row(stands(2, 3), stands(6, 4))).before).not.toBeNull();
  });

  it("points nowhere while too few readings are in", () => {
    const few = drawn(row(NONE));
    expect([few.x, few.fan, few.before]).toEqual([null, null, null]);
  });
});
