import { useDrag } from "@use-gesture/react";
import { useRef } from "react";
import { lineAt, wrapTilt } from "./geometry";

const R = 100;

/** A free needle on a dial: dragged, or turned with the arrow keys. */
export function NeedleDial({ tilt, onTurn }: { tilt: number; onTurn: (tilt: number) => void }) {
  const dial = useRef<SVGSVGElement>(null);
  const bind = useDrag(
    ({ xy: [x, y] }) => {
      const box = dial.current?.getBoundingClientRect();
      if (!box) return;
      const dx = x - (box.left + box.width / 2);
      const dy = y - (box.top + box.height / 2);
      if (Math.hypot(dx, dy) < 6) return;
      onTurn(Math.round(wrapTilt((Math.atan2(-dy, dx) * 180) / Math.PI) * 2) / 2);
    },
    { pointer: { keys: false } },
  );
  const [a, b] = lineAt([0, 0], tilt, R - 10);
  return (
    <svg
      ref={dial}
      {...bind()}
      viewBox="-110 -110 220 220"
      className="needle-dial mx-auto block w-full max-w-56 cursor-grab touch-none rounded-full focus-visible:outline-3"
      tabIndex={0}
      role="slider"
      aria-label="Needle: the tilt you judge"
      aria-valuemin={-90}
      aria-valuemax={90}
      aria-valuenow={tilt}
      aria-valuetext={`${tilt} degrees`}
      onKeyDown={(event) => {
        const way = { ArrowUp: 1, ArrowRight: 1, ArrowDown: -1, ArrowLeft: -1 }[event.key];
        if (!way) return;
        event.preventDefault();
        event.stopPropagation();
        const by = event.shiftKey ? 10 : event.altKey ? 0.5 : 1;
        onTurn(wrapTilt(tilt + way * by));
      }}
    >
      <circle r={R} className="dial-face" />
      {Array.from({ length: 24 }, (_, i) => i * 15).map((angle) => {
        const [, outer] = lineAt([0, 0], angle, R);
        const [, inner] = lineAt([0, 0], angle, R - (angle % 45 === 0 ? 11 : 6));
        return <line key={angle} x1={inner[0]} y1={inner[1]} x2={outer[0]} y2={outer[1]} className="dial-tick" />;
      })}
      <line x1={a[0]} y1={a[1]} x2={b[0]} y2={b[1]} className="judged-outer" />
      <line x1={a[0]} y1={a[1]} x2={b[0]} y2={b[1]} className="judged-inner" />
      <circle r={5} className="dial-hub" />
    </svg>
  );
}
