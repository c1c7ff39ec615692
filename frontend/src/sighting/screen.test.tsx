// @vitest-environment jsdom
import { cleanup, fireEvent, render, screen, within } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Finding, Report, Sheet } from "../api/types";
import { NeedleDial } from "../stage/dials/NeedleDial";
import { RimDial } from "../stage/dials/RimDial";
import { RimLine } from "../stage/layers/Rims";
import { finding, report, sheet } from "../testing/fixtures";
import { JudgePanel } from "./JudgePanel";
import { LevelRail } from "./LevelRail";
import { Slips, Waiting } from "./Slips";
import { Notes, Standing } from "./Standing";
import type { useMeasuring } from "./useMeasuring";

const nothing = () => undefined;
const actions = {
  select: vi.fn(),
  family: vi.fn(),
  plane: vi.fn(),
  addPoints: vi.fn(),
  layOn: () => undefined,
  accept: vi.fn(),
  judge: vi.fn(),
  strikeOut: vi.fn(),
  slope: nothing,
  along: nothing,
  unit: nothing,
  known: nothing,
  hidden: nothing,
  form: nothing,
  rename: vi.fn(),
  remove: vi.fn(),
  judged: vi.fn(),
  reorder: vi.fn(),
};

/** Judging is off, and what is less sure is folded away. */
const ways = { judgeFirst: false, unsureShown: false, onUnsure: nothing };
/** Nothing is drawn to measure by. */
const measuring = { easing: null, setEasing: nothing, eased: { answer: null, fault: "" } } as unknown as ReturnType<
  typeof useMeasuring
>;

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
    render(
      <Slips
        sheet={sheet}
        report={report}
        selected={null}
        resting={false}
        actions={actions}
        measuring={measuring}
        {...ways}
      />,
    );
    const slip = screen.getByText("top right").closest("li");
    expect(slip?.textContent).toContain("judged12.0°2.7° too steep");
    expect(slip?.textContent).toContain("sighted9.3° ±0.7");
    expect(slip?.textContent).toContain("implied3.9° ±0.4");
    expect(slip?.textContent).toContain("✗ off");
    expect(slip?.textContent).toContain("Climbs too much");
  });

  it("say of a proposal how sure it is, and let it be accepted or struck out, alone or form by form", () => {
    const [first] = sheet.sightings ?? [];
    if (!first) throw new Error("no sighting");
    const proposed = { ...first, proposed: true, confidence: 0.83 };
    render(
      <Slips
        sheet={{ ...sheet, sightings: [proposed] }}
        report={{ ...report, findings: [] }}
        selected={null}
        resting={false}
        actions={actions}
        measuring={measuring}
        {...ways}
      />,
    );
    const slip = screen.getByText("Proposed, sure to 83 %").closest("li");
    expect(slip?.textContent).not.toContain("judged");
    fireEvent.click(within(slip as HTMLElement).getByText("Accept"));
    expect(actions.accept).toHaveBeenLastCalledWith([first.id]);
    fireEvent.click(within(slip as HTMLElement).getByText("Strike out"));
    expect(actions.strikeOut).toHaveBeenLastCalledWith([first.id]);
    expect(screen.getByText("1 proposed")).toBeTruthy();
    fireEvent.click(screen.getByText("Accept all"));
    expect(actions.accept).toHaveBeenLastCalledWith([first.id]);
  });

  it("say how many proposals wait for the person's own eye", () => {
    const { container } = render(<Waiting count={14} />);
    expect(container.textContent).toContain("14 lines that were found in the picture wait");
    cleanup();
    expect(render(<Waiting count={0} />).container.textContent).toBe("");
  });

  it("give nothing away while a judgement is made", () => {
    render(
      <Slips
        sheet={sheet}
        report={report}
        selected="e1"
        resting={true}
        actions={actions}
        measuring={measuring}
        {...ways}
      />,
    );
    expect(screen.getByText("top right").closest("li")?.textContent).toBe("Rtop right");
  });

  it("show uprights by their lean", () => {
    const upright = { ...finding, sighting: "u1", judged_lean_deg: 0, sighted_lean_deg: -1.4, implied_lean_deg: -1.9 };
    render(
      <Slips
        sheet={sheet}
        report={{ ...report, findings: [upright] }}
        selected={null}
        resting={false}
        actions={actions}
        measuring={measuring}
        {...ways}
      />,
    );
    expect(screen.getByText("near corner").closest("li")?.textContent).toContain("sighted1.4° left");
  });

  it("change family and order, and delete", () => {
    render(
      <Slips
        sheet={sheet}
        report={report}
        selected="e1"
        resting={false}
        actions={actions}
        measuring={measuring}
        {...ways}
      />,
    );
    fireEvent.blur(screen.getByLabelText(/^judged/), { target: { value: "14" } });
    expect(actions.judged).toHaveBeenCalledWith("e1", 14);
    fireEvent.change(screen.getByLabelText("Family"), { target: { value: "left" } });
    expect(actions.family).toHaveBeenCalledWith("e1", "left");
    fireEvent.click(screen.getByLabelText("Move down"));
    expect(actions.reorder).toHaveBeenCalledWith("e1", 1);
    expect((screen.getByLabelText("Move up") as HTMLButtonElement).disabled).toBe(true);
    fireEvent.click(screen.getByLabelText("Delete top right"));
    expect(actions.remove).toHaveBeenCalledWith("e1");
  });
});

