// @vitest-environment jsdom
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, cleanup, render } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Piece } from "../api/types";
import { type OpenReview, useReview } from "./useReview";

const PIECE = { id: "h", mark: "", word: "", remarks: [], returned_at: null } as unknown as Piece;
let sent: { word: string; mark: string; remarks: unknown[]; returned: boolean }[] = [];

vi.mock("../api/client", async (original) => ({
  ...(await original<typeof import("../api/client")>()),
  call: vi.fn(async (_method: string, _path: string, { body }: { body: (typeof sent)[number] }) => {
    sent.push(body);
    return { ...PIECE, ...body, returned_at: body.returned ? "2026-11-26T19:00:00Z" : null };
  }),
}));

let open: OpenReview;
function Probe({ tutor }: { tutor: boolean }) {
  open = useReview(PIECE, tutor);
  return null;
}
const show = (tutor = true) =>
  render(
    <QueryClientProvider client={new QueryClient()}>
      <Probe tutor={tutor} />
    </QueryClientProvider>,
  );
const later = (ms: number) => act(() => vi.advanceTimersByTimeAsync(ms));

beforeEach(() => {
  sent = [];
  vi.useFakeTimers();
});
afterEach(() => {
  cleanup();
  vi.useRealTimers();
});

describe("a tutor's review", () => {
  it("is kept once the hand rests, not with every letter", async () => {
    show();
    for (const word of ["G", "Go", "Good."]) act(() => open.setWord(word));
    await later(100);
    expect(sent).toEqual([]);
    await later(1000);
    expect(sent.map((one) => one.word)).toEqual(["Good."]);
    expect(open.busy).toBe(false);
  });
  it("is kept at once when the tutor goes on to the next piece", async () => {
    const { unmount } = show();
    act(() => open.setMark("B"));
    unmount();
    await later(0);
    expect(sent).toMatchObject([{ mark: "B", returned: false }]);
  });
  it("is there at once for whoever comes back to the piece before the server has answered", async () => {
    const queries = new QueryClient();
    queries.setQueryData(["piece", "h"], PIECE);
    const { unmount } = render(
      <QueryClientProvider client={queries}>
        <Probe tutor />
      </QueryClientProvider>,
    );
    act(() => open.setWord("Sure hand."));
    act(() => open.setRemarks([{ words: "Look again.", sighting: "e1", at: null }]));
    unmount();
    // nothing is awaited: the answer is still on its way
    expect(queries.getQueryData(["piece", "h"])).toMatchObject({
      word: "Sure hand.",
      remarks: [{ words: "Look again.", sighting: "e1", number: 1 }],
    });
    await later(0);
  });
  it("keeps no remark without words, and gives back what was said last", async () => {
    show();
    act(() =>
      open.setRemarks([
        { words: "Steeper.", sighting: "e1", at: null },
        { words: " ", sighting: null, at: [1, 2] },
      ]),
    );
    act(() => open.giveBack());
    await later(2000);
    expect(sent).toHaveLength(1);
    expect(sent[0]).toMatchObject({ returned: true, remarks: [{ words: "Steeper." }] });
    expect(open.piece.returned_at).not.toBeNull();
  });
  it("is nothing that a student can change", async () => {
    show(false);
    act(() => open.setWord("All is well."));
    await later(2000);
    expect(sent).toEqual([]);
  });
});
