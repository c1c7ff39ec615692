import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, cleanup, fireEvent, render, renderHook, screen, waitFor } from "@testing-library/react";
import type { ReactNode } from "react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Finding, Report, Sheet, SheetFull } from "../api/client";
import { NeedleDial } from "../stage/NeedleDial";
import { RimDial } from "../stage/RimDial";
import { RimLine } from "../stage/Rims";
import { JudgePanel } from "./JudgePanel";
import { LevelRail } from "./LevelRail";
import { Slips } from "./Slips";
import { Notes, Standing } from "./Standing";
import { readStash, type Stash, standing, type Tabs, writeStash } from "./stash";
import { useSheet } from "./useSheet";

const finding: Finding = {
  sighting: "e1",
  kind: "edge",
  judged: 12,
  sighted: 9.3,
  sighted_sd: 0.7,
  implied: 3.9,
  implied_sd: 0.4,
  verdict: "off",
  words: "Climbs too much for an edge 68 px below eye level.",
  judged_words: "Judged 12°: 2.7° too steep.",
  rule: "climbs-too-much",
  turn_deg: -5.4,
  far_end_px: -17,
  others: [],
  judged_lean_deg: null,
  sighted_lean_deg: null,
  implied_lean_deg: null,
  axis_sighted_deg: null,
  axis_implied_deg: null,
  minor_px: null,
  major_px: null,
  centre_px: null,
  rim: null,
};
const report: Report = {
  format: "aspectum-report",
  version: 1,
  file: null,
  perspective: "two-point",
  eye_level: { left_y_px: 420, right_y_px: 430, sd_px: 8, source: "edges", found: null, by_edges: null, by_rims: null },
  camera: {
    focal_px: 1000,
    focal_sd_px: 20,
    view_deg: 65,
    pitch_deg: -3.1,
    pitch_sd_deg: 0.2,
    roll_deg: 0,
    roll_sd_deg: 0.1,
  },
  vanishing_points: [],
  findings: [finding],
  level_rail: [
    { y_px: 225, units: 1, degree_deg: 12 },
    { y_px: 425, units: 0, degree_deg: 0 },
    { y_px: 625, units: -1, degree_deg: 12 },
  ],
  ladders: [],
  near_corner: null,
  notes: ["Only left edges so far."],
};
const sheet: Sheet = {
  title: "Slipway",
  picture: { width_px: 1280, height_px: 960 },
  forms: [{ id: "crate", name: "Crate" }],
  sightings: [
    { id: "e1", kind: "edge", form: "crate", family: "right", name: "top right", p: [1, 2], q: [30, 4] },
    { id: "u1", kind: "edge", form: "crate", family: "upright", name: "near corner", p: [5, 0], q: [6, 90] },
  ],
};
const nothing = () => undefined;
const actions = {
  select: vi.fn(),
  family: vi.fn(),
  plane: vi.fn(),
  addPoints: vi.fn(),
  slope: nothing,
  form: nothing,
  rename: vi.fn(),
  remove: vi.fn(),
  reorder: vi.fn(),
};

beforeEach(() => {
  Element.prototype.scrollIntoView = nothing;
  localStorage.clear();
});
afterEach(() => {
  cleanup();
  vi.restoreAllMocks();
  vi.unstubAllGlobals();
});

