import { figure } from "../../ui/locale";
import "../stage.css";
import { useDrag } from "@use-gesture/react";
import { useRef } from "react";
import { actionOf, DIAL_KEYS, stepOf } from "../keys";

const LONG = 260;
const MARGIN = 14;
const REACH = LONG - 2 * MARGIN;
/** Where a measuring stick is marked within each whole: simple parts, the simpler the longer their mark. */
const PARTS = [2, 3, 4, 5, 8];

interface StickDialProps {
  label: string;
  value: number;
  /** How far the stick reaches. */
  most: number;
  unit: string;
  onSlide: (value: number) => void;
}

/** A measuring stick with a free thumb: how many units, what part, or how many metres, judged by eye. */
export function StickDial({ label, value, most, unit, onSlide }: StickDialProps) {
  const stick = useRef<SVGSVGElement>(null);
  const at = (share: number) => MARGIN + (share / most) * REACH;
  const bind = useDrag(
    ({ xy: [x] }) => {
      const box = stick.current?.getBoundingClientRect();
      if (!box) return;
      const share = (((x - box.left) * LONG) / box.width - MARGIN) / REACH;
      onSlide(Math.round(Math.min(1, Math.max(0, share)) * most * 100) / 100);
    },
    { pointer: { keys: false } },
  );
  const thumb = at(Math.min(value, most));
  return (
    <svg
      ref={stick}
      {...bind()}
      viewBox={`0 0 ${LONG} 58`}
      className="stick-dial block w-full cursor-grab touch-none focus-visible:outline-3"
      tabIndex={0}
      role="slider"
      aria-label={label}
      aria-valuemin={0}
      aria-valuemax={most}
      aria-valuenow={value}
      aria-valuetext={`${figure(value, 2)} ${unit}`}
      onKeyDown={(event) => {
        const action = actionOf(DIAL_KEYS, event.key);
        if (!action) return;
        event.preventDefault();
        event.stopPropagation();
        const by = stepOf(event, most / 10, most / 100, most / 400);
        onSlide(Math.max(0, Math.round((value + (action === "more" ? by : -by)) * 1000) / 1000));
      }}
    >
      <Stick most={most} at={at} />
      <path d={`M${thumb} 19l-9 -14h18z`} className="stick-thumb" />
      <line x1={thumb} x2={thumb} y1={19} y2={37} className="stick-nail" />
    </svg>
  );
}

/** Every simple part up to the stick's end, each once, with the length of its mark. */
function marksOf(most: number): { share: number; long: number }[] {
  const marks = new Map<string, { share: number; long: number }>();
  for (const [n, part] of [1, ...PARTS].entries())
    for (let k = 0; k <= most * part; k += 1) {
      const share = k / part;
      if (!marks.has(share.toFixed(4)))
        marks.set(share.toFixed(4), { share, long: n === 0 ? 16 : Math.max(4, 12 - 2 * n) });
    }
  return [...marks.values()];
}

function Stick({ most, at }: { most: number; at: (share: number) => number }) {
  return (
    <>
      <rect x={MARGIN - 6} y={20} width={REACH + 12} height={16} rx={8} className="stick-wood" />
      {marksOf(most).map(({ share, long }) => (
        <line key={share} x1={at(share)} x2={at(share)} y1={20} y2={20 + long} className="dial-tick" />
      ))}
      {Array.from({ length: Math.floor(most) + 1 }, (_, whole) => whole).map((whole) => (
        <text key={whole} x={at(whole)} y={52} textAnchor="middle" className="stick-figure">
          {whole}
        </text>
      ))}
    </>
  );
}
