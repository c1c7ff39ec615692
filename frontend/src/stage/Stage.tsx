import { useGesture } from "@use-gesture/react";
import { type KeyboardEvent, useCallback, useEffect, useLayoutEffect, useMemo, useRef, useState } from "react";
import {
  type Edge,
  type Finding,
  isEdge,
  isRim,
  type PictureInfo,
  type Point,
  pictureUrl,
  type Report,
  type Sheet,
  type Sighting,
} from "../api/client";
import { handlesOf } from "../sighting/edits";
import { FAMILIES, VERDICTS } from "../sighting/families";
import {
  distance,
  fitView,
  lineAt,
  lineOnTo,
  middleOf,
  ovalThrough,
  roundPoint,
  tiltOf,
  toPicture,
  toScreen,
  type View,
  zoomAt,
} from "./geometry";
import { LOUPE_RADIUS, Loupe } from "./Loupe";
import { OvalShape, RimAnswer, RimLine, RimsDue } from "./Rims";

export type Thing = "edge" | "rim";

/** What the hand is doing on the stage: an edge's two ends, or a rim's major axis, are placed; then
 * a rim's near point; arc points are added to a rim that stands.
 */
export type Task =
  | { kind: "look" }
  | { kind: "pick"; thing: Thing }
  | { kind: "judge"; thing: Thing; at: Point | null }
  | { kind: "place"; thing: Thing; at: Point | null; judged: number | null }
  | { kind: "near"; thing: "rim"; at: Point | null; judged: number | null; ends: [Point, Point] }
  | { kind: "arc"; thing: "rim"; at: null; id: string };

/** Whether a tap on the stage sets one single point. */
function setsPoint(task: Task): boolean {
  return task.kind === "pick" || task.kind === "near" || task.kind === "arc";
}

interface Props {
  picture: PictureInfo;
  sheet: Sheet;
  report: Report;
  selected: string | null;
  task: Task;
  levelIsSet: boolean;
  rimsDue: { form: string | null } | null;
  onSelect: (id: string | null) => void;
  onPoint: (at: Point) => void;
  onPlace: (p: Point, q: Point) => void;
  onMoveHandle: (id: string, key: string, to: Point, done: boolean) => void;
  onMoveLevel: (side: "left" | "right" | "both", dy: number, done: boolean) => void;
  onView: (view: View, height: number) => void;
}

const SHORTEST_SCREEN = 8;
type Grip =
  | { kind: "pan" }
  | { kind: "handle"; id: string; key: string; from: Point }
  | { kind: "level"; side: "left" | "right" | "both" }
  | { kind: "lay" };

