// @vitest-environment jsdom

import { act, cleanup, fireEvent, render, renderHook, screen } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { Look, Picture } from "../api/types";
import { sheet } from "../testing/fixtures";
import { t } from "../words";
import { FoundCard } from "./FoundCard";
import { useLook } from "./useLook";

const picture: Picture = { id: "picture-1", name: "loft.jpg", width_px: 1280, height_px: 960, focal_35mm: 28 };
const look: Look = {
  found: null,
  words: ["Eye level lies 54 % down the picture (± 0.1 %)."],
  forms: [
    { id: "found-form-1", kind: "building", name: "Building", count: 12, words: "7 upright and 5 right" },
    { id: "found-form-2", kind: "cylinder", name: "Cylinder", count: 2, words: "2 rims" },
  ],
};

function found(looking: ReturnType<typeof useLook>["looking"]): ReturnType<typeof useLook> {
  return { looking, shut: false, look: vi.fn(), stop: vi.fn(), shutIt: vi.fn() };
}

/** A server that answers each request in turn: a status with its body, or never. */
function serverThat(answers: ([number, unknown] | "never")[]) {
  const asked: string[] = [];
  vi.stubGlobal("fetch", (request: Request) => {
    asked.push(`${request.method} ${new URL(request.url).pathname}`);
    const answer = answers.shift() ?? "never";
    if (answer === "never") return new Promise(() => undefined);
    const headers = { "Content-Type": "application/json" };
    return Promise.resolve(new Response(JSON.stringify(answer[1]), { status: answer[0], headers }));
  });
  return asked;
}

afterEach(() => {
  cleanup();
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

describe("what was found in the photo", () => {
  it("is told and offered form by form, or all at once", () => {
    const onOffer = vi.fn();
    render(
      <FoundCard
        found={found({ kind: "looked", look })}
        sheet={sheet}
        hidden={false}
        levelHidden={false}
        onJudgeLevel={vi.fn()}
        onOffer={onOffer}
      />,
    );
    expect(screen.getByRole("status").textContent).toContain("54 % down");
    fireEvent.click(screen.getByRole("button", { name: "Offer Cylinder" }));
    fireEvent.click(screen.getByRole("button", { name: "Offer all" }));
    expect(onOffer.mock.calls).toEqual([["found-form-2"], [null]]);
  });

  it("is kept back until the eye has judged, all of it", () => {
    const { container } = render(
      <FoundCard
        found={found({ kind: "looked", look })}
        sheet={sheet}
        hidden={true}
        levelHidden={false}
        onJudgeLevel={vi.fn()}
        onOffer={vi.fn()}
      />,
    );
    expect(container.textContent).toContain("once you have judged");
    expect(container.textContent).not.toContain("%");
    expect(container.textContent).not.toContain("Building");
  });

  it("tells eye level and lens only after eye level itself was judged", () => {
    const judge = vi.fn();
    const { container } = render(
      <FoundCard
        found={found({ kind: "looked", look })}
        sheet={sheet}
        hidden={false}
        levelHidden={true}
        onJudgeLevel={judge}
        onOffer={vi.fn()}
      />,
    );
    expect(container.textContent).not.toContain("54 % down");
    fireEvent.click(screen.getByText("Judge eye level"));
    expect(judge).toHaveBeenCalled();
  });

  it("is gone when everything stands on the sheet, and asks nothing where there is nothing", () => {
    const forms = ["found-form-1", "found-form-2"].map((id) => ({ id, kind: "box" as const }));
    const all = { ...sheet, forms: [...(sheet.forms ?? []), ...forms] };
    const { container, rerender } = render(
      <FoundCard
        found={found({ kind: "looked", look })}
        sheet={all}
        hidden={false}
        levelHidden={false}
        onJudgeLevel={vi.fn()}
        onOffer={vi.fn()}
      />,
    );
    expect(container.textContent).toBe("");
    const nothing = { words: ["No forms were found in this picture."], forms: [], found: null };
    rerender(
      <FoundCard
        found={found({ kind: "looked", look: nothing })}
        sheet={sheet}
        hidden={true}
        levelHidden={false}
        onJudgeLevel={vi.fn()}
        onOffer={vi.fn()}
      />,
    );
    expect(container.textContent).toContain("No forms");
    expect(screen.queryByText("Offer")).toBeNull();
  });

  it("says how many photos come first, and what went wrong", () => {
    const waits = found({ kind: "waiting", ahead: 3 });
    const { rerender, container } = render(
      <FoundCard
        found={waits}
        sheet={sheet}
        hidden={false}
        levelHidden={false}
        onJudgeLevel={vi.fn()}
        onOffer={vi.fn()}
      />,
    );
    expect(container.textContent).toContain("3 other pictures are");
    expect(t("sighting.foundCard.waits", { count: 1 })).toContain("one other picture is");
    fireEvent.click(screen.getByText("Cancel"));
    expect(waits.stop).toHaveBeenCalled();
    rerender(
      <FoundCard
        found={found({ kind: "failed", fault: "The server cannot be reached." })}
        sheet={sheet}
        hidden={false}
        levelHidden={false}
        onJudgeLevel={vi.fn()}
        onOffer={vi.fn()}
      />,
    );
    expect(container.textContent).toContain("cannot be reached");
  });
});

describe("looking into a photo", () => {
  it("begins by itself where nothing is sighted, and where others are looked into asks again later", async () => {
    vi.useFakeTimers();
    const asked = serverThat([
      [503, { title: "Busy", status: 503, detail: "Other photos are still being opened." }],
      [200, look],
    ]);
    const { result } = renderHook(() => useLook(picture, true));
    await act(async () => void (await vi.advanceTimersByTimeAsync(100)));
    expect(result.current.looking.kind).toBe("looking");
    await act(async () => void (await vi.advanceTimersByTimeAsync(600)));
    expect(asked.filter((one) => one.startsWith("POST"))).toHaveLength(1);
    await act(async () => void (await vi.advanceTimersByTimeAsync(4000)));
    expect(asked.filter((one) => one.startsWith("POST"))).toHaveLength(2);
  });

  it("does nothing unasked where sightings stand, and a stopped look leaves no trace", async () => {
    const asked = serverThat(["never", [200, { ahead: null }]]);
    const { result } = renderHook(() => useLook(picture, false));
    expect(asked).toEqual([]);
    act(() => void result.current.look());
    expect(result.current.looking.kind).toBe("looking");
    act(() => result.current.stop());
    expect(result.current.looking.kind).toBe("not yet");
    expect(asked).toEqual(["POST /api/pictures/picture-1/look", "DELETE /api/pictures/picture-1/look"]);
  });

  it("is wanted no more where its screen is left", () => {
    const asked = serverThat(["never", [200, { ahead: null }]]);
    const { unmount } = renderHook(() => useLook(picture, true));
    unmount();
    expect(asked).toEqual(["POST /api/pictures/picture-1/look", "DELETE /api/pictures/picture-1/look"]);
  });
});
