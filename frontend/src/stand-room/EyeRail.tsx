import { useDrag } from "@use-gesture/react";
import { useRef } from "react";
import type { StandDrawing, StandView } from "../api/types";
import type { View } from "../stage/geometry";
import { stepOf } from "../stage/keys";
import { figure } from "../ui/locale";
import { t } from "../words";
import { metresAPixel, raised, type Spot } from "./eye";

const WIDTH = 84;
const FIGURE_PX = 9; // nearer than this to eye level a figure would be struck through
const KEY_SHARE = 0.02; // of the distance that a press of a key raises the eye

interface EyeRailProps {
  drawing: StandDrawing;
  view: StandView;
  pivot: Spot;
  place: View | null;
  height: number;
  onView: (view: StandView, done: boolean) => void;
}

/** The level rail is the eye: its marks stand at heights above the ground, rims open as they leave eye level, and dragging it raises the eye. */
export function EyeRail({ drawing, view, pivot, place, height, onView }: EyeRailProps) {
  const from = useRef(view);
  const eye = view.eye_m[2];
  const bind = useDrag(
    ({ first, last, movement: [, dy] }) => {
      if (first) from.current = view;
      if (place) onView(raised(from.current, pivot, (-dy * metresAPixel(from.current, pivot)) / place.k), last);
    },
    { pointer: { keys: false } },
  );
  const marks = place ? drawing.level_rail.map((mark) => ({ ...mark, y: mark.y_px * place.k + place.y })) : [];
  const shown = marks.filter(({ y }) => y > 14 && y < height - 48);
  const digits = shown.some(({ height_m }) => Math.abs(height_m * 10 - Math.round(height_m * 10)) > 1e-6) ? 2 : 1;
  const seen = drawing.eye_level;
  const level = place && seen ? ((seen.left_y_px + seen.right_y_px) / 2) * place.k + place.y : null;
  const words = t("stand.eyeRail.eyeAboveGround", { value: figure(eye, 2) });
  return (
    <aside
      aria-label={t("stand.eyeRail.levelRail")}
      className="rail relative h-full border-r border-base-300 bg-base-200"
    >
      <div
        {...bind()}
        role="slider"
        tabIndex={0}
        aria-label={t("stand.eyeRail.height")}
        aria-orientation="vertical"
        aria-valuemin={-10000}
        aria-valuemax={10000}
        aria-valuenow={Number(eye.toFixed(3))}
        aria-valuetext={words}
        title={t("stand.eyeRail.dragHint")}
        className="eye-rail"
        onKeyDown={(event) => {
          if (event.key !== "ArrowUp" && event.key !== "ArrowDown") return;
          event.preventDefault();
          const by = metresAPixel(view, pivot) * view.height_px * stepOf(event, 5, 1, 0.2) * KEY_SHARE;
          onView(raised(view, pivot, event.key === "ArrowUp" ? by : -by), true);
        }}
      >
        <svg width={WIDTH} height={height} aria-hidden="true">
          <line x1={WIDTH - 22} y1={0} x2={WIDTH - 22} y2={height} className="rail-spine" />
          {shown.map(({ y, height_m, degree_deg }) => (
            <g key={height_m}>
              <line x1={WIDTH - 27} y1={y} x2={WIDTH - 17} y2={y} className="rail-tick" />
              <ellipse
                cx={WIDTH - 41}
                cy={y}
                rx={11}
                ry={Math.max(0.6, 11 * Math.sin((degree_deg * Math.PI) / 180))}
                className="rail-rim"
              >
                <title>{t("stand.eyeRail.open", { value: figure(degree_deg, 0) })}</title>
              </ellipse>
              {(level === null || Math.abs(y - level) > FIGURE_PX) && (
                <text x={3} y={y + 4} className={height_m === 0 ? "rail-eye" : "rail-figure"}>
                  {height_m === 0 ? "0" : figure(height_m, digits)}
                </text>
              )}
            </g>
          ))}
          {level !== null && level > 0 && level < height && (
            <>
              <line x1={0} y1={level} x2={WIDTH} y2={level} className="rail-level" />
              <path d={`M${WIDTH} ${level}l-13 -8v16z`} className="rail-lit" data-testid="eye-mark" />
            </>
          )}
        </svg>
      </div>
      {marks.length === 0 ? (
        <p className="pointer-events-none absolute inset-x-2 top-1/3 text-xs leading-snug">
          {view.parallel ? t("stand.eyeRail.noEyeLevel") : t("stand.eyeRail.notInPicture")}
        </p>
      ) : null}
      {!view.parallel && (
        <p className="pointer-events-none absolute inset-x-1 bottom-1 text-center text-[11px] leading-tight tabular-nums">
          <b>{t("stand.eyeRail.eyeM", { value: figure(eye, 2) })}</b>
          <br />
          {t("stand.eyeRail.aboveTheGround")}
        </p>
      )}
    </aside>
  );
}
