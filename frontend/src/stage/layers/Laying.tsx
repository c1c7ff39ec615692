import type { Point } from "../../api/types";
import { between, type Oval, tiltOf, toScreen, type View } from "../geometry";
import { OvalShape } from "./Rims";

/** Where something was pointed at. */
export function PickMark({ at: [x, y] }: { at: Point }) {
  return (
    <g className="pick-mark" pointerEvents="none">
      <circle cx={x} cy={y} r={15} />
      <path d={`M${x - 22} ${y}h10m24 0h10M${x} ${y - 22}v10m0 24v10`} />
    </g>
  );
}

/** A line being laid. */
export function LayLine({ from, to }: { from: Point; to: Point }) {
  return (
    <g pointerEvents="none" data-testid="laying" data-tilt={tiltOf(from, to).toFixed(1)}>
      <line {...between(from, to)} className="edge-chalk" />
      <line {...between(from, to)} className="lay-ink" />
      <circle cx={from[0]} cy={from[1]} r={5} className="handle" />
    </g>
  );
}

/** A rim being opened to its near point. */
export function Opening({ oval, view }: { oval: Oval; view: View }) {
  const drawn = { ...oval, centre: toScreen(view, oval.centre), rx: oval.rx * view.k, ry: oval.ry * view.k };
  return (
    <g pointerEvents="none" data-testid="opening">
      {["edge-chalk rim-open", "lay-ink rim-open"].map((look) => (
        <OvalShape key={look} oval={drawn} className={look} />
      ))}
    </g>
  );
}
