import { useDrag } from "@use-gesture/react";
import { type ReactNode, useRef, useState } from "react";
import type { Outlined, Point, StandStroke } from "../api/types";
import type { Size } from "../stage/geometry";
import { actionOf, stepOf, wayOf } from "../stage/keys";
import { figure } from "../ui/locale";
import { Tick } from "../ui/Tick";
import { useSize } from "../ui/useSize";
import { t } from "../words";
import { FOOTPRINT_KEYS } from "./keys";
import { withoutPoint, withPoint } from "./outline";
import { path } from "./strokes";

const HANDLE_PX = 6;
const EDGE = 18;

/** Sides that are pulled where no outline is drawn: the sizes across and up, and what becomes of them. */
export interface Pull {
  size: Point;
  /** Whether the middle lies halfway up, as on a plan, and not on the ground. */
  halves: boolean;
  onSize: (way: "across" | "up", value: number, done: boolean) => void;
}

const NO_OUTLINE: Outlined = { points: [], smooth: [] };

interface Props {
  name: string;
  strokes: StandStroke[];
  /** Lines that part it, across and up. */
  divisions: [number[], number[]];
  grid: number;
  from_ground: boolean;
  outline?: Outlined | null;
  /** Whether the right half alone is drawn. */
  half?: boolean;
  closed?: boolean;
  pull?: Pull;
  onOutline?: (outline: Outlined, held: number | null, done: boolean) => void;
  children?: ReactNode;
}

/** Where the paper lies: its scale, px a metre, and where the ground's middle is on it. */
interface Frame {
  k: number;
  x: number;
  y: number;
}

/** One elevation on its grid; where it has an outline, its points are dragged, added and taken away. */
export function Elevation(props: Props) {
  const { name, strokes, grid, from_ground, outline = null, half = false, closed = true, pull, onOutline } = props;
  const { ref, ...size } = useSize({ width: 380, height: 170 });
  const held = useRef<Frame | null>(null);
  // the paper keeps still while a point is in hand
  const frame = held.current ?? fitted(strokes, size, from_ground);
  const at = ([x, y]: Point): Point => [frame.x + x * frame.k, frame.y - y * frame.k];
  const d = (weight: "thin" | "thick") =>
    strokes
      .filter((stroke) => stroke.weight === weight)
      .map((stroke) => path(stroke.points.map(at)))
      .join("");
  const [chosen, setChosen] = useState<number | null>(null);
  const hold = (done: boolean) => {
    held.current = done ? null : frame;
  };
  const shared = { at, k: frame.k, grid, name };
  return (
    <figure className="elevation" aria-label={name}>
      <div ref={ref} className="elevation-paper">
        <svg {...size} role="group" aria-label={t("stand.elevation.ofTheThing", { name })}>
          <Grid frame={frame} size={size} step={gridStep(grid, frame.k)} divisions={props.divisions} half={half} />
          <path d={d("thin")} className="elevation-thin" />
          <path d={d("thick")} className="elevation-thick" />
          {pull && <Pulls pull={pull} onHold={hold} {...shared} />}
          {outline?.points.map((p, n) =>
            half && p[0] < -1e-9 ? null : (
              <Handle
                // biome-ignore lint/suspicious/noArrayIndexKey: points of an outline are told by their order
                key={n}
                {...shared}
                label={t("stand.elevation.point", { name, value: n + 1 })}
                point={p}
                outline={outline}
                smooth={outline.smooth?.includes(n) ?? false}
                chosen={chosen === n}
                onChoose={() => setChosen(n)}
                onMove={(base, to, done) => {
                  hold(done);
                  onOutline?.({ ...base, points: base.points.map((was, i) => (i === n ? to : was)) }, n, done);
                }}
              />
            ),
          )}
        </svg>
      </div>
      <figcaption className="elevation-caption">
        <b>{name}</b>
        {props.children}
        {outline && chosen !== null && outline.points[chosen] && (
          <OfChosen
            outline={outline}
            chosen={chosen}
            closed={closed}
            onOutline={(next) => onOutline?.(next, null, true)}
            onChoose={setChosen}
          />
        )}
      </figcaption>
    </figure>
  );
}

/** All that is drawn, in the middle of the paper; what stands on the ground, with the ground. */
function fitted(strokes: StandStroke[], { width, height }: Size, from_ground: boolean): Frame {
  const points = strokes.flatMap((stroke) => stroke.points);
  const [xs, ys] = [points.map(([x]) => x), points.map(([, y]) => y)];
  const [left, right] = [Math.min(...xs), Math.max(...xs)];
  const [low, high] = [from_ground ? Math.min(0, ...ys) : Math.min(...ys), Math.max(...ys)];
  const k = Math.min(
    (width - 2 * EDGE) / Math.max(right - left, 1e-3),
    (height - 2 * EDGE) / Math.max(high - low, 1e-3),
  );
  return { k, x: width / 2 - ((left + right) / 2) * k, y: height / 2 + ((low + high) / 2) * k };
}

