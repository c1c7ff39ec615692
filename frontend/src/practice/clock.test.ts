import { describe, expect, it } from "vitest";
import { clockText, elapsed, STOPPED, turned } from "./clock";

describe("the clock of a timed drawing", () => {
  it("counts drawing and looking apart", () => {
    const begun = turned(STOPPED, 100, true);
    const stopped = turned(begun, 160, false);
    const on = turned(stopped, 190, true);
    expect(elapsed(on, 200)).toEqual({ drawn: 70, paused: 30 });
    expect(elapsed(stopped, 175)).toEqual({ drawn: 60, paused: 15 });
  });

  it("has counted nothing before it is started, and does not run backwards", () => {
    expect(elapsed(STOPPED, 5000)).toEqual({ drawn: 0, paused: 0 });
    expect(elapsed(turned(STOPPED, 100, true), 90).drawn).toBe(0);
  });

  it("shows minutes and seconds, and nothing less than nothing", () => {
    expect([90, 600, 0.4, 0, -3].map(clockText)).toEqual(["1:30", "10:00", "0:01", "0:00", "0:00"]);
  });
});
