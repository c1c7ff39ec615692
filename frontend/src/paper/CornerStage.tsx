import { t } from "../words";
import "../stage/stage.css";
import { useGesture } from "@use-gesture/react";
import { type KeyboardEvent, useRef, useState } from "react";
import { pictureUrl } from "../api/client";
import type { Picture, Point } from "../api/types";
import { fitView, toPicture, toScreen } from "../stage/geometry";
import { LOUPE_RADIUS, Loupe } from "../stage/Loupe";
import { useSize } from "../ui/useSize";

type Corners = [Point, Point, Point, Point];
const CALLED = [
  t("paper.cornerStage.topLeft"),
  t("paper.cornerStage.topRight"),
  t("paper.cornerStage.bottomRight"),
  t("paper.cornerStage.bottomLeft"),
];
const STEPS: Record<string, Point> = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };

interface CornerStageProps {
  photo: Picture;
  corners: Corners | null;
  onCorners: (corners: Corners) => void;
}

/** The photo with the sheet's four corners, dragged or moved by keys under the loupe. */
export function CornerStage({ photo, corners, onCorners }: CornerStageProps) {
  const { ref, ...size } = useSize({ width: 700, height: 600 });
  const box = useRef<SVGSVGElement | null>(null);
  const view = fitView({ width: photo.width_px, height: photo.height_px }, size, 24);
  const [held, setHeld] = useState<number | null>(null);
  const move = (k: number, [x, y]: Point) => {
    if (!corners) return;
    const to: Point = [Math.min(Math.max(x, 0), photo.width_px), Math.min(Math.max(y, 0), photo.height_px)];
    onCorners(corners.map((at, n) => (n === k ? to : at)) as Corners);
  };
  const bind = useGesture(
    {
      onDrag: ({ args: [k], xy: [x, y], first, last, event, memo }) => {
        event.stopPropagation();
        const frame = box.current?.getBoundingClientRect();
        const at = toPicture(view, [x - (frame?.left ?? 0), y - (frame?.top ?? 0)]);
        const from = corners?.[k];
        const off: Point = first && from ? [from[0] - at[0], from[1] - at[1]] : (memo ?? [0, 0]);
        setHeld(last ? null : k);
        move(k, [at[0] + off[0], at[1] + off[1]]);
        return off;
      },
    },
    { drag: { threshold: 0, pointer: { keys: false } } },
  );
  const nudge = (event: KeyboardEvent, k: number) => {
    const step = STEPS[event.key];
    const at = corners?.[k];
    if (!step || !at) return;
    event.preventDefault();
    const by = event.shiftKey ? 10 : event.altKey ? 0.2 : 1;
    move(k, [at[0] + step[0] * by, at[1] + step[1] * by]);
  };
  const at = held === null ? null : (corners?.[held] ?? null);
  const origin = toScreen(view, [0, 0]);
  const seen = corners?.map((corner) => toScreen(view, corner)) ?? [];
  const margin = LOUPE_RADIUS + 14;
  return (
    <svg
      ref={(element) => {
        box.current = element;
        ref(element);
      }}
      className="block h-full w-full touch-none select-none"
      role="group"
      aria-label={t("paper.cornerStage.described")}
      data-testid="corner-stage"
    >
      <image
        href={pictureUrl(photo.id, "view")}
        x={origin[0]}
        y={origin[1]}
        width={photo.width_px * view.k}
        height={photo.height_px * view.k}
        preserveAspectRatio="none"
      />
      {corners && <polygon points={seen.map((p) => p.join(",")).join(" ")} className="sheet-outline" />}
      {seen.map(([x, y], k) => (
        <circle
          key={CALLED[k]}
          {...bind(k)}
          cx={x}
          cy={y}
          r={11}
          className="handle"
          data-corner={k}
          tabIndex={0}
          role="button"
          aria-label={t("paper.cornerStage.corner", { corner: CALLED[k] ?? "" })}
          onKeyDown={(event) => nudge(event, k)}
          onFocus={() => setHeld(k)}
          onBlur={() => setHeld(null)}
        />
      ))}
      {at && (
        <Loupe
          picture={photo}
          at={at}
          corner={[
            toScreen(view, at)[0] > size.width / 2 ? margin : size.width - margin,
            toScreen(view, at)[1] > size.height / 2 ? margin : size.height - margin,
          ]}
          scale={view.k}
          line={null}
        />
      )}
    </svg>
  );
}