describe("proposals", () => {
  const found = [0.9, 0.8, 0.4, 0.2].map((confidence, n) => ({
    ...(sheet.sightings ?? [])[0],
    id: `p${n}`,
    name: `left ${n + 3}`,
    proposed: true,
    confidence,
  })) as Sheet["sightings"];
  const proposals: Sheet = { ...sheet, sightings: found };

  it("that are less sure than even are folded away, and no part of what is accepted at once", () => {
    const onUnsure = vi.fn();
    const { rerender } = render(
      <Slips
        sheet={proposals}
        report={report}
        selected={null}
        resting={false}
        actions={actions}
        measuring={measuring}
        {...ways}
        onUnsure={onUnsure}
      />,
    );
    expect(screen.queryByText("left 5")).toBeNull();
    fireEvent.click(screen.getByText("Accept all"));
    expect(actions.accept).toHaveBeenCalledWith(["p0", "p1"]);
    fireEvent.click(screen.getByText("and 2 less sure"));
    expect(onUnsure).toHaveBeenCalled();
    rerender(
      <Slips
        sheet={proposals}
        report={report}
        selected={null}
        resting={false}
        actions={actions}
        measuring={measuring}
        {...ways}
        unsureShown
      />,
    );
    expect(screen.getByText("left 5")).toBeTruthy();
  });

  it("are judged before they are accepted where the eye comes first", () => {
    render(
      <Slips
        sheet={proposals}
        report={report}
        selected={null}
        resting={false}
        actions={actions}
        measuring={measuring}
        {...ways}
        judgeFirst
      />,
    );
    expect(screen.queryByText("Accept")).toBeNull();
    expect(screen.queryByText("Accept all")).toBeNull();
    fireEvent.click(screen.getAllByText("Judge it")[0] as HTMLElement);
    expect(actions.judge).toHaveBeenCalledWith("p0");
  });
});

describe("what stands so far", () => {
  it("says eye level with its error, and the view", () => {
    render(
      <Standing
        report={report}
        levelIsSet={false}
        resting={false}
        onTurnLevel={nothing}
        onJudgeLevel={nothing}
        high={960}
      />,
    );
    expect(screen.getByTestId("eye-level").textContent).toBe("44.3 % down the picture ± 0.8");
    expect(screen.getByText(/normal view, two-point, .*looking down 3.1°/)).toBeTruthy();
    expect(screen.getByTestId("judgements").textContent).toBe("shallow edges judged 2.7° too steep (n = 1)");
    expect(screen.getByText(/its top shows/)).toBeTruthy();
  });

  it("says when eye level is open, and what to do on an empty sheet", () => {
    const open: Report = {
      ...report,
      camera: null,
      eye_level: {
        left_y_px: null,
        right_y_px: null,
        middle_y_px: null,
        sd_px: null,
        source: "none",
        found: null,
        by_edges: null,
        by_rims: null,
        judged: null,
      },
    };
    render(
      <Standing
        report={open}
        levelIsSet={false}
        resting={false}
        onTurnLevel={nothing}
        onJudgeLevel={nothing}
        high={960}
      />,
    );
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
        onFind={nothing}
        canUndoPoint
        unitNeeded={false}
      />,
    );
    fireEvent.keyDown(screen.getByRole("slider"), { key: "Enter" });
    expect(commit).toHaveBeenCalledTimes(1);
    fireEvent.click(screen.getByText("Cancel (Esc)"));
    expect(cancel).toHaveBeenCalledTimes(1);
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
      least_points: 0,
      faults: [],
    },
  };
  const rimSheet: Sheet = {
    ...sheet,
    sightings: [{ id: "r1", kind: "rim", form: "crate", name: "base", plane: "level", points: [] }],
  };

  it("carry three degrees, the axis, each side's word and the guide on their slip", () => {
    render(
      <Slips
        sheet={rimSheet}
        report={{ ...report, findings: [rimFinding] }}
        selected="r1"
        resting={false}
        actions={actions}
        measuring={measuring}
        {...ways}
      />,
    );
    const said = screen.getAllByText("base")[0]?.closest("li")?.textContent ?? "";
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
    render(
      <Slips
        sheet={rimSheet}
        report={full}
        selected="r1"
        resting={false}
        actions={actions}
        measuring={measuring}
        {...ways}
      />,
    );
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
        onFind={nothing}
        canUndoPoint
        unitNeeded={false}
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
      by_edges: { left_y_px: 300, right_y_px: 302, middle_y_px: 301, sd_px: 17 },
      by_rims: { left_y_px: 330, right_y_px: 332, middle_y_px: 331, sd_px: 20 },
    };
    render(
      <Standing
        report={{ ...report, eye_level: both }}
        levelIsSet={false}
        resting={false}
        onTurnLevel={nothing}
        onJudgeLevel={nothing}
        high={960}
      />,
    );
    expect(screen.getByTestId("edges-and-rims").textContent).toBe("from the edges (31 ± 2 %) and rims (34 ± 2 %)");
  });
});
