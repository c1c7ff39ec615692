// @vitest-environment jsdom
import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { HotkeysProvider } from "react-hotkeys-hook";
import { afterEach, describe, expect, it, vi } from "vitest";
import { FAMILY_KEYS, MOVING_KEYS } from "../sighting/keys";
import { actionOf, STAGE_KEYS } from "../stage/keys";
import { isTaken, useKeys } from "../ui/keys";
import { KeySheet } from "./KeySheet";
import { KEYMAP } from "./keymap";

afterEach(cleanup);

function Listening({
  acts,
  part = FAMILY_KEYS,
}: {
  acts: Record<string, () => unknown>;
  part?: (typeof KEYMAP)[number];
}) {
  useKeys(part, acts);
  return <input aria-label="field" />;
}
const listen = (acts: Record<string, () => unknown>, part?: (typeof KEYMAP)[number]) =>
  render(
    <HotkeysProvider initiallyActiveScopes={[]}>
      <Listening acts={acts} part={part} />
    </HotkeysProvider>,
  );

describe("the registry of keys", () => {
  it("gives no key twice within what can be open at once", () => {
    // one face of a sheet is open at a time, or a set-up
    const faces = [
      ["paper"],
      ["card"],
      ["plan"],
      ["stand"],
      ["practice"],
      ["clock"],
      ["review"],
      ["room"],
      ["sighting", "measuring", "family", "moving"],
    ];
    // a focused stage, dial or box answers its own
    const own = ["stage", "dial", "plan-box", "stand-stage", "stand-footprint", "practice-picture", "pin"];
    for (const face of faces) {
      // only a sheet has faces to switch
      const sheetless = face.some((scope) => ["practice", "clock", "review", "room"].includes(scope));
      const away = [...own, ...faces.filter((other) => other !== face).flat(), ...(sheetless ? ["faces"] : [])];
      const keys = KEYMAP.filter((part) => !away.includes(part.scope)).flatMap((part) =>
        part.lines.flatMap((line) => line.keys),
      );
      expect(new Set(keys).size).toBe(keys.length);
      expect(keys.length).toBeGreaterThan(3);
    }
  });

  it("stands on the `?` sheet line by line", () => {
    HTMLDialogElement.prototype.showModal = () => undefined;
    const { container } = render(<KeySheet onClose={() => undefined} />);
    const written = [...container.querySelectorAll("kbd")].map((key) => key.textContent);
    for (const part of KEYMAP) for (const line of part.lines) expect(written).toContain(line.shown);
    expect(new Set(written).size).toBeGreaterThan(12);
  });

  it("hands a key to the action of its line, and leaves it alone where the action does not apply", () => {
    const left = vi.fn();
    listen({ left, right: () => false });
    expect(fireEvent.keyDown(document.body, { key: "l", code: "KeyL" })).toBe(false);
    expect(left).toHaveBeenCalledTimes(1);
    expect(fireEvent.keyDown(document.body, { key: "r", code: "KeyR" })).toBe(true);
    fireEvent.keyDown(document.body, { key: "l", code: "KeyL", ctrlKey: true });
    expect(left).toHaveBeenCalledTimes(1);
  });

  it("tells modifiers apart", () => {
    const acts = { undo: vi.fn(), redo: vi.fn(), earlier: vi.fn() };
    listen(acts, MOVING_KEYS);
    fireEvent.keyDown(document.body, { key: "z", code: "KeyZ", ctrlKey: true });
    fireEvent.keyDown(document.body, { key: "Z", code: "KeyZ", ctrlKey: true, shiftKey: true });
    fireEvent.keyDown(document.body, { key: "ArrowUp", code: "ArrowUp", altKey: true });
    expect(Object.values(acts).map((act) => act.mock.calls.length)).toEqual([1, 1, 1]);
  });

  it("steals nothing from a field that somebody types in", () => {
    const left = vi.fn();
    listen({ left });
    fireEvent.keyDown(screen.getByLabelText("field"), { key: "l", code: "KeyL" });
    expect(left).not.toHaveBeenCalled();
    const box = document.createElement("input");
    box.type = "checkbox";
    expect([isTaken(document.createElement("textarea")), isTaken(box), isTaken(document.body)]).toEqual([
      true,
      false,
      false,
    ]);
  });

  it("names the stage's own keys by what they do there", () => {
    expect([actionOf(STAGE_KEYS, "="), actionOf(STAGE_KEYS, "ArrowLeft"), actionOf(STAGE_KEYS, "q")]).toEqual([
      "closer",
      "left",
      null,
    ]);
  });
});
