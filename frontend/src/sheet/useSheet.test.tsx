// @vitest-environment jsdom
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, cleanup, renderHook, waitFor } from "@testing-library/react";
import { HttpResponse, http } from "msw";
import { setupServer } from "msw/node";
import type { ReactNode } from "react";
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from "vitest";
import type { components } from "../api/schema";
import type { Sheet, SheetFull } from "../api/types";
import { report, sheet } from "../testing/fixtures";
import { readStash, type Stash, standing, type Tabs, writeStash } from "./stash";
import { useSheet } from "./useSheet";

type SaveSheet = components["schemas"]["SaveSheet"];
const server = setupServer();

beforeAll(() => server.listen({ onUnhandledRequest: "error" }));
beforeEach(() => localStorage.clear());
afterEach(cleanup);
afterAll(() => server.close());

describe("keeping a sheet", () => {
  const full: SheetFull = {
    id: "s1",
    revision: 4,
    updated_at: "2026-01-01T00:00:00Z",
    picture: { id: "p1", name: "crates.jpg", width_px: 1280, height_px: 960, focal_35mm: null },
    document: sheet,
    report,
  };
  const tabs: Tabs = { own: "tab-a", others: new Set() };
  const wrapper = ({ children }: { children: ReactNode }) => (
    <QueryClientProvider client={new QueryClient()}>{children}</QueryClientProvider>
  );
  /** The server answers in this order, an `Error` standing for a lost connection; what it was sent is kept. */
  const answers = (...list: (Response | Error)[]) => {
    const sent: { method: string; path: string; body: SaveSheet }[] = [];
    server.resetHandlers(
      http.all("*", async ({ request }) => {
        const text = await request.text();
        sent.push({
          method: request.method,
          path: new URL(request.url).pathname,
          body: text ? JSON.parse(text) : null,
        });
        const next = list.shift() ?? new Error("gone");
        return next instanceof Error ? HttpResponse.error() : next;
      }),
    );
    return sent;
  };
  const json = (body: unknown, status = 200) => HttpResponse.json(body as object, { status });
  const saved = (revision: number) => json({ revision, updated_at: "2026-01-01T00:00:00Z", report });

  it("saves each change on the revision it was made on", async () => {
    const sent = answers(saved(5), saved(6));
    const { result } = renderHook(() => useSheet(full, tabs), { wrapper });
    act(() => result.current.change({ ...sheet, title: "A" }));
    await waitFor(() => expect(result.current.save.kind).toBe("saved"));
    act(() => result.current.change({ ...sheet, title: "B" }));
    await waitFor(() => expect(sent).toHaveLength(2));
    expect(sent.map(({ method, path }) => `${method} ${path}`)).toEqual(Array(2).fill("PUT /api/sheets/s1"));
    expect(sent.map(({ body }) => [body.revision, body.document.title])).toEqual([
      [4, "A"],
      [5, "B"],
    ]);
    await waitFor(() => expect(localStorage.getItem("aspectum.unsaved.s1.tab-a")).toBeNull());
  });

  it("shows what was asked last, whichever answer comes first", async () => {
    let answer = () => undefined as undefined;
    const late = new Promise<void>((resolve) => {
      answer = () => void resolve() as undefined;
    });
    server.resetHandlers(
      http.post("*/api/check", async () => {
        await late;
        return json({ ...report, perspective: "parallel" });
      }),
      http.put("*/api/sheets/s1", () => saved(5)),
    );
    const { result } = renderHook(() => useSheet(full, tabs), { wrapper });
    act(() => result.current.show({ ...sheet, title: "On the way" }));
    act(() => result.current.change({ ...sheet, title: "There" }));
    await waitFor(() => expect(result.current.save.kind).toBe("saved"));
    answer();
    await act(() => new Promise((resolve) => setTimeout(resolve, 50)));
    expect(result.current.report.perspective).toBe(report.perspective);
  });

  it("keeps work that could not be sent, and takes it up when the sheet is opened again", async () => {
    answers(new Error("gone"));
    const first = renderHook(() => useSheet(full, tabs), { wrapper });
    act(() => first.result.current.change({ ...sheet, title: "Unsent" }));
    await waitFor(() => expect(first.result.current.save.kind).toBe("waiting"));
    first.unmount();
    const sent = answers(saved(5));
    const again = renderHook(() => useSheet(full, tabs), { wrapper });
    expect(again.result.current.sheet.title).toBe("Unsent");
    await waitFor(() => expect(again.result.current.save.kind).toBe("saved"));
    expect(sent).toHaveLength(1);
  });

  it("marks each save, so that one whose answer was lost is no conflict", async () => {
    const sent = answers(new Error("lost"), saved(5));
    const { result } = renderHook(() => useSheet(full, tabs), { wrapper });
    act(() => result.current.change({ ...sheet, title: "A" }));
    await waitFor(() => expect(result.current.save.kind).toBe("waiting"));
    act(() => result.current.change({ ...sheet, title: "B" }));
    await waitFor(() => expect(result.current.save.kind).toBe("saved"));
    const [first, second] = sent.map(({ body }) => body);
    expect(second?.unanswered).toEqual([first?.save]);
    expect(second?.save).not.toBe(first?.save);
  });

  const leave = (tab: string, title: string, revision: number, extra: Partial<Stash<Sheet>> = {}) => {
    const stash = { revision, document: { ...sheet, title }, save: `mark-${tab}`, unanswered: [], picture: "p1" };
    writeStash("s1", tab, { ...stash, ...extra });
  };

  it("leaves another open tab's stash alone", async () => {
    answers(saved(5));
    leave("tab-b", "Theirs", 4);
    const other: Tabs = { own: "tab-a", others: new Set(["tab-b"]) };
    const { result } = renderHook(() => useSheet(full, other), { wrapper });
    expect(result.current.sheet.title).toBe("Slipway");
    act(() => result.current.change({ ...sheet, title: "Mine" }));
    await waitFor(() => expect(result.current.save.kind).toBe("saved"));
    expect(readStash<Sheet>("s1", "tab-b")?.document.title).toBe("Theirs");
  });

  it("offers every version that closed tabs left behind, and saves the one taken up", async () => {
    const sent = answers(saved(5));
    leave("tab-b", "One", 4);
    leave("tab-c", "Two", 3);
    const { result } = renderHook(() => useSheet(full, tabs), { wrapper });
    expect(result.current.left.map(({ stash }) => stash.document.title).sort()).toEqual(["One", "Two"]);
    const two = result.current.left.find(({ stash }) => stash.document.title === "Two");
    if (two) act(() => result.current.takeUp(two));
    await waitFor(() => expect(result.current.save.kind).toBe("saved"));
    expect(sent[0]?.body.document.title).toBe("Two");
    expect(result.current.left).toHaveLength(1);
    act(() => result.current.left.forEach(result.current.letGo));
    expect(readStash<Sheet>("s1", "tab-b")).toBeNull();
  });

  it("asks about its own older version after a reload, and undo brings it back when the other is taken", async () => {
    answers(json(full));
    leave("tab-a", "Mine", 3);
    const { result } = renderHook(() => useSheet(full, tabs), { wrapper });
    expect(result.current.save.kind).toBe("conflict");
    act(() => result.current.takeTheirs());
    await waitFor(() => expect(result.current.save.kind).toBe("saved"));
    expect([result.current.sheet.title, readStash<Sheet>("s1", "tab-a")]).toEqual(["Slipway", null]);
    answers(saved(5));
    act(() => result.current.undo());
    expect(result.current.sheet.title).toBe("Mine");
    await waitFor(() => expect(result.current.save.kind).toBe("saved"));
  });

  it("knows a stash that was stored before its answer was lost, and one that follows such a save", () => {
    const stash = { revision: 3, document: sheet, save: "mark-b", unanswered: ["mark-a"], picture: "p1", at: 0 };
    expect(standing(stash, { revision: 4, last_save: "mark-b" })).toBe("stored");
    expect(standing(stash, { revision: 4, last_save: "mark-a" })).toBe("next");
    expect(standing(stash, { revision: 4, last_save: "mark-z" })).toBe("conflict");
    expect(standing(stash, { revision: 3, last_save: null })).toBe("next");
  });

  it("stops sending when the sheet was deleted elsewhere, and keeps it as a copy when told", async () => {
    const gone = json({ type: "about:blank", title: "x", status: 404, detail: "There is no such sheet." }, 404);
    const sent = answers(gone, json({ id: "s2" }));
    const { result } = renderHook(() => useSheet(full, tabs), { wrapper });
    act(() => result.current.change({ ...sheet, title: "Mine" }));
    await waitFor(() => expect(result.current.save.kind).toBe("gone"));
    expect(readStash<Sheet>("s1", "tab-a")?.document.title).toBe("Mine");
    expect(await act(() => result.current.keepCopy())).toBe("s2");
    expect(sent[1]?.body.document.title).toBe("Mine (kept)");
    expect(readStash<Sheet>("s1", "tab-a")).toBeNull();
  });

  it("asks when another tab was first, and saves over it only when told", async () => {
    const problem = json({ type: "about:blank", title: "x", status: 409, detail: "elsewhere", revision: 9 }, 409);
    const sent = answers(problem, json({ ...full, revision: 9 }), saved(10));
    const { result } = renderHook(() => useSheet(full, tabs), { wrapper });
    act(() => result.current.change({ ...sheet, title: "Mine" }));
    await waitFor(() => expect(result.current.save).toEqual({ kind: "conflict", revision: 9 }));
    expect(sent).toHaveLength(1);
    act(() => result.current.keepMine());
    await waitFor(() => expect(result.current.save.kind).toBe("saved"));
    const last = sent[2]?.body;
    expect([last?.revision, last?.document.title]).toEqual([9, "Mine"]);
  });

  it("undoes what was kept and saves that too", async () => {
    answers(saved(5), saved(6));
    const { result } = renderHook(() => useSheet(full, tabs), { wrapper });
    act(() => result.current.change({ ...sheet, title: "A" }));
    await waitFor(() => expect(result.current.save.kind).toBe("saved"));
    act(() => result.current.undo());
    expect(result.current.sheet.title).toBe("Slipway");
    expect(result.current.canRedo).toBe(true);
    await waitFor(() => expect(result.current.save.kind).toBe("saved"));
  });
});
