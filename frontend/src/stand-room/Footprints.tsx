import { useDrag } from "@use-gesture/react";
import { useRef } from "react";
import type { Point, StandFile, StandSolids, StandView } from "../api/types";
import { actionOf, stepOf, wayOf } from "../stage/keys";
import { t } from "../words";
import { changeThing, nameOf, thingsOf, viewOf } from "./edits";
import { focalPx } from "./eye";
import { FOOTPRINT_KEYS } from "./keys";

const [WIDTH, HEIGHT, EDGE] = [210, 164, 16];
const FARTHEST_EYE = 1.6; // spans of the set-up beyond which the eye is only pointed at
const KNOB_PX = 16;
const MOST_REACH_PX = 66; // of a knob, so that it stays on the plan

interface Frame {
  k: number;
  x: number;
  y: number;
}

interface FootprintsProps {
  file: StandFile;
  solids: StandSolids;
  chosen: string | null;
  onChoose: (thing: string | null) => void;
  onFile: (file: StandFile, done: boolean) => void;
}

/** The footprints as a small plan, the eye on it: things are moved and turned here. */
export function Footprints({ file, solids, chosen, onChoose, onFile }: FootprintsProps) {
  const view = viewOf(file);
  const held = useRef<Frame | null>(null);
  const frame = held.current ?? frameOf(file, solids, view);
  const hold = (last: boolean) => {
    held.current = last ? null : frame;
  };
  const at = ([x, y]: Point): Point => [frame.x + x * frame.k, frame.y - y * frame.k];
  const shapes = thingsOf(file).flatMap((thing) => {
    const solid = solids.solids.find((one) => one.thing === thing.id);
    return solid ? [{ thing, rings: solid.footprint.map((ring) => ring.map((p) => at(put(thing, p)))) }] : [];
  });
  const eye = at([view.eye_m[0], view.eye_m[1]]);
  const [ex, ey] = [Math.min(WIDTH - 8, Math.max(8, eye[0])), Math.min(HEIGHT - 8, Math.max(8, eye[1]))];
  const half = Math.atan(view.width_px / 2 / focalPx(view));
  const heading = (view.heading_deg * Math.PI) / 180;
  const ray = (turn: number) => `L${ex + 600 * Math.sin(heading + turn)} ${ey - 600 * Math.cos(heading + turn)}`;
  const straight = Math.abs(view.pitch_deg) > 80 && !view.parallel;
  return (
    <section aria-label={t("stand.footprints.footprints")} className="footprints">
      <svg width={WIDTH} height={HEIGHT}>
        <title>{t("stand.footprints.described")}</title>
        {!straight && !view.parallel && (
          <path d={`M${ex} ${ey}${ray(-half)}${ray(half)}Z`} className="footprint-cone" />
        )}
        {shapes.map(({ thing, rings }) => (
          <Footprint
            key={thing.id}
            name={nameOf(thing)}
            rings={rings}
            chosen={thing.id === chosen}
            middle={at(thing.at_m ?? [0, 0])}
            turn_deg={thing.turn_deg ?? 0}
            k={frame.k}
            from={{ at_m: thing.at_m ?? [0, 0], turn_deg: thing.turn_deg ?? 0 }}
            onChoose={() => onChoose(thing.id)}
            onChange={(change, last) => {
              hold(last);
              onFile(changeThing(file, thing.id, change), last);
            }}
          />
        ))}
        {!view.parallel && (
          <circle cx={ex} cy={ey} r={5} className="footprint-eye">
            <title>{t("stand.footprints.theEye")}</title>
          </circle>
        )}
      </svg>
    </section>
  );
}

function put(thing: { at_m?: Point; turn_deg?: number }, [x, y]: Point): Point {
  const turn = ((thing.turn_deg ?? 0) * Math.PI) / 180;
  const [c, s] = [Math.cos(turn), Math.sin(turn)];
  const [ax, ay] = thing.at_m ?? [0, 0];
  return [ax + c * x - s * y, ay + s * x + c * y];
}

