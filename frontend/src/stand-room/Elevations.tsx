import { useDrag } from "@use-gesture/react";
import { X } from "lucide-react";
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { type ApiError, call } from "../api/client";
import type { DrawnElevations, Outlined, Point, StandElevations, StandStroke, StandThing } from "../api/types";
import { actionOf, stepOf } from "../stage/keys";
import { IconButton } from "../ui/IconButton";
import { NumberInput } from "../ui/NumberInput";
import { useSize } from "../ui/useSize";
import { nameOf } from "./edits";
import { FOOTPRINT_KEYS } from "./keys";
import { path } from "./strokes";

type On = "front" | "side";
type Asked = NonNullable<Parameters<typeof ask>[0]>;
const HANDLE_PX = 6;
const GRIDS = [0.005, 0.01, 0.02, 0.05, 0.1, 0.25, 0.5];
const LEAST_GRID = 0.005;
const STEPS_ACROSS = 16; // of the grid, at least, across a thing's largest size
const DIVISIONS = ["none", "halves", "thirds", "quarters", "bays"] as const;

const ask = (body: {
  thing: StandThing;
  drawn?: DrawnElevations | null;
  by?: On | null;
  held?: number | null;
  grid_m?: number | null;
  symmetrical?: On[];
  divisions?: "halves" | "thirds" | "quarters" | null;
  bays?: number | null;
  typed?: [number, number, number] | null;
}) => call("post", "/api/stand/elevations", { body });

