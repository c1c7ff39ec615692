import { afterEach, describe, expect, it, vi } from "vitest";
import { dayText, figure, withSign } from "./locale";

describe("figures", () => {
  it("have their places, a true minus, and no sign before nothing", () => {
    expect([figure(12.345, 1), figure(-0.5, 2), figure(-0.001, 1), figure(1234.5, 0)]).toEqual([
      "12.3",
      "−0.50",
      "0.0",
      "1235",
    ]);
    expect([figure(45, 1, 0), figure(22.5, 1, 0)]).toEqual(["45", "22.5"]);
  });

  it("carry a plus only where it is asked for, and never before nothing", () => {
    expect([withSign(3, 1), withSign(3, 1, true), withSign(-3, 1, true), withSign(0.04, 1, true)]).toEqual([
      "3.0",
      "+3.0",
      "−3.0",
      "0.0",
    ]);
  });
});

describe("in a browser of another language", () => {
  afterEach(() => {
    vi.unstubAllGlobals();
    vi.resetModules();
  });

  it("figures and days are written as that language writes them", async () => {
    const Plain = Intl.NumberFormat;
    vi.stubGlobal("Intl", {
      ...Intl,
      NumberFormat: function german(_: string | undefined, how: Intl.NumberFormatOptions) {
        return new Plain("de", how);
      },
    });
    vi.resetModules();
    const german = await import("./locale");
    expect([german.figure(-12.34, 1), german.withSign(0.5, 2, true)]).toEqual(["−12,3", "+0,50"]);
  });

  it("a day is told with its month in words", () => {
    expect(dayText("2026-03-14T12:00:00Z")).toMatch(/14/);
    expect(dayText("2026-03-14T12:00:00Z", "weekday")).toMatch(/Sat/);
  });
});
