import { useDrag } from "@use-gesture/react";
import { useRef } from "react";

const R = 92;

/** A free ellipse beside the picture, opened from a line to a circle by dragging or arrow keys. */
export function RimDial({ degree, onOpen }: { degree: number; onOpen: (degree: number) => void }) {
  const dial = useRef<SVGSVGElement>(null);
  const bind = useDrag(
    ({ xy: [, y] }) => {
      const box = dial.current?.getBoundingClientRect();
      if (!box) return;
      const share = Math.min(1, Math.abs(y - (box.top + box.height / 2)) / ((box.height * R) / 220));
      onOpen(Math.round((Math.asin(share) * 180) / Math.PI));
    },
    { pointer: { keys: false } },
  );
  const half = R * Math.sin((degree * Math.PI) / 180);
  return (
    <svg
      ref={dial}
      {...bind()}
      viewBox="-110 -110 220 220"
      className="needle-dial mx-auto block w-full max-w-56 cursor-ns-resize touch-none rounded-full focus-visible:outline-3"
      tabIndex={0}
      role="slider"
      aria-label="Rim: the opening you judge"
      aria-valuemin={0}
      aria-valuemax={90}
      aria-valuenow={degree}
      aria-valuetext={`${degree} degrees`}
      onKeyDown={(event) => {
        const way = { ArrowUp: 1, ArrowRight: 1, ArrowDown: -1, ArrowLeft: -1 }[event.key];
        if (!way) return;
        event.preventDefault();
        event.stopPropagation();
        const by = event.shiftKey ? 10 : event.altKey ? 0.5 : 1;
        onOpen(Math.min(90, Math.max(0, degree + way * by)));
      }}
    >
      <circle r={100} className="dial-face" />
      <line x1={-R} x2={R} y1={0} y2={0} className="dial-tick" />
      <ellipse rx={R} ry={Math.max(half, 0.5)} className="judged-outer rim-open" />
      <ellipse rx={R} ry={Math.max(half, 0.5)} className="judged-inner rim-open" />
      <circle cy={half} r={7} className="dial-hub" />
      <circle cy={-half} r={7} className="dial-hub" />
    </svg>
  );
}
