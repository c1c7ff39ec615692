import { describe, expect, it } from "vitest";
import { amount } from "./figures";

describe("a skill's figures", () => {
  it("carry their unit and as many places as they are worth", () => {
    expect([amount(4.96, "degrees"), amount(8, "per cent"), amount(0.123, "near uprights")]).toEqual([
      "5.0°",
      "8.0 %",
      "0.12 nu",
    ]);
  });

  it("show which way they lie, with the sign that a typesetter uses", () => {
    expect([amount(-4, "degrees"), amount(4, "degrees", true), amount(4, "degrees")]).toEqual([
      "−4.0°",
      "+4.0°",
      "4.0°",
    ]);
  });

  it("have no sign where nothing is left of them", () => {
    expect([amount(-0.01, "degrees", true), amount(0.001, "near uprights", true)]).toEqual(["0.0°", "0.00 nu"]);
  });
});
