// @vitest-environment jsdom
import { render } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { VerdictWord } from "./VerdictWord";

describe("a verdict", () => {
  it("is told by mark and word", () => {
    const { container } = render(<VerdictWord of="off" />);
    expect(container.querySelector(".verdict-off")?.textContent).toMatch(/off/);
  });
  it("is not given to what others are measured by: a unit holds against nothing", () => {
    const { container } = render(<VerdictWord of="holds" measure />);
    expect(container.textContent).toBe("");
  });
});
