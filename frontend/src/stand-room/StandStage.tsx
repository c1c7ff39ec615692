import { useGesture } from "@use-gesture/react";
import { type ReactNode, useEffect, useLayoutEffect, useMemo, useRef, useState } from "react";
import type { StandDrawing, StandFile, StandSolids, StandView } from "../api/types";
import { fitView, type Size, type View } from "../stage/geometry";
import { actionOf, stepOf } from "../stage/keys";
import { useSize } from "../ui/useSize";
import { t } from "../words";
import { ExactLines } from "./ExactLines";
import { viewOf } from "./edits";
import { metresAPixel, raised, type Spot, walked } from "./eye";
import { WALK_KEYS } from "./keys";
import { Shading } from "./shading";

const TURN_A_PX = 0.35; // degrees walked for a pixel of the hand
const REST_MS = 160;
const WHEEL_STEP = 1.0015;

/** The set-up, shaded, with its exact lines laid over; the hand walks round it. */
export function StandStage({
  file,
  solids,
  drawing,
  moving,
  pivot,
  chosen,
  lines,
  hidden,
  ghost,
  shading,
  onView,
  onStep,
  onChoose,
  onPlace,
  laid,
  below,
  children,
}: {
  file: StandFile;
  solids: StandSolids | null;
  drawing: StandDrawing;
  /** While the hand moves something nothing is drawn smooth: it would make the hand wait. */
  moving: boolean;
  /** What the hand walks round. */
  pivot: Spot;
  chosen: string | null;
  lines: boolean;
  hidden: boolean;
  /** The drawing that this one is compared with. */
  ghost: StandDrawing | null;
  /** Whoever makes a picture of the view takes the shading from here. */
  shading: { current: Shading | null };
  onView: (view: StandView, done: boolean) => void;
  /** Nearer or back, to a share of the distance. */
  onStep: (share: number) => void;
  onChoose: (thing: string | null) => void;
  onPlace: (view: View, size: Size) => void;
  /** What is laid over the picture, in its own pixels, in place of the set-up. */
  laid?: ReactNode;
  below?: ReactNode;
  children?: ReactNode;
}) {
  const { ref, ...size } = useSize({ width: 700, height: 500 });
  const canvas = useRef<HTMLCanvasElement>(null);
  const [shaded, setShaded] = useState(true);
  const [ready, setReady] = useState(false);
  const from = useRef({ view: viewOf(file), pivot });
  const view = viewOf(file);
  const { width_px, height_px } = view;
  const { width, height } = size;
  const place = useMemo(
    () => fitView({ width: width_px, height: height_px }, { width, height }),
    [width_px, height_px, width, height],
  );
  useEffect(() => onPlace(place, { width, height }), [onPlace, place, width, height]);
  const [w, h] = [width_px * place.k, height_px * place.k];

  useLayoutEffect(() => {
    if (!canvas.current) return;
    try {
      shading.current = new Shading(canvas.current);
    } catch {
      setShaded(false);
    }
    return () => {
      shading.current?.dispose();
      shading.current = null;
    };
  }, [shading]);
  useEffect(() => {
    if (!solids || !shading.current) return;
    shading.current.setSolids(solids);
    setReady(true);
  }, [solids, shading]);
  // what the hand shows is drawn with the next frame, the newest alone, and smooth once it rests
  useEffect(() => {
    if (!ready || !solids) return;
    const drawn = (smooth: boolean) => shading.current?.draw(file, viewOf(file), w, h, smooth);
    const frame = requestAnimationFrame(() => drawn(false));
    const rest = moving ? undefined : window.setTimeout(() => drawn(true), REST_MS);
    return () => {
      cancelAnimationFrame(frame);
      window.clearTimeout(rest);
    };
  }, [ready, solids, file, moving, w, h, shading]);

  const bind = useGesture(
    {
      onDrag: ({ first, movement: [mx, my], tap, last, xy: [x, y], pinching }) => {
        if (pinching) return;
        if (first) from.current = { view, pivot };
        const box = canvas.current?.getBoundingClientRect();
        if (tap && box) {
          onChoose(
            shading.current?.thingAt(((x - box.left) / box.width) * 2 - 1, 1 - ((y - box.top) / box.height) * 2) ??
              null,
          );
          return;
        }
        const { view: began, pivot: about } = from.current;
        const scale = metresAPixel(began, about) / place.k;
        onView(raised(walked(began, about, -mx * TURN_A_PX), about, my * scale), last);
      },
      onWheel: ({ delta: [, dy] }) => dy !== 0 && onStep(WHEEL_STEP ** dy),
      onPinch: ({ delta: [d], offset: [at] }) => d !== 0 && onStep((at - d) / at),
    },
    { drag: { filterTaps: true, pointer: { keys: false } }, pinch: { pointer: { touch: true } } },
  );
  const walkBy = (event: React.KeyboardEvent) => {
    const way = actionOf(WALK_KEYS, event.key);
    if (!way) return;
    event.preventDefault();
    const by = stepOf(event, 15, 5, 1);
    const metres = metresAPixel(view, pivot) * height_px * 0.004 * by;
    onView(
      way === "left" || way === "right"
        ? walked(view, pivot, way === "left" ? -by : by)
        : raised(view, pivot, way === "up" ? metres : -metres),
      true,
    );
  };

  return (
    <div className="stand-stage">
      <div ref={ref} className="stand-room">
        <div
          {...bind()}
          role="application"
          aria-label={t("stand.standStage.described")}
          tabIndex={0}
          className="stand-hold"
          data-testid="stand"
          data-ready={ready || !shaded}
          onKeyDown={walkBy}
        >
          <canvas
            ref={canvas}
            className={shaded ? "stand-canvas" : "hidden"}
            style={{ left: place.x, top: place.y, width: w, height: h }}
          />
          <svg width={width} height={height} className="stand-lines" aria-hidden="true">
            <defs>
              <clipPath id="stand-picture">
                <rect x={place.x} y={place.y} width={w} height={h} />
              </clipPath>
            </defs>
            {!shaded && <rect x={place.x} y={place.y} width={w} height={h} className="stand-paper" />}
            <g clipPath="url(#stand-picture)">
              <g transform={`translate(${place.x} ${place.y}) scale(${place.k})`}>
                {laid ? (
                  <>
                    <rect width={width_px} height={height_px} className="stand-paper" />
                    {laid}
                  </>
                ) : (
                  <>
                    {ghost && <ExactLines drawing={ghost} look="ghost" />}
                    {(lines || !shaded) && (
                      <ExactLines drawing={drawing} look={hidden ? "all" : "seen"} chosen={chosen} />
                    )}
                    {!lines && shaded && chosen && <ExactLines drawing={drawing} look="chosen" chosen={chosen} />}
                  </>
                )}
              </g>
            </g>
            <rect x={place.x} y={place.y} width={w} height={h} className="stand-frame" />
          </svg>
        </div>
        {children}
      </div>
      {below}
    </div>
  );
}