describe("slips", () => {
  it("carry the three values, the verdict in a word, and the reason", () => {
    render(<Slips sheet={sheet} report={report} selected={null} actions={actions} />);
    const slip = screen.getByText("top right").closest("li");
    expect(slip?.textContent).toContain("judged12.0°");
    expect(slip?.textContent).toContain("sighted9.3° ±0.7");
    expect(slip?.textContent).toContain("implied3.9° ±0.4");
    expect(slip?.textContent).toContain("✗ off");
    expect(slip?.textContent).toContain("Climbs too much");
  });

  it("show uprights by their lean", () => {
    const upright = { ...finding, sighting: "u1", judged_lean_deg: 0, sighted_lean_deg: -1.4, implied_lean_deg: -1.9 };
    render(<Slips sheet={sheet} report={{ ...report, findings: [upright] }} selected={null} actions={actions} />);
    expect(screen.getByText("near corner").closest("li")?.textContent).toContain("sighted1.4° left");
  });

  it("change name, family and order, and delete", () => {
    render(<Slips sheet={sheet} report={report} selected="e1" actions={actions} />);
    expect(screen.getByText("Judged 12°: 2.7° too steep.")).toBeTruthy();
    fireEvent.change(screen.getByLabelText("Family"), { target: { value: "left" } });
    expect(actions.family).toHaveBeenCalledWith("e1", "left");
    const name = screen.getByLabelText("Name");
    fireEvent.change(name, { target: { value: "Lid" } });
    fireEvent.blur(name);
    expect(actions.rename).toHaveBeenCalledWith("e1", "Lid");
    fireEvent.click(screen.getByLabelText("Move down"));
    expect(actions.reorder).toHaveBeenCalledWith("e1", 1);
    expect((screen.getByLabelText("Move up") as HTMLButtonElement).disabled).toBe(true);
    fireEvent.click(screen.getByLabelText("Delete top right"));
    expect(actions.remove).toHaveBeenCalledWith("e1");
  });
});

describe("what stands so far", () => {
  it("says eye level with its error, and the view", () => {
    render(<Standing report={report} levelIsSet={false} onTurnLevel={nothing} />);
    expect(screen.getByTestId("eye-level").textContent).toBe("425 px ± 8");
    expect(screen.getByText(/looking down 3.1°/)).toBeTruthy();
  });

  it("says when eye level is open, and what to do on an empty sheet", () => {
    const open: Report = {
      ...report,
      camera: null,
      eye_level: {
        left_y_px: null,
        right_y_px: null,
        sd_px: null,
        source: "none",
        found: null,
        by_edges: null,
        by_rims: null,
      },
    };
    render(<Standing report={open} levelIsSet={false} onTurnLevel={nothing} />);
    expect(screen.getByTestId("eye-level").textContent).toBe("not fixed yet");
    render(<Notes report={open} count={0} />);
    expect(screen.getByText(/Nothing is sighted yet/)).toBeTruthy();
    cleanup();
    render(<Notes report={open} count={2} />);
    expect(screen.getByText("Only left edges so far.")).toBeTruthy();
  });

  it("draws a rim at each mark of the rail, a line at eye level", () => {
    const { container } = render(
      <LevelRail report={report} view={{ k: 0.6, x: 0, y: 10 }} height={600} litHeight={500} />,
    );
    const rims = [...container.querySelectorAll("ellipse")].map((rim) => Number(rim.getAttribute("ry")));
    expect(rims).toHaveLength(3);
    expect(rims[0]).toBeCloseTo(11 * Math.sin((12 * Math.PI) / 180));
    expect(rims[1]).toBe(0.6);
    expect(screen.getByRole("img", { name: /Eye level at 425 pixels, give or take 8/ })).toBeTruthy();
  });
});

