import { useDrag } from "@use-gesture/react";
import { type ReactNode, useRef, useState } from "react";
import type { Outlined, Point, StandStroke } from "../api/types";
import { actionOf, stepOf } from "../stage/keys";
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

/** One elevation on its grid; where it has an outline, its points are dragged, added and taken away. */
export function Elevation({
  name,
  strokes,
  divisions,
  grid,
  from_ground,
  outline = null,
  half = false,
  closed = true,
  pull,
  onOutline,
  children,
}: {
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
}) {
  const { ref, width, height } = useSize({ width: 380, height: 170 });
  const held = useRef<{ k: number; x: number; y: number } | null>(null);
  const points = strokes.flatMap((stroke) => stroke.points);
  const [xs, ys] = [points.map(([x]) => x), points.map(([, y]) => y)];
  const [left, right] = [Math.min(...xs), Math.max(...xs)];
  const [low, high] = [from_ground ? Math.min(0, ...ys) : Math.min(...ys), Math.max(...ys)];
  const k = Math.min(
    (width - 2 * EDGE) / Math.max(right - left, 1e-3),
    (height - 2 * EDGE) / Math.max(high - low, 1e-3),
  );
  const fitted = { k, x: width / 2 - ((left + right) / 2) * k, y: height / 2 + ((low + high) / 2) * k };
  // the paper keeps still while a point is in hand
  const frame = held.current ?? fitted;
  const at = ([x, y]: Point): Point => [frame.x + x * frame.k, frame.y - y * frame.k];
  const d = (weight: "thin" | "thick") =>
    strokes
      .filter((stroke) => stroke.weight === weight)
      .map((stroke) => path(stroke.points.map(at)))
      .join("");
  const step = gridStep(grid, frame.k);
  const [gx, gy] = [
    ticks(-frame.x / frame.k, (width - frame.x) / frame.k, step),
    ticks((frame.y - height) / frame.k, frame.y / frame.k, step),
  ];
  const [chosen, setChosen] = useState<number | null>(null);
  const shown = outline?.points ?? [];
  const move = (base: Outlined, n: number, to: Point, done: boolean) => {
    held.current = done ? null : frame;
    onOutline?.({ ...base, points: base.points.map((p, i) => (i === n ? to : p)) }, n, done);
  };
  const corner = chosen !== null && outline ? shown[chosen] : undefined;
  return (
    <figure className="elevation" aria-label={name}>
      <div ref={ref} className="elevation-paper">
        <svg width={width} height={height} role="group" aria-label={t("stand.elevation.ofTheThing", { name })}>
          {gx.map((x) => (
            <line key={`x${x}`} x1={at([x, 0])[0]} y1={0} x2={at([x, 0])[0]} y2={height} className="elevation-grid" />
          ))}
          {gy.map((y) => (
            <line key={`y${y}`} x1={0} y1={at([0, y])[1]} x2={width} y2={at([0, y])[1]} className="elevation-grid" />
          ))}
          {divisions[0].map((x) => (
            <line
              key={`d${x}`}
              x1={at([x, 0])[0]}
              y1={0}
              x2={at([x, 0])[0]}
              y2={height}
              className="elevation-division"
            />
          ))}
          {divisions[1].map((y) => (
            <line
              key={`e${y}`}
              x1={0}
              y1={at([0, y])[1]}
              x2={width}
              y2={at([0, y])[1]}
              className="elevation-division"
            />
          ))}
          {half && <line x1={at([0, 0])[0]} y1={0} x2={at([0, 0])[0]} y2={height} className="elevation-centre" />}
          <path d={d("thin")} className="elevation-thin" />
          <path d={d("thick")} className="elevation-thick" />
          {pull &&
            (["across", "up"] as const).map((way) => {
              const [w, h] = pull.size;
              const middle = pull.halves ? 0 : h / 2;
              const top = pull.halves ? h / 2 : h;
              const side: Point = way === "across" ? [w / 2, middle] : [0, top];
              return (
                <Handle
                  key={way}
                  label={t("stand.elevation.pull", {
                    name,
                    higher:
                      way === "across"
                        ? t("stand.elevation.wider")
                        : pull.halves
                          ? t("stand.elevation.deeper")
                          : t("stand.elevation.higher"),
                  })}
                  at={at(side)}
                  point={side}
                  outline={NO_OUTLINE}
                  k={frame.k}
                  grid={grid}
                  smooth={false}
                  chosen={false}
                  onChoose={() => undefined}
                  onMove={(_, [x, y], done) => {
                    held.current = done ? null : frame;
                    const value = way === "across" ? 2 * x : pull.halves ? 2 * y : y;
                    pull.onSize(way, Math.max(grid, value), done);
                  }}
                />
              );
            })}
          {outline &&
            shown.map((p, n) =>
              half && p[0] < -1e-9 ? null : (
                <Handle
                  // biome-ignore lint/suspicious/noArrayIndexKey: points of an outline are told by their order
                  key={n}
                  label={t("stand.elevation.point", { name, value: n + 1 })}
                  at={at(p)}
                  point={p}
                  outline={outline}
                  k={frame.k}
                  grid={grid}
                  smooth={outline.smooth?.includes(n) ?? false}
                  chosen={chosen === n}
                  onChoose={() => setChosen(n)}
                  onMove={(base, to, done) => move(base, n, to, done)}
                />
              ),
            )}
        </svg>
      </div>
      <figcaption className="elevation-caption">
        <b>{name}</b>
        {children}
        {outline && chosen !== null && corner && (
          <>
            <Tick
              className="flex items-center gap-1.5 text-sm"
              checked={outline.smooth?.includes(chosen) ?? false}
              onTick={(on) => {
                const others = (outline.smooth ?? []).filter((n) => n !== chosen);
                onOutline?.(
                  { ...outline, smooth: on ? [...others, chosen].sort((a, b) => a - b) : others },
                  null,
                  true,
                );
              }}
            >
              {t("stand.elevation.curvedThroughPoint", { value: chosen + 1 })}
            </Tick>
            <button
              type="button"
              className="btn btn-sm"
              onClick={() => {
                onOutline?.(withPoint(outline, chosen, closed), null, true);
                setChosen(chosen + 1);
              }}
            >
              {t("stand.elevation.aPointMore")}
            </button>
            {shown.length > (closed ? 3 : 2) && (
              <button
                type="button"
                className="btn btn-sm"
                onClick={() => {
                  onOutline?.(withoutPoint(outline, chosen), null, true);
                  setChosen(null);
                }}
              >
                {t("stand.elevation.takeItAway")}
              </button>
            )}
          </>
        )}
      </figcaption>
    </figure>
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
}: {
  label: string;
  at: Point;
  point: Point;
  outline: Outlined;
  k: number;
  grid: number;
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
  const [x, y] = at;
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
      aria-label={`${label} at ${figure(point[0], 2)}, ${figure(point[1], 2)} m`}
      aria-pressed={chosen}
      className={`elevation-handle ${chosen ? "elevation-chosen" : ""}`}
      onFocus={onChoose}
      onKeyDown={(event) => {
        const way = actionOf(FOOTPRINT_KEYS, event.key);
        if (!way) return;
        event.preventDefault();
        event.stopPropagation();
        const by = stepOf(event, 4, 1, 1) * grid;
        const [dx, dy] = [
          way === "left" ? -by : way === "right" ? by : 0,
          way === "up" ? by : way === "down" ? -by : 0,
        ];
        onMove(outline, [point[0] + dx, point[1] + dy], true);
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
