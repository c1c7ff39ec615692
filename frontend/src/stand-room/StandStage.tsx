import { type ReactNode, useEffect, useMemo, useRef } from "react";
import type { StandDrawing, StandFile, StandSolids, StandView } from "../api/types";
import { fitView, type Size, type View } from "../stage/geometry";
import { useSize } from "../ui/useSize";
import { t } from "../words";
import { ExactLines } from "./ExactLines";
import { viewOf } from "./edits";
import type { Spot } from "./eye";
import type { Shading } from "./shading";
import { useShading } from "./useShading";
import { useWalking } from "./useWalking";

/** What is drawn over the shading. */
interface Over {
  drawing: StandDrawing;
  chosen: string | null;
  lines: boolean;
  hidden: boolean;
  /** The drawing that this one is compared with. */
  ghost: StandDrawing | null;
  /** What is laid over the picture, in its own pixels, in place of the set-up. */
  laid?: ReactNode;
}

interface Props extends Over {
  file: StandFile;
  solids: StandSolids | null;
  moving: boolean;
  /** What the hand walks round. */
  pivot: Spot;
  /** Whoever makes a picture of the view takes the shading from here. */
  shading: { current: Shading | null };
  onView: (view: StandView, done: boolean) => void;
  /** Nearer or back, to a share of the distance. */
  onStep: (share: number) => void;
  onChoose: (thing: string | null) => void;
  onPlace: (view: View, size: Size) => void;
  below?: ReactNode;
  children?: ReactNode;
}

/** The set-up, shaded, with its exact lines laid over; the hand walks round it. */
export function StandStage(props: Props) {
  const { file, solids, moving, pivot, shading, onView, onStep, onChoose, onPlace, below, children, ...over } = props;
  const { ref, ...size } = useSize({ width: 700, height: 500 });
  const canvas = useRef<HTMLCanvasElement>(null);
  const view = viewOf(file);
  const { width_px, height_px } = view;
  const { width, height } = size;
  const place = useMemo(
    () => fitView({ width: width_px, height: height_px }, { width, height }),
    [width_px, height_px, width, height],
  );
  useEffect(() => onPlace(place, { width, height }), [onPlace, place, width, height]);
  const shown = { width: width_px * place.k, height: height_px * place.k };
  const { shaded, ready } = useShading({ canvas, shading, file, solids, moving, ...shown });
  const hand = useWalking({ canvas, shading, view, pivot, scale: place.k, onView, onStep, onChoose });
  return (
    <div className="stand-stage">
      <div ref={ref} className="stand-room">
        <div
          {...hand}
          role="application"
          aria-label={t("stand.standStage.described")}
          tabIndex={0}
          className="stand-hold"
          data-testid="stand"
          data-ready={ready || !shaded}
        >
          <canvas
            ref={canvas}
            className={shaded ? "stand-canvas" : "hidden"}
            style={{ left: place.x, top: place.y, ...shown }}
          />
          <svg width={width} height={height} className="stand-lines" aria-hidden="true">
            <OverShading {...over} shaded={shaded} place={place} picture={{ width: width_px, height: height_px }} />
          </svg>
        </div>
        {children}
      </div>
      {below}
    </div>
  );
}

/** The exact lines in their frame, cut off where the picture ends. */
function OverShading({
  drawing,
  chosen,
  lines,
  hidden,
  ghost,
  laid,
  shaded,
  place,
  picture,
}: Over & { shaded: boolean; place: View; picture: Size }) {
  const frame = { x: place.x, y: place.y, width: picture.width * place.k, height: picture.height * place.k };
  return (
    <>
      <defs>
        <clipPath id="stand-picture">
          <rect {...frame} />
        </clipPath>
      </defs>
      {!shaded && <rect {...frame} className="stand-paper" />}
      <g clipPath="url(#stand-picture)">
        <g transform={`translate(${place.x} ${place.y}) scale(${place.k})`}>
          {laid ? (
            <>
              <rect {...picture} className="stand-paper" />
              {laid}
            </>
          ) : (
            <>
              {ghost && <ExactLines drawing={ghost} look="ghost" />}
              {(lines || !shaded) && <ExactLines drawing={drawing} look={hidden ? "all" : "seen"} chosen={chosen} />}
              {!lines && shaded && chosen && <ExactLines drawing={drawing} look="chosen" chosen={chosen} />}
            </>
          )}
        </g>
      </g>
      <rect {...frame} className="stand-frame" />
    </>
  );
}