describe("judging", () => {
  it("turns the needle by keys: ones, tens, halves, round past plumb", () => {
    const onTurn = vi.fn();
    render(<NeedleDial tilt={85} onTurn={onTurn} />);
    const needle = screen.getByRole("slider");
    fireEvent.keyDown(needle, { key: "ArrowUp" });
    fireEvent.keyDown(needle, { key: "ArrowUp", shiftKey: true });
    fireEvent.keyDown(needle, { key: "ArrowLeft", altKey: true });
    expect(onTurn.mock.calls.map((call) => call[0])).toEqual([86, -85, 84.5]);
  });

  it("commits with Enter and cancels with its button", () => {
    const commit = vi.fn();
    const cancel = vi.fn();
    render(
      <JudgePanel
        task={{ kind: "judge", thing: "edge", at: [5, 5] }}
        needle={7}
        onNeedle={nothing}
        onCommit={commit}
        onCancel={cancel}
        onUndoPoint={nothing}
      />,
    );
    fireEvent.keyDown(screen.getByRole("slider"), { key: "Enter" });
    expect(commit).toHaveBeenCalledTimes(1);
    fireEvent.click(screen.getByText("Cancel (Esc)"));
    expect(cancel).toHaveBeenCalledTimes(1);
  });
});

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
  const answers = (...list: (Response | Error)[]) => {
    const fetch = vi.fn((_request: Request) => {
      const next = list.shift() ?? new Error("gone");
      return next instanceof Error ? Promise.reject(next) : Promise.resolve(next);
    });
    vi.stubGlobal("fetch", fetch);
    return fetch;
  };
  const bodyOf = (fetch: ReturnType<typeof answers>, nth: number) => {
    const [request] = fetch.mock.calls[nth] ?? [];
    return request?.clone().json() ?? Promise.reject(new Error(`there was no request ${nth}`));
  };
  const json = (body: unknown, status = 200) =>
    new Response(JSON.stringify(body), { status, headers: { "Content-Type": "application/json" } });
  const saved = (revision: number) => json({ revision, updated_at: "2026-01-01T00:00:00Z", report });

  it("saves each change on the revision it was made on", async () => {
    const fetch = answers(saved(5), saved(6));
    const { result } = renderHook(() => useSheet(full, tabs), { wrapper });
    act(() => result.current.change({ ...sheet, title: "A" }));
    await waitFor(() => expect(result.current.save.kind).toBe("saved"));
    act(() => result.current.change({ ...sheet, title: "B" }));
    await waitFor(() => expect(fetch).toHaveBeenCalledTimes(2));
    const sent = await Promise.all(fetch.mock.calls.map(([request]) => request.clone().json()));
    expect(sent.map((body) => [body.revision, body.document.title])).toEqual([
      [4, "A"],
      [5, "B"],
    ]);
    await waitFor(() => expect(localStorage.getItem("aspectum.unsaved.s1.tab-a")).toBeNull());
  });

  it("keeps work that could not be sent, and takes it up when the sheet is opened again", async () => {
    answers(new Error("gone"));
    const first = renderHook(() => useSheet(full, tabs), { wrapper });
    act(() => first.result.current.change({ ...sheet, title: "Unsent" }));
    await waitFor(() => expect(first.result.current.save.kind).toBe("waiting"));
    first.unmount();
    const fetch = answers(saved(5));
    const again = renderHook(() => useSheet(full, tabs), { wrapper });
    expect(again.result.current.sheet.title).toBe("Unsent");
    await waitFor(() => expect(again.result.current.save.kind).toBe("saved"));
    expect(fetch).toHaveBeenCalledTimes(1);
  });

  it("marks each save, so that one whose answer was lost is no conflict", async () => {
    const fetch = answers(new Error("lost"), saved(5));
    const { result } = renderHook(() => useSheet(full, tabs), { wrapper });
    act(() => result.current.change({ ...sheet, title: "A" }));
    await waitFor(() => expect(result.current.save.kind).toBe("waiting"));
    act(() => result.current.change({ ...sheet, title: "B" }));
    await waitFor(() => expect(result.current.save.kind).toBe("saved"));
    const [first, second] = await Promise.all(fetch.mock.calls.map(([request]) => request.clone().json()));
    expect(second.unanswered).toEqual([first.save]);
    expect(second.save).not.toBe(first.save);
  });

  const leave = (tab: string, title: string, revision: number, extra: Partial<Stash> = {}) => {
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
    expect(readStash("s1", "tab-b")?.document.title).toBe("Theirs");
  });

  it("offers every version that closed tabs left behind, and saves the one taken up", async () => {
    const fetch = answers(saved(5));
    leave("tab-b", "One", 4);
    leave("tab-c", "Two", 3);
    const { result } = renderHook(() => useSheet(full, tabs), { wrapper });
    expect(result.current.left.map(({ stash }) => stash.document.title).sort()).toEqual(["One", "Two"]);
    const two = result.current.left.find(({ stash }) => stash.document.title === "Two");
    if (two) act(() => result.current.takeUp(two));
    await waitFor(() => expect(result.current.save.kind).toBe("saved"));
    expect((await bodyOf(fetch, 0)).document.title).toBe("Two");
    expect(result.current.left).toHaveLength(1);
    act(() => result.current.left.forEach(result.current.letGo));
    expect(readStash("s1", "tab-b")).toBeNull();
  });

  it("asks about its own older version after a reload, and undo brings it back when the other is taken", async () => {
    answers(json(full));
    leave("tab-a", "Mine", 3);
    const { result } = renderHook(() => useSheet(full, tabs), { wrapper });
    expect(result.current.save.kind).toBe("conflict");
    act(() => result.current.takeTheirs());
    await waitFor(() => expect(result.current.save.kind).toBe("saved"));
    expect([result.current.sheet.title, readStash("s1", "tab-a")]).toEqual(["Slipway", null]);
    answers(saved(5));
    act(() => result.current.undo());
    expect(result.current.sheet.title).toBe("Mine");
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
    const fetch = answers(gone, json({ id: "s2" }));
    const { result } = renderHook(() => useSheet(full, tabs), { wrapper });
    act(() => result.current.change({ ...sheet, title: "Mine" }));
    await waitFor(() => expect(result.current.save.kind).toBe("gone"));
    expect(readStash("s1", "tab-a")?.document.title).toBe("Mine");
    expect(await act(() => result.current.keepCopy())).toBe("s2");
    expect((await bodyOf(fetch, 1)).document.title).toBe("Mine (kept)");
    expect(readStash("s1", "tab-a")).toBeNull();
  });

  it("asks when another tab was first, and saves over it only when told", async () => {
    const problem = json({ type: "about:blank", title: "x", status: 409, detail: "elsewhere", revision: 9 }, 409);
    const fetch = answers(problem, json({ ...full, revision: 9 }), saved(10));
    const { result } = renderHook(() => useSheet(full, tabs), { wrapper });
    act(() => result.current.change({ ...sheet, title: "Mine" }));
    await waitFor(() => expect(result.current.save).toEqual({ kind: "conflict", revision: 9 }));
    expect(fetch).toHaveBeenCalledTimes(1);
    act(() => result.current.keepMine());
    await waitFor(() => expect(result.current.save.kind).toBe("saved"));
    const last = await fetch.mock.calls[2]?.[0].clone().json();
    expect([last.revision, last.document.title]).toEqual([9, "Mine"]);
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

describe("rims", () => {
  const ellipse = {
    centre_px: [500, 400] as [number, number],
    major_px: 240,
    minor_px: 120,
    axis_deg: 87,
    degree_deg: 30,
  };
  const rimFinding: Finding = {
    ...finding,
    sighting: "r1",
    kind: "rim",
    judged: 22,
    sighted: 30,
    sighted_sd: 1.2,
    implied: 16.9,
    implied_sd: 0.5,
    words: "Flatter than “mouth”.",
    judged_words: "Judged 22°: 8.0° too flat.",
    rim: {
      axis_sighted_sd: 1,
      axis_implied_sd: 0.5,
      axis_turn_deg: -2.4,
      axis_turn_sd: 1.1,
      sighted_ellipse: ellipse,
      implied_ellipse: { ...ellipse, minor_px: 70, degree_deg: 16.9 },
      true_centre_px: [500, 398],
      diameter_px: null,
      square_px: [],
      touch_px: [],
      by_edges: { degree_deg: 17.5, sd_deg: 0.6 },
      by_rims: null,
      guide_deg: 15,
      coverage_deg: 190,
      faults: [],
    },
  };
  const rimSheet: Sheet = {
    ...sheet,
    sightings: [{ id: "r1", kind: "rim", form: "crate", name: "base", plane: "level", points: [] }],
  };

  it("carry three degrees, the axis, each side's word and the guide on their slip", () => {
    render(<Slips sheet={rimSheet} report={{ ...report, findings: [rimFinding] }} selected="r1" actions={actions} />);
    const said = screen.getByText("base").closest("li")?.textContent ?? "";
    for (const part of [
      "judged22.0°",
      "sighted30.0° ±1.2",
      "implied16.9° ±0.5",
      "2.4° ± 1.1 off the form",
      "edges alone 17.5°",
      "ellipse guide 15°",
    ])
      expect(said).toContain(part);
    expect(screen.queryByText("Rims of this form by height")).toBeNull();
    fireEvent.change(screen.getByLabelText("Plane"), { target: { value: "left" } });
    expect(actions.plane).toHaveBeenCalledWith("r1", "left");
    fireEvent.click(screen.getByText("Add points"));
    expect(actions.addPoints).toHaveBeenCalledWith("r1");
  });

  it("list what degree the form's rims should have, with the guide to draw each", () => {
    const rungs = [
      { y_px: 225, units: 1, ratio: 0.34, guide_deg: 20, ellipse: { ...ellipse, degree_deg: 20 } },
      { y_px: 425, units: 0, ratio: 0, guide_deg: null, ellipse: { ...ellipse, degree_deg: 0 } },
    ];
    const full = { ...report, findings: [rimFinding], ladders: [{ form: "crate", like: "r1", rungs }] };
    render(<Slips sheet={rimSheet} report={full} selected="r1" actions={actions} />);
    const rows = [...screen.getByRole("table").querySelectorAll("tbody tr")].map((row) => row.textContent);
    expect(rows).toEqual(["+120.0°20°", "00.0°–"]);
  });

  it("open from a line to a circle by arrow keys, no farther", () => {
    const open = vi.fn();
    const { rerender } = render(<RimDial degree={0} onOpen={open} />);
    const dial = screen.getByRole("slider", { name: /Rim/ });
    fireEvent.keyDown(dial, { key: "ArrowDown" });
    expect(open).toHaveBeenLastCalledWith(0);
    fireEvent.keyDown(dial, { key: "ArrowUp", shiftKey: true });
    expect(open).toHaveBeenLastCalledWith(10);
    rerender(<RimDial degree={85} onOpen={open} />);
    fireEvent.keyDown(dial, { key: "ArrowUp", shiftKey: true });
    expect(open).toHaveBeenLastCalledWith(90);
    fireEvent.keyDown(dial, { key: "ArrowUp", altKey: true });
    expect(open).toHaveBeenLastCalledWith(85.5);
  });

  it("are judged on their own dial", () => {
    const task = { kind: "judge", thing: "rim", at: null } as const;
    render(
      <JudgePanel
        task={task}
        needle={12}
        onNeedle={nothing}
        onCommit={nothing}
        onCancel={nothing}
        onUndoPoint={nothing}
      />,
    );
    expect(screen.getByRole("slider", { name: /Rim/ }).getAttribute("aria-valuenow")).toBe("12");
    expect(screen.getByLabelText(/Degree/)).toBeTruthy();
  });

  it("lie on the stage along their major axis, square to the minor one", () => {
    const rim = { id: "r1", kind: "rim", form: "crate", plane: "level", points: [] } as const;
    const { container } = render(
      <svg role="img" aria-label="stage">
        <RimLine
          rim={{ ...rim, points: [] }}
          finding={rimFinding}
          view={{ k: 2, x: 10, y: 5 }}
          chosen={false}
          quiet={false}
        />
      </svg>,
    );
    const drawn = container.querySelector(".rim-ink");
    expect(drawn?.getAttribute("rx")).toBe("240");
    expect(drawn?.getAttribute("ry")).toBe("120");
    expect(drawn?.getAttribute("transform")).toBe("rotate(3 1010 805)");
  });

  it("give the rail their form's own rims, and none while one is judged", () => {
    const ladder = {
      form: "crate",
      like: "r1",
      rungs: [
        { y_px: 225, units: 1, ratio: 0.34, guide_deg: 20, ellipse: { ...ellipse, degree_deg: 20, axis_deg: 85 } },
      ],
    };
    const rail = (hidden: boolean) => (
      <LevelRail
        report={report}
        view={{ k: 1, x: 0, y: 0 }}
        height={800}
        litHeight={null}
        ladder={ladder}
        hidden={hidden}
      />
    );
    const { container, rerender } = render(rail(false));
    expect(container.querySelector(".rail-rim")?.getAttribute("transform")).toMatch(/^rotate\(5 /);
    expect(screen.getByText("rims of the chosen form")).toBeTruthy();
    rerender(rail(true));
    expect(container.querySelectorAll(".rail-rim")).toHaveLength(0);
  });

  it("and edges say side by side where each puts eye level", () => {
    const both = {
      ...report.eye_level,
      source: "edges and rims" as const,
      by_edges: { left_y_px: 300, right_y_px: 302, sd_px: 17 },
      by_rims: { left_y_px: 330, right_y_px: 332, sd_px: 20 },
    };
    render(<Standing report={{ ...report, eye_level: both }} levelIsSet={false} onTurnLevel={nothing} />);
    expect(screen.getByTestId("edges-and-rims").textContent).toBe("from the edges (301 ± 17) and rims (331 ± 20)");
  });
});