/** A thing's plan, front and side beside the view: points are drawn, sizes typed, and the thing follows. */
export function Elevations({
  thing,
  onThing,
  onClose,
}: {
  thing: StandThing;
  onThing: (thing: StandThing, done: boolean) => void;
  onClose: () => void;
}) {
  const [shown, setShown] = useState<StandElevations | null>(null);
  const [fault, setFault] = useState("");
  const [picked, setGrid] = useState<number | null>(null);
  const [halves, setHalves] = useState<On[]>([]);
  const [division, setDivision] = useState<(typeof DIVISIONS)[number]>("none");
  const [bays, setBays] = useState(5);
  const busy = useRef(false);
  const waiting = useRef<{ body: Asked; done: boolean } | null>(null);
  const parts = useMemo(
    () => ({
      divisions: division === "none" || division === "bays" ? null : division,
      bays: division === "bays" ? bays : null,
    }),
    [division, bays],
  );

  /** One question at a time, always the newest; what is refused is said, and the thing stays as it was. */
  const send = useCallback(
    async (body: Asked, done: boolean, change: boolean) => {
      waiting.current = { body, done };
      if (busy.current) return;
      busy.current = true;
      while (waiting.current) {
        const next = waiting.current;
        waiting.current = null;
        try {
          const found = await ask(next.body);
          setShown(found);
          // it stays as it is while the thing grows under the hand
          setGrid((old) => old ?? gridFor(found.size_m));
          setFault("");
          if (change) onThing(found.thing, next.done);
        } catch (error) {
          setFault((error as ApiError).message);
        }
      }
      busy.current = false;
    },
    [onThing],
  );

  // the thing may have been changed elsewhere: by undo, or in its fields
  const known = useRef("");
  const key = JSON.stringify([thing, parts]);
  useEffect(() => {
    const told = shown && JSON.stringify([shown.thing, parts]);
    if (known.current === key || told === key || busy.current) return;
    known.current = key;
    void send({ thing, ...parts }, true, false);
  }, [key, parts, send, shown, thing]);

  const drawn = shown?.drawn ?? null;
  const size = shown?.size_m ?? [1, 1, 1];
  const grid = picked ?? gridFor(size);
  const put = (next: DrawnElevations, by: On, held: number | null, done: boolean, symmetrical = halves) =>
    void send({ thing, drawn: next, by, held, grid_m: grid, symmetrical, ...parts }, done, true);
  const outline = (on: On): Outlined | null => (on === "front" ? drawn?.front : drawn?.side) ?? null;
  const begin = (on: On) => {
    if (!drawn) return;
    const [w, d, h] = drawn.size_m;
    const half = (on === "front" ? w : d) / 2;
    const ring: Point[] = [
      [half, 0],
      [half, h],
      [-half, h],
      [-half, 0],
    ];
    put({ ...drawn, [on]: { points: ring, smooth: [] } }, on, null, true);
  };
  const typed = (n: number, value: number | null, done = true, grid_m: number | null = null) => {
    if (!drawn || value === null) return;
    const next = drawn.size_m.map((old, i) => (i === n ? value : old)) as [number, number, number];
    void send({ thing, drawn, typed: next, held: grid_m === null ? null : n, grid_m, ...parts }, done, true);
  };
  // a side that is pulled snaps to the grid; both halves of the plan move alike
  const pulled = (across: number, up: number, upHalves: boolean) => ({
    size: [size[across] ?? 1, size[up] ?? 1] as Point,
    halves: upHalves,
    onSize: (way: "across" | "up", value: number, done: boolean) =>
      typed(way === "across" ? across : up, value, done, grid),
  });
  const square = !!drawn && !drawn.turned;
  return (
    <section aria-label={`Plan and elevations of ${nameOf(thing)}`} className="elevations" data-testid="elevations">
      <div className="flex items-center gap-2">
        <h2 className="grow font-bold">Plan and elevations: {nameOf(thing)}</h2>
        <IconButton icon={X} label="Close the elevations" title="Close (Esc)" onClick={onClose} />
      </div>
      {fault && (
        <p role="alert" className="elevation-fault">
          {fault}
        </p>
      )}
      {shown && (
        <>
          <div className="thing-fields">
            {drawn ? (
              (["width", "depth", "height"] as const).map((label, n) =>
                drawn.turned && n === 1 ? null : (
                  <NumberInput
                    key={label}
                    label={drawn.turned && n === 0 ? "across" : label}
                    value={drawn.size_m[n] ?? null}
                    least={0.001}
                    most={1000}
                    step={grid}
                    unit="m"
                    onValue={(value) => typed(n, value)}
                  />
                ),
              )
            ) : (
              <p className="text-sm leading-snug">
                {size.map((v) => v.toFixed(2)).join(" × ")} m. This form is changed by its measures at the right.
              </p>
            )}
            <label className="thing-select">
              grid
              <select className="select select-sm" value={grid} onChange={(e) => setGrid(Number(e.target.value))}>
                {GRIDS.map((step) => (
                  <option key={step} value={step}>
                    {step} m
                  </option>
                ))}
              </select>
            </label>
            <label className="thing-select">
              divided in
              <select
                className="select select-sm"
                value={division}
                onChange={(e) => setDivision(e.target.value as typeof division)}
              >
                {DIVISIONS.map((one) => (
                  <option key={one}>{one}</option>
                ))}
              </select>
            </label>
            {division === "bays" && (
              <NumberInput
                label="bays"
                value={bays}
                digits={0}
                least={2}
                most={40}
                step={1}
                unit=""
                onValue={(n) => n !== null && setBays(Math.round(n))}
              />
            )}
          </div>
          <div className="elevation-set">
            <Drawing
              name="Plan"
              strokes={shown.plan.strokes}
              divisions={[shown.divisions[0], shown.divisions[1]]}
              grid={grid}
              from_ground={false}
              pull={square ? pulled(0, 1, true) : undefined}
            />
            {/* what is turned looks the same from every side */}
            {(drawn?.turned ? (["front"] as const) : (["front", "side"] as const)).map((on) => (
              <Drawing
                key={on}
                name={on === "front" ? "Front" : "Side"}
                strokes={shown[on].strokes}
                divisions={[shown.divisions[on === "front" ? 0 : 1], shown.divisions[2]]}
                grid={grid}
                from_ground
                outline={outline(on)}
                pull={square && !outline(on) ? pulled(on === "front" ? 0 : 1, 2, false) : undefined}
                half={halves.includes(on) || !!drawn?.turned}
                closed={!drawn?.turned}
                onOutline={(next, held, done) => drawn && put({ ...drawn, [on]: next }, on, held, done)}
              >
                {drawn && !drawn.turned && (
                  <>
                    {outline(on) ? (
                      <label className="flex items-center gap-1.5 text-sm">
                        <input
                          type="checkbox"
                          className="checkbox checkbox-sm"
                          checked={halves.includes(on)}
                          onChange={(e) => {
                            const next = e.target.checked ? [...halves, on] : halves.filter((one) => one !== on);
                            setHalves(next);
                            if (e.target.checked) put(drawn, on, null, true, next);
                          }}
                        />
                        halves alike
                      </label>
                    ) : (
                      <button type="button" className="btn btn-sm" onClick={() => begin(on)}>
                        Draw its outline
                      </button>
                    )}
                    {outline(on) && (
                      <button
                        type="button"
                        className="btn btn-sm"
                        onClick={() =>
                          void send(
                            { thing, drawn: { ...drawn, [on]: null, widths: [], holes: [] }, ...parts },
                            true,
                            true,
                          )
                        }
                      >
                        Back to a rectangle
                      </button>
                    )}
                  </>
                )}
              </Drawing>
            ))}
          </div>
          {drawn?.front && !drawn.side && !drawn.turned && (
            <Widths drawn={drawn} onDrawn={(next) => put(next, "front", null, true)} />
          )}
        </>
      )}
    </section>
  );
}