/** Where the plan lies: all footprints on it, and the eye where it is not too far off. */
function frameOf(file: StandFile, solids: StandSolids, view: StandView): Frame {
  const points = thingsOf(file).flatMap((thing) =>
    (solids.solids.find((one) => one.thing === thing.id)?.footprint.flat() ?? []).map((p) => put(thing, p)),
  );
  if (points.length === 0) points.push([-1, -1], [1, 1]);
  const span = (list: Point[]) => {
    const [xs, ys] = [list.map((p) => p[0]), list.map((p) => p[1])];
    return [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)] as const;
  };
  const [x0, y0, x1, y1] = span(points);
  const across = Math.max(x1 - x0, y1 - y0, 1e-3);
  const [mx, my] = [(x0 + x1) / 2, (y0 + y1) / 2];
  const eye: Point = [view.eye_m[0], view.eye_m[1]];
  if (!view.parallel && Math.hypot(eye[0] - mx, eye[1] - my) < FARTHEST_EYE * across) points.push(eye);
  const [left, low, right, high] = span(points);
  const k = Math.min(
    (WIDTH - 2 * EDGE) / Math.max(right - left, 1e-3),
    (HEIGHT - 2 * EDGE) / Math.max(high - low, 1e-3),
  );
  return { k, x: WIDTH / 2 - ((left + right) / 2) * k, y: HEIGHT / 2 + ((low + high) / 2) * k };
}

interface Place {
  at_m: Point;
  turn_deg: number;
}

interface FootprintProps {
  name: string;
  rings: Point[][];
  chosen: boolean;
  middle: Point;
  turn_deg: number;
  /** Screen pixels a metre. */
  k: number;
  from: Place;
  onChoose: () => void;
  onChange: (change: Partial<Place>, last: boolean) => void;
}

function Footprint({ name, rings, chosen, middle, turn_deg, k, from, onChoose, onChange }: FootprintProps) {
  const began = useRef(from);
  const move = useDrag(
    ({ first, last, tap, movement: [dx, dy] }) => {
      if (first) {
        began.current = from;
        onChoose();
      }
      if (tap) return;
      const { at_m } = began.current;
      onChange({ at_m: [at_m[0] + dx / k, at_m[1] - dy / k] }, last);
    },
    { pointer: { keys: false }, filterTaps: true },
  );
  const half = Math.max(...rings.flat().map(([x, y]) => Math.hypot(x - middle[0], y - middle[1])), 4);
  const reach = Math.min(half + KNOB_PX, MOST_REACH_PX);
  const turn = (turn_deg * Math.PI) / 180;
  const knob: Point = [middle[0] + reach * Math.cos(turn), middle[1] - reach * Math.sin(turn)];
  const spin = useDrag(
    ({ first, last, movement: [dx, dy] }) => {
      if (first) began.current = from;
      const begun = (began.current.turn_deg * Math.PI) / 180;
      const [x, y] = [reach * Math.cos(begun) + dx, -reach * Math.sin(begun) + dy];
      onChange({ turn_deg: Math.round((-Math.atan2(y, x) * 180) / Math.PI) }, last);
    },
    { pointer: { keys: false } },
  );
  return (
    <g className={chosen ? "footprint-chosen" : ""}>
      <g
        {...move()}
        role="button"
        tabIndex={0}
        aria-label={t("stand.footprints.footprintOf", { name })}
        aria-pressed={chosen}
        className="footprint"
        onKeyDown={(event) => {
          if (event.key === "Enter" || event.key === " ") {
            event.preventDefault();
            onChoose();
          }
          const way = wayOf(actionOf(FOOTPRINT_KEYS, event.key));
          if (!way) return;
          event.preventDefault();
          const by = stepOf(event, 20, 4, 1) / k;
          const [x, y] = from.at_m;
          onChange({ at_m: [x + way[0] * by, y - way[1] * by] }, true);
        }}
      >
        {rings.map((ring) => (
          <polygon key={ring.join()} points={ring.join(" ")} />
        ))}
      </g>
      {chosen && (
        <g {...spin()} className="footprint-knob">
          <line x1={middle[0]} y1={middle[1]} x2={knob[0]} y2={knob[1]} />
          <circle cx={knob[0]} cy={knob[1]} r={6}>
            <title>{t("stand.footprints.turn", { name })}</title>
          </circle>
        </g>
      )}
    </g>
  );
}
