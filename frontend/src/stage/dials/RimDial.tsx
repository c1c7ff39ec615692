import { t } from "../../words";
import { Dial } from "./Dial";

const WIDE = 92;

/** A free ellipse, opened from a line to a circle as far as is judged. */
export function RimDial({ degree, onOpen }: { degree: number; onOpen: (degree: number) => void }) {
  const half = WIDE * Math.sin((degree * Math.PI) / 180);
  return (
    <Dial
      label={t("dials.rimDial.opening")}
      value={degree}
      least={0}
      look="cursor-ns-resize"
      onDrag={(_, y) => onOpen(Math.round((Math.asin(Math.min(1, Math.abs(y) / WIDE)) * 180) / Math.PI))}
      onStep={(by) => onOpen(Math.min(90, Math.max(0, degree + by)))}
    >
      <line x1={-WIDE} x2={WIDE} y1={0} y2={0} className="dial-tick" />
      <ellipse rx={WIDE} ry={Math.max(half, 0.5)} className="judged-outer rim-open" />
      <ellipse rx={WIDE} ry={Math.max(half, 0.5)} className="judged-inner rim-open" />
      <circle cy={half} r={7} className="dial-hub" />
      <circle cy={-half} r={7} className="dial-hub" />
    </Dial>
  );
}
