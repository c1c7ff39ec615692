import { t } from "../../words";
import "../stage.css";
import { useDrag } from "@use-gesture/react";
import { type ReactNode, useRef } from "react";
import { actionOf, DIAL_KEYS, stepOf } from "../keys";

/** Half the side of a dial's drawing; its face reaches to 100. */
const HALF = 110;

interface DialProps {
  label: string;
  value: number;
  least: number;
  look: string;
  /** Where the hand is, from the dial's middle in its own units, y up. */
  onDrag: (x: number, y: number) => void;
  onStep: (by: number) => void;
  children: ReactNode;
}

/** The round face on which something is judged by eye: dragged, or moved with the arrow keys. */
export function Dial({ label, value, least, look, onDrag, onStep, children }: DialProps) {
  const dial = useRef<SVGSVGElement>(null);
  const bind = useDrag(
    ({ xy: [x, y] }) => {
      const box = dial.current?.getBoundingClientRect();
      if (!box) return;
      const k = (2 * HALF) / box.width;
      onDrag((x - box.left - box.width / 2) * k, (box.top + box.height / 2 - y) * k);
    },
    { pointer: { keys: false } },
  );
  return (
    <svg
      ref={dial}
      {...bind()}
      viewBox={`${-HALF} ${-HALF} ${2 * HALF} ${2 * HALF}`}
      className={`needle-dial mx-auto block w-full max-w-56 touch-none rounded-full focus-visible:outline-3 ${look}`}
      tabIndex={0}
      role="slider"
      aria-label={label}
      aria-valuemin={least}
      aria-valuemax={90}
      aria-valuenow={value}
      aria-valuetext={t("dials.dial.degrees", { value })}
      onKeyDown={(event) => {
        const action = actionOf(DIAL_KEYS, event.key);
        if (!action) return;
        event.preventDefault();
        event.stopPropagation();
        onStep((action === "more" ? 1 : -1) * stepOf(event, 10, 1, 0.5));
      }}
    >
      <circle r={100} className="dial-face" />
      {children}
    </svg>
  );
}