/** The picture with its sightings: pan, zoom, lay edges, drag their ends. */
export function Stage(props: Props) {
  const { picture, sheet, report, selected, task } = props;
  const box = useRef<SVGSVGElement>(null);
  const [size, setSize] = useState({ width: 800, height: 600 });
  const [view, setView] = useState<View | null>(null);
  const [first, setFirst] = useState<Point | null>(null);
  const [hand, setHand] = useState<Point | null>(null);
  const [cursor, setCursor] = useState<Point | null>(null);
  const [gripped, setGripped] = useState<{ id: string; key: string } | null>(null);
  const pixels = { width: picture.width_px, height: picture.height_px };
  const fitted = useMemo(
    () => fitView({ width: picture.width_px, height: picture.height_px }, size),
    [picture.width_px, picture.height_px, size],
  );
  const v = view ?? fitted;
  const { onView } = props;

  useLayoutEffect(() => {
    const element = box.current;
    if (!element) return;
    const observer = new ResizeObserver(() => setSize({ width: element.clientWidth, height: element.clientHeight }));
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  useEffect(() => onView(v, size.height), [onView, v, size.height]);
  useEffect(() => {
    setFirst(null);
    setHand(null);
    if (task.kind === "look" || task.kind === "judge") setCursor(null);
  }, [task.kind]);

  const at = useCallback(
    (x: number, y: number): Point => {
      const frame = box.current?.getBoundingClientRect();
      return toPicture(v, [x - (frame?.left ?? 0), y - (frame?.top ?? 0)]);
    },
    [v],
  );
  const zoom = useCallback(
    (centre: Point, factor: number) =>
      setView((old) => zoomAt(old ?? fitted, centre, factor, fitted.k * 0.25, Math.max(12, fitted.k * 16))),
    [fitted],
  );

  const moveGrip = (grip: Grip, point: Point, moved: Point, done: boolean) => {
    if (grip.kind === "handle") {
      const to = roundPoint([grip.from[0] + moved[0] / v.k, grip.from[1] + moved[1] / v.k]);
      setGripped(done ? null : { id: grip.id, key: grip.key });
      props.onMoveHandle(grip.id, grip.key, to, done);
    } else if (grip.kind === "level") {
      props.onMoveLevel(grip.side, moved[1] / v.k, done);
    } else if (grip.kind === "lay") {
      setHand(done ? null : point);
    }
  };

  useGesture(
    {
      onDrag: ({
        event,
        first: started,
        last,
        tap,
        xy: [x, y],
        movement: [mx, my],
        delta: [dx, dy],
        memo,
        pinching,
        cancel,
      }) => {
        if (pinching) {
          cancel();
          return memo;
        }
        const point = at(x, y);
        let grip = memo as { grip: Grip; start: Point } | undefined;
        if (started || !grip) {
          grip = {
            grip: gripAt(event.target as Element, sheet, task),
            start: at(x - mx, y - my),
          };
          if (grip.grip.kind === "handle") props.onSelect(grip.grip.id);
        }
        if (tap) {
          setHand(null);
          setGripped(null);
          if (setsPoint(task)) props.onPoint(roundPoint(point));
          else if (task.kind === "place") dropEnd(point);
          else {
            const id = (event.target as Element).closest("[data-edge]")?.getAttribute("data-edge") ?? null;
            props.onSelect(id);
          }
          return grip;
        }
        if (grip.grip.kind === "pan")
          setView((old) => ({
            ...(old ?? fitted),
            x: (old ?? fitted).x + dx,
            y: (old ?? fitted).y + dy,
          }));
        else if (grip.grip.kind === "lay" && last) {
          const from = first ?? grip.start;
          setHand(null);
          setFirst(null);
          if (distance(from, point) * v.k >= SHORTEST_SCREEN) props.onPlace(roundPoint(from), roundPoint(point));
        } else {
          if (grip.grip.kind === "lay" && !first) setFirst(grip.start);
          moveGrip(grip.grip, point, [mx, my], last);
        }
        return grip;
      },
      onPinch: ({ origin: [ox, oy], delta: [d], event }) => {
        event.preventDefault();
        const frame = box.current?.getBoundingClientRect();
        zoom([ox - (frame?.left ?? 0), oy - (frame?.top ?? 0)], 1 + d);
      },
      onWheel: ({ event, delta: [, dy], ctrlKey }) => {
        if (ctrlKey) return;
        event.preventDefault();
        const frame = box.current?.getBoundingClientRect();
        zoom([event.clientX - (frame?.left ?? 0), event.clientY - (frame?.top ?? 0)], Math.exp(-dy * 0.0015));
      },
      onMove: ({ xy: [x, y] }) => {
        if ((task.kind === "place" && first) || task.kind === "near") setHand(at(x, y));
      },
    },
    {
      target: box,
      eventOptions: { passive: false },
      drag: { filterTaps: true, tapsThreshold: 4, pointer: { keys: false } },
      pinch: { scaleBounds: { min: 0.1, max: 20 } },
    },
  );

  const dropEnd = (point: Point) => {
    const to = roundPoint(point);
    if (!first) setFirst(to);
    else if (distance(first, to) * v.k >= SHORTEST_SCREEN) {
      setFirst(null);
      setHand(null);
      props.onPlace(first, to);
    }
  };

  const onKeyDown = (event: KeyboardEvent<SVGSVGElement>) => {
    const target = event.target as Element;
    const way = ARROWS[event.key];
    const handle = target.closest("[data-handle]");
    if (way && handle) {
      event.preventDefault();
      const grip = handleAt(handle, sheet);
      if (!grip) return;
      const by = event.shiftKey ? 10 : event.altKey ? 0.2 : 1;
      const to = roundPoint([grip.from[0] + way[0] * by, grip.from[1] + way[1] * by]);
      props.onMoveHandle(grip.id, grip.key, to, true);
      return;
    }
    const level = target.closest("[data-level]");
    if (way && level && way[1] !== 0) {
      event.preventDefault();
      const by = event.shiftKey ? 10 : event.altKey ? 0.2 : 1;
      props.onMoveLevel(level.getAttribute("data-level") as "left" | "right" | "both", way[1] * by, true);
      return;
    }
    if (event.key === "+" || event.key === "=" || event.key === "-") {
      event.preventDefault();
      zoom([size.width / 2, size.height / 2], event.key === "-" ? 1 / 1.25 : 1.25);
      return;
    }
    if (event.key === "0") setView(null);
    if (task.kind !== "place" && !setsPoint(task)) {
      if (way && !handle && !level) {
        event.preventDefault();
        const by = event.shiftKey ? 120 : 40;
        setView((old) => ({
          ...(old ?? fitted),
          x: (old ?? fitted).x - way[0] * by,
          y: (old ?? fitted).y - way[1] * by,
        }));
      }
      return;
    }
    const here =
      cursor ??
      (task.kind === "place" || task.kind === "near" ? task.at : null) ??
      toPicture(v, [size.width / 2, size.height / 2]);
    if (way) {
      event.preventDefault();
      const by = event.shiftKey ? 25 : event.altKey ? 1 : 5;
      const next: Point = [here[0] + way[0] * by, here[1] + way[1] * by];
      setCursor(next);
      if (first || task.kind === "near") setHand(next);
    } else if (event.key === "Enter" || event.key === " ") {
      event.preventDefault();
      event.stopPropagation();
      if (!cursor) setCursor(here);
      if (setsPoint(task)) props.onPoint(roundPoint(here));
      else dropEnd(here);
    }
  };

  const edges = (sheet.sightings ?? []).filter(isEdge);
  const rims = (sheet.sightings ?? []).filter(isRim);
  const chosen = edges.find((e) => e.id === selected) ?? null;
  const chosenRim = rims.find((r) => r.id === selected) ?? null;
  const findings = new Map(report.findings.map((f) => [f.sighting, f]));
  const chosenFinding = chosenRim ? findings.get(chosenRim.id) : undefined;
  const quiet = task.kind !== "look" && task.kind !== "arc";
  const handles =
    !quiet && selected ? handlesOf((sheet.sightings ?? []).find((s) => s.id === selected) ?? NOTHING) : [];
  const held = gripped ? handles.find((h) => h.key === gripped.key) : null;
  const gripEdge = gripped ? edges.find((e) => e.id === gripped.id) : null;
  const placing = task.kind === "place" || task.kind === "near" || task.kind === "arc";
  const looking: Point | null = held?.at ?? hand ?? (placing ? cursor : null);
  const opening =
    task.kind === "near" && (hand ?? cursor) ? ovalThrough(...task.ends, (hand ?? cursor) as Point) : null;
  const lookingScreen = looking ? toScreen(v, looking) : null;
  const loupeAt: Point | null = lookingScreen && [
    lookingScreen[0] > size.width / 2 ? LOUPE_RADIUS + 14 : size.width - LOUPE_RADIUS - 14,
    lookingScreen[1] > size.height / 2 ? LOUPE_RADIUS + 14 : size.height - LOUPE_RADIUS - 14,
  ];
  const laying: [Point, Point] | null = first && (hand ?? cursor) ? [first, (hand ?? cursor) as Point] : null;
  const origin = toScreen(v, [0, 0]);

  return (
    <svg
      ref={box}
      className={`stage block h-full w-full touch-none select-none ${placing || task.kind === "pick" ? "cursor-crosshair" : "cursor-grab"}`}
      tabIndex={0}
      role="application"
      aria-label={stageLabel(task, first !== null)}
      onKeyDown={onKeyDown}
      data-testid="stage"
    >
      <image
        href={pictureUrl(picture.id, "view")}
        x={origin[0]}
        y={origin[1]}
        width={pixels.width * v.k}
        height={pixels.height * v.k}
        preserveAspectRatio="none"
      />
      <LevelLine {...props} view={v} width={size.width} />
      {chosen && <Answer edge={chosen} finding={findings.get(chosen.id)} report={report} view={v} size={size} />}
      {edges.map((edge) => (
        <EdgeLine
          key={edge.id}
          edge={edge}
          finding={findings.get(edge.id)}
          view={v}
          chosen={edge.id === selected}
          quiet={quiet}
        />
      ))}
      {rims.map((rim) => (
        <RimLine
          key={rim.id}
          rim={rim}
          finding={findings.get(rim.id)}
          view={v}
          chosen={rim.id === selected}
          quiet={quiet}
        />
      ))}
      {props.rimsDue && !quiet && <RimsDue report={report} sheetRims={rims} form={props.rimsDue.form} view={v} />}
      {chosenRim && chosenFinding && !quiet && (
        <RimAnswer rim={chosenRim} finding={chosenFinding} report={report} view={v} far={size.width + size.height} />
      )}
      {selected &&
        handles.map(({ key, at: place, word }) => {
          const [x, y] = toScreen(v, place);
          const name = (sheet.sightings ?? []).find((s) => s.id === selected)?.name ?? selected;
          return (
            <circle
              key={key}
              cx={x}
              cy={y}
              r={chosen ? 8 : key.startsWith("at") ? 4 : 6}
              className={chosen ? "handle" : "handle handle-small"}
              data-handle={key}
              data-edge={selected}
              tabIndex={0}
              role="button"
              aria-label={`${word} of ${name}; arrow keys move it`}
            />
          );
        })}
      {(task.kind === "judge" || task.kind === "place" || task.kind === "near") && task.at && (
        <PickMark at={toScreen(v, task.at)} />
      )}
      {task.kind === "near" && <LayLine from={toScreen(v, task.ends[0])} to={toScreen(v, task.ends[1])} />}
      {opening && (
        <g pointerEvents="none" data-testid="opening">
          {["edge-chalk rim-open", "lay-ink rim-open"].map((look) => (
            <OvalShape
              key={look}
              oval={{ ...opening, centre: toScreen(v, opening.centre), rx: opening.rx * v.k, ry: opening.ry * v.k }}
              className={look}
            />
          ))}
        </g>
      )}
      {laying && <LayLine from={toScreen(v, laying[0])} to={toScreen(v, laying[1])} />}
      {!laying && first && <circle cx={toScreen(v, first)[0]} cy={toScreen(v, first)[1]} r={5} className="handle" />}
      {cursor && (placing || task.kind === "pick") && <PickMark at={toScreen(v, cursor)} />}
      {looking && loupeAt && (
        <Loupe
          picture={picture}
          at={looking}
          corner={loupeAt}
          scale={v.k}
          line={laying ?? (gripEdge ? [gripEdge.p, gripEdge.q] : null)}
        />
      )}
    </svg>
  );
}

const ARROWS: Record<string, Point> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

function stageLabel(task: Task, started: boolean): string {
  if (task.kind === "pick")
    return `Picture. Point at the ${task.thing} you will judge: arrow keys move the mark, Enter picks.`;
  if (task.kind === "near") return "Picture. Move to a point on the near arc with the arrow keys, then press Enter.";
  if (task.kind === "arc") return "Picture. Each Enter adds a point on the rim's arc; Escape ends.";
  if (task.kind === "place" && task.thing === "rim")
    return `Picture. Move to ${started ? "the other" : "one"} end of the rim's major axis with the arrow keys, then press Enter.`;
  if (task.kind === "place")
    return started
      ? "Picture. Move to the edge's other end with the arrow keys, then press Enter."
      : "Picture. Move to one end of the edge with the arrow keys, then press Enter.";
  return "Picture with its sightings. Arrow keys pan, plus and minus zoom.";
}

function gripAt(target: Element, sheet: Sheet, task: Task): Grip {
  if (task.kind === "place") return { kind: "lay" };
  const handle = target.closest("[data-handle]");
  const grip = handle && handleAt(handle, sheet);
  if (grip) return { kind: "handle", ...grip };
  const level = target.closest("[data-level]");
  if (level)
    return {
      kind: "level",
      side: level.getAttribute("data-level") as "left" | "right" | "both",
    };
  return { kind: "pan" };
}

const NOTHING: Sighting = { id: "", kind: "rim", points: [] };

function handleAt(handle: Element, sheet: Sheet): { id: string; key: string; from: Point } | null {
  const id = handle.getAttribute("data-edge") ?? "";
  const key = handle.getAttribute("data-handle") ?? "";
  const sighting = sheet.sightings?.find((s) => s.id === id);
  const found = sighting && handlesOf(sighting).find((h) => h.key === key);
  return found ? { id, key, from: found.at } : null;
}

type PlacedEdge = Edge & { p: Point; q: Point };

function EdgeLine({
  edge,
  finding,
  view,
  chosen,
  quiet,
}: {
  edge: PlacedEdge;
  finding: Finding | undefined;
  view: View;
  chosen: boolean;
  quiet: boolean;
}) {
  const family = FAMILIES[edge.family];
  const [p, q] = [toScreen(view, edge.p), toScreen(view, edge.q)];
  const middle = middleOf(p, q);
  const verdict = finding ? VERDICTS[finding.verdict] : null;
  const line = { x1: p[0], y1: p[1], x2: q[0], y2: q[1] };
  return (
    <g className={`edge ${chosen ? "edge-chosen" : ""}`} opacity={quiet ? 0.45 : 1} data-edge={edge.id}>
      <line {...line} className="edge-reach" />
      <line {...line} className="edge-chalk" />
      <line {...line} className="edge-ink" stroke={family.ink} strokeDasharray={family.dash} />
      {!quiet && (
        <g transform={`translate(${middle[0]} ${middle[1]})`} className={`tag tag-${finding?.verdict ?? "unsure"}`}>
          <rect x={-15} y={-9} width={30} height={18} rx={9} />
          <text x={-5.5} y={4.5} textAnchor="middle">
            {family.letter}
          </text>
          <text x={6.5} y={4.5} textAnchor="middle" className="tag-mark">
            {verdict?.mark ?? ""}
          </text>
        </g>
      )}
    </g>
  );
}

/** The selected edge drawn on to its VP, where it should run, and what was judged. */
function Answer({
  edge,
  finding,
  report,
  view,
  size,
}: {
  edge: PlacedEdge;
  finding: Finding | undefined;
  report: Report;
  view: View;
  size: { width: number; height: number };
}) {
  const middle = toScreen(view, middleOf(edge.p, edge.q));
  const half = (distance(edge.p, edge.q) * view.k) / 2;
  const uprights = edge.family === "upright";
  const point = report.vanishing_points.find(
    (v) =>
      v.family === edge.family &&
      (uprights || v.form === (edge.form ?? "form")) &&
      (edge.family !== "slope" || v.slope === edge.slope),
  );
  const far = size.width + size.height;
  const drawnOn = lineOnTo(middle, point, view, far);
  const implied = finding?.implied ?? null;
  const spread = Math.min(40, 2 * (finding?.implied_sd ?? 0));
  const long = Math.max(half * 1.25, half + 24);
  const should = implied === null ? null : lineAt(middle, implied, long);
  const fan =
    implied === null ? null : [lineAt(middle, implied - spread, long), lineAt(middle, implied + spread, long)];
  const judged = finding?.judged ?? edge.judged_tilt_deg ?? null;
  const judgedLine = judged === null ? null : lineAt(middle, judged, half);
  return (
    <g pointerEvents="none" data-testid="answer">
      {drawnOn && (
        <line x1={drawnOn[0][0]} y1={drawnOn[0][1]} x2={drawnOn[1][0]} y2={drawnOn[1][1]} className="drawn-on" />
      )}
      {fan && (
        <path
          className="implied-fan"
          d={`M${middle}L${fan[0]?.[1]}L${fan[1]?.[1]}ZM${middle}L${fan[0]?.[0]}L${fan[1]?.[0]}Z`}
        />
      )}
      {judgedLine && (
        <>
          <line
            x1={judgedLine[0][0]}
            y1={judgedLine[0][1]}
            x2={judgedLine[1][0]}
            y2={judgedLine[1][1]}
            className="judged-outer"
          />
          <line
            x1={judgedLine[0][0]}
            y1={judgedLine[0][1]}
            x2={judgedLine[1][0]}
            y2={judgedLine[1][1]}
            className="judged-inner"
          />
        </>
      )}
      {should && (
        <>
          <line x1={should[0][0]} y1={should[0][1]} x2={should[1][0]} y2={should[1][1]} className="implied-halo" />
          <line x1={should[0][0]} y1={should[0][1]} x2={should[1][0]} y2={should[1][1]} className="implied" />
        </>
      )}
    </g>
  );
}

function LevelLine({ picture, report, sheet, levelIsSet, view, width }: Props & { view: View; width: number }) {
  const level = report.eye_level;
  const given = sheet.eye_level;
  const shown = levelIsSet && given ? given : level;
  if (shown.left_y_px == null || shown.right_y_px == null) return null;
  const slope = (shown.right_y_px - shown.left_y_px) / picture.width_px;
  const [x0, x1] = [toPicture(view, [0, 0])[0], toPicture(view, [width, 0])[0]];
  const a = toScreen(view, [x0, shown.left_y_px + slope * x0]);
  const b = toScreen(view, [x1, shown.left_y_px + slope * x1]);
  const found = levelIsSet ? level.found : null;
  const band = (levelIsSet ? 0 : 2 * (level.sd_px ?? 0)) * view.k;
  const [left, right] = [toScreen(view, [0, shown.left_y_px]), toScreen(view, [picture.width_px, shown.right_y_px])];
  return (
    <g className="level">
      {band > 0 && (
        <polygon
          className="level-band"
          pointerEvents="none"
          points={`${a[0]},${a[1] - band} ${b[0]},${b[1] - band} ${b[0]},${b[1] + band} ${a[0]},${a[1] + band}`}
        />
      )}
      {found && <FoundLine found={found} picture={picture} view={view} />}
      <line x1={a[0]} y1={a[1]} x2={b[0]} y2={b[1]} className="level-halo" pointerEvents="none" />
      <line
        x1={a[0]}
        y1={a[1]}
        x2={b[0]}
        y2={b[1]}
        className={levelIsSet ? "level-set" : "level-found"}
        pointerEvents="none"
      />
      {levelIsSet && (
        <>
          <line x1={a[0]} y1={a[1]} x2={b[0]} y2={b[1]} className="level-reach" data-level="both" />
          {(["left", "right"] as const).map((side) => {
            const [x, y] = side === "left" ? left : right;
            return (
              <rect
                key={side}
                x={x - 8}
                y={y - 8}
                width={16}
                height={16}
                className="handle level-handle"
                data-level={side}
                tabIndex={0}
                role="button"
                aria-label={`Eye level at the ${side}; up and down arrows move it`}
              />
            );
          })}
        </>
      )}
      <text x={Math.max(8, Math.min(left[0], width - 120) + 14)} y={left[1] - 7} className="level-word">
        {levelIsSet ? "eye level, set" : "eye level"}
      </text>
    </g>
  );
}

function FoundLine({
  found,
  picture,
  view,
}: {
  found: { left_y_px: number; right_y_px: number; sd_px: number };
  picture: PictureInfo;
  view: View;
}) {
  const a = toScreen(view, [0, found.left_y_px]);
  const b = toScreen(view, [picture.width_px, found.right_y_px]);
  const band = 2 * found.sd_px * view.k;
  return (
    <g pointerEvents="none">
      <polygon
        className="level-band"
        points={`${a[0]},${a[1] - band} ${b[0]},${b[1] - band} ${b[0]},${b[1] + band} ${a[0]},${a[1] + band}`}
      />
      <line x1={a[0]} y1={a[1]} x2={b[0]} y2={b[1]} className="level-found" />
    </g>
  );
}

function PickMark({ at: [x, y] }: { at: Point }) {
  return (
    <g className="pick-mark" pointerEvents="none">
      <circle cx={x} cy={y} r={15} />
      <path d={`M${x - 22} ${y}h10m24 0h10M${x} ${y - 22}v10m0 24v10`} />
    </g>
  );
}

function LayLine({ from, to }: { from: Point; to: Point }) {
  return (
    <g pointerEvents="none" data-testid="laying" data-tilt={tiltOf(from, to).toFixed(1)}>
      <line x1={from[0]} y1={from[1]} x2={to[0]} y2={to[1]} className="edge-chalk" />
      <line x1={from[0]} y1={from[1]} x2={to[0]} y2={to[1]} className="lay-ink" />
      <circle cx={from[0]} cy={from[1]} r={5} className="handle" />
    </g>
  );
}
