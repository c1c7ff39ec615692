import { describe, expect, it } from "vitest";
import { spreadOut } from "./LongTable";

describe("the long table", () => {
  it("gives labels that would touch rows of their own", () => {
    const rows = spreadOut(
      [0, 10, 20, 200].map((x) => ({ x, half: 30 })),
      4,
    ).map((l) => l.row);
    expect(rows).toEqual([0, 1, 2, 0]);
  });
});