function Grid({
  frame,
  size: { width, height },
  step,
  divisions,
  half,
}: Pick<Props, "divisions" | "half"> & { frame: Frame; size: Size; step: number }) {
  const upright = (x: number) => ({ x1: frame.x + x * frame.k, x2: frame.x + x * frame.k, y1: 0, y2: height });
  const level = (y: number) => ({ x1: 0, x2: width, y1: frame.y - y * frame.k, y2: frame.y - y * frame.k });
  const xs = ticks(-frame.x / frame.k, (width - frame.x) / frame.k, step);
  const ys = ticks((frame.y - height) / frame.k, frame.y / frame.k, step);
  return (
    <>
      {xs.map((x) => (
        <line key={`x${x}`} {...upright(x)} className="elevation-grid" />
      ))}
      {ys.map((y) => (
        <line key={`y${y}`} {...level(y)} className="elevation-grid" />
      ))}
      {divisions[0].map((x) => (
        <line key={`d${x}`} {...upright(x)} className="elevation-division" />
      ))}
      {divisions[1].map((y) => (
        <line key={`e${y}`} {...level(y)} className="elevation-division" />
      ))}
      {half && <line {...upright(0)} className="elevation-centre" />}
    </>
  );
}

interface OnPaper {
  name: string;
  at: (p: Point) => Point;
  /** Px a metre. */
  k: number;
  grid: number;
}

/** The two sides that are pulled. */
function Pulls({ pull, onHold, ...paper }: OnPaper & { pull: Pull; onHold: (done: boolean) => void }) {
  const [w, h] = pull.size;
  const up = pull.halves ? t("stand.elevation.deeper") : t("stand.elevation.higher");
  const sides: { way: "across" | "up"; side: Point; higher: string }[] = [
    { way: "across", side: [w / 2, pull.halves ? 0 : h / 2], higher: t("stand.elevation.wider") },
    { way: "up", side: [0, pull.halves ? h / 2 : h], higher: up },
  ];
  return sides.map(({ way, side, higher }) => (
    <Handle
      key={way}
      {...paper}
      label={t("stand.elevation.pull", { name: paper.name, higher })}
      point={side}
      outline={NO_OUTLINE}
      smooth={false}
      chosen={false}
      onChoose={() => undefined}
      onMove={(_, [x, y], done) => {
        onHold(done);
        const value = way === "across" ? 2 * x : pull.halves ? 2 * y : y;
        pull.onSize(way, Math.max(paper.grid, value), done);
      }}
    />
  ));
}

interface OfChosenProps {
  outline: Outlined;
  chosen: number;
  closed: boolean;
  onOutline: (outline: Outlined) => void;
  onChoose: (n: number | null) => void;
}

/** What becomes of the point that is chosen. */
function OfChosen({ outline, chosen, closed, onOutline, onChoose }: OfChosenProps) {
  const others = (outline.smooth ?? []).filter((n) => n !== chosen);
  return (
    <>
      <Tick
        className="flex items-center gap-1.5 text-sm"
        checked={outline.smooth?.includes(chosen) ?? false}
        onTick={(on) => onOutline({ ...outline, smooth: on ? [...others, chosen].sort((a, b) => a - b) : others })}
      >
        {t("stand.elevation.curvedThroughPoint", { value: chosen + 1 })}
      </Tick>
      <button
        type="button"
        className="btn btn-sm"
        onClick={() => {
          onOutline(withPoint(outline, chosen, closed));
          onChoose(chosen + 1);
        }}
      >
        {t("stand.elevation.aPointMore")}
      </button>
      {outline.points.length > (closed ? 3 : 2) && (
        <button
          type="button"
          className="btn btn-sm"
          onClick={() => {
            onOutline(withoutPoint(outline, chosen));
            onChoose(null);
          }}
        >
          {t("stand.elevation.takeItAway")}
        </button>
      )}
    </>
  );
}

function Handle({
  label,
  at,
  point,
  outline,
  k,
  grid,
  smooth,
  chosen,
  onChoose,
  onMove,
}: OnPaper & {
  label: string;
  point: Point;
  outline: Outlined;
  smooth: boolean;
  chosen: boolean;
  onChoose: () => void;
  onMove: (base: Outlined, to: Point, done: boolean) => void;
}) {
  const began = useRef({ outline, point });
  const bind = useDrag(
    ({ first, last, tap, movement: [dx, dy] }) => {
      if (first) {
        began.current = { outline, point };
        onChoose();
      }
      const { outline: base, point: from } = began.current;
      if (!tap) onMove(base, [from[0] + dx / k, from[1] - dy / k], last);
    },
    { pointer: { keys: false }, filterTaps: true },
  );
  const [x, y] = at(point);
  const shape = smooth ? (
    <circle cx={x} cy={y} r={HANDLE_PX} />
  ) : (
    <rect x={x - HANDLE_PX} y={y - HANDLE_PX} width={2 * HANDLE_PX} height={2 * HANDLE_PX} />
  );
  return (
    <g
      {...bind()}
      role="button"
      tabIndex={0}
      aria-label={t("stand.elevation.pointAt", { point: label, x: figure(point[0], 2), y: figure(point[1], 2) })}
      aria-pressed={chosen}
      className={`elevation-handle ${chosen ? "elevation-chosen" : ""}`}
      onFocus={onChoose}
      onKeyDown={(event) => {
        const way = wayOf(actionOf(FOOTPRINT_KEYS, event.key));
        if (!way) return;
        event.preventDefault();
        event.stopPropagation();
        const by = stepOf(event, 4, 1, 1) * grid;
        onMove(outline, [point[0] + way[0] * by, point[1] - way[1] * by], true);
      }}
    >
      {shape}
    </g>
  );
}

/** A grid that still reads: its step, or as many of it as stand ten pixels apart. */
function gridStep(grid: number, k: number): number {
  return grid * Math.max(1, Math.ceil(10 / (grid * k)));
}

function ticks(from: number, to: number, step: number): number[] {
  const first = Math.ceil(from / step);
  return Array.from({ length: Math.max(0, Math.floor(to / step) - first + 1) }, (_, n) => (first + n) * step);
}