function gridFor(size: [number, number, number]): number {
  return GRIDS.findLast((step) => step * STEPS_ACROSS <= Math.max(...size)) ?? LEAST_GRID;
}

/** Sections: at a share of its length the thing is so deep. */
function Widths({ drawn, onDrawn }: { drawn: DrawnElevations; onDrawn: (drawn: DrawnElevations) => void }) {
  const widths = drawn.widths ?? [];
  const put = (n: number, next: [number, number] | null) =>
    onDrawn({
      ...drawn,
      widths: widths.flatMap((old, i): [number, number][] =>
        i === n ? (next ? [next] : []) : [old as [number, number]],
      ),
    });
  return (
    <div className="thing-part">
      <h3 className="text-sm font-semibold">Sections: how deep it is along its length</h3>
      {widths.map(([share, deep], n) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: sections are told by their order
        <span key={n} className="flex flex-wrap items-center gap-2">
          <NumberInput
            label="at"
            value={share}
            least={0}
            most={1}
            step={0.05}
            unit="of its length"
            onValue={(v) => v !== null && put(n, [v, deep])}
          />
          <NumberInput
            label="deep"
            value={deep}
            least={0.001}
            most={drawn.size_m[1]}
            step={0.01}
            unit="m"
            onValue={(v) => v !== null && put(n, [share, v])}
          />
          <IconButton icon={X} label={`Take section ${n + 1} away`} size={14} onClick={() => put(n, null)} />
        </span>
      ))}
      <button
        type="button"
        className="btn btn-sm"
        onClick={() => onDrawn({ ...drawn, widths: [...widths, [widths.length === 0 ? 0 : 1, drawn.size_m[1] / 2]] })}
      >
        A section more
      </button>
    </div>
  );
}

const EDGE = 18;

/** Sides that are pulled where no outline is drawn: the sizes across and up, and what becomes of them. */
interface Pull {
  size: Point;
  /** Whether the middle lies halfway up, as on a plan, and not on the ground. */
  halves: boolean;
  onSize: (way: "across" | "up", value: number, done: boolean) => void;
}

const NO_OUTLINE: Outlined = { points: [], smooth: [] };

/** One elevation on its grid; where it has an outline, its points are dragged, added and taken away. */
function Drawing({
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
  children?: React.ReactNode;
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
        <svg width={width} height={height} role="group" aria-label={`${name} of the thing`}>
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
                  label={`${name}, pull it ${way === "across" ? "wider" : pull.halves ? "deeper" : "higher"}`}
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
                  label={`${name}, point ${n + 1}`}
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
            <label className="flex items-center gap-1.5 text-sm">
              <input
                type="checkbox"
                className="checkbox checkbox-sm"
                checked={outline.smooth?.includes(chosen) ?? false}
                onChange={(e) => {
                  const others = (outline.smooth ?? []).filter((n) => n !== chosen);
                  onOutline?.(
                    { ...outline, smooth: e.target.checked ? [...others, chosen].sort((a, b) => a - b) : others },
                    null,
                    true,
                  );
                }}
              />
              curved through point {chosen + 1}
            </label>
            <button
              type="button"
              className="btn btn-sm"
              onClick={() => {
                onOutline?.(withPoint(outline, chosen, closed), null, true);
                setChosen(chosen + 1);
              }}
            >
              A point more
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
                Take it away
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
      aria-label={`${label} at ${point[0].toFixed(2)}, ${point[1].toFixed(2)} m`}
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

/** A point halfway from point `n` to the next. */
export function withPoint(outline: Outlined, n: number, closed: boolean): Outlined {
  const points = outline.points;
  const last = !closed && n === points.length - 1;
  const [a, b] = last ? [points[n - 1], points[n]] : [points[n], points[(n + 1) % points.length]];
  if (!a || !b) return outline;
  const at = last ? n : n + 1;
  return {
    points: [...points.slice(0, at), [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2], ...points.slice(at)],
    smooth: (outline.smooth ?? []).map((i) => (i >= at ? i + 1 : i)),
  };
}

export function withoutPoint(outline: Outlined, n: number): Outlined {
  return {
    points: outline.points.filter((_, i) => i !== n),
    smooth: (outline.smooth ?? []).filter((i) => i !== n).map((i) => (i > n ? i - 1 : i)),
  };
}
