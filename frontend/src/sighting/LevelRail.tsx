import { isStraight, type Ladder, type Report } from "../api/types";
import type { View } from "../stage/geometry";
import { figure } from "../ui/locale";
import { t } from "../words";

interface LevelRailProps {
  report: Report;
  view: View | null;
  height: number;
  litHeight: number | null;
  /** The rims that the selected round form must have; small level rims stand in where there is none. */
  ladder?: Ladder | null;
  /** While a rim is judged by eye the rail keeps its rims to itself. */
  hidden?: boolean;
}

/** A vertical scale through eye level, in near-upright units, with rims opening as they leave it. */
export function LevelRail({ report, view, height, litHeight, ladder = null, hidden = false }: LevelRailProps) {
  const marks = report.level_rail;
  const level = report.eye_level;
  const width = 84;
  const known = view && marks.length > 0;
  const middle = marks.find((m) => m.units === 0);
  const rungs = new Map(ladder?.rungs.map((rung) => [rung.units, rung.ellipse]));
  return (
    <aside
      aria-label={t("sighting.levelRail.levelRail")}
      className="rail relative h-full border-r border-base-300 bg-base-200"
    >
      <svg width={width} height={height} role="img" aria-label={railLabel(report)}>
        <line x1={width - 22} y1={0} x2={width - 22} y2={height} className="rail-spine" />
        {known &&
          marks.map((mark) => {
            const y = mark.y_px * view.k + view.y;
            if (y < 14 || y > height - 44) return null;
            const rung = rungs.get(mark.units);
            const degree = rung?.degree_deg ?? mark.degree_deg;
            const open = Math.sin(((degree ?? 0) * Math.PI) / 180);
            const turn = rung ? 90 - rung.axis_deg : 0;
            return (
              <g key={mark.units}>
                <line x1={width - 27} y1={y} x2={width - 17} y2={y} className="rail-tick" />
                {degree !== null && !hidden && (
                  <ellipse
                    cx={width - 41}
                    cy={y}
                    rx={11}
                    ry={Math.max(0.6, 11 * open)}
                    transform={`rotate(${turn} ${width - 41} ${y})`}
                    className="rail-rim"
                  >
                    <title>{t("sighting.levelRail.open", { value: figure(degree, 0) })}</title>
                  </ellipse>
                )}
                <text x={3} y={y + 4} className={mark.units === 0 ? "rail-eye" : "rail-figure"}>
                  {mark.units === 0 ? "0" : `${mark.units > 0 ? "+" : "−"}${Math.abs(mark.units)}`}
                </text>
              </g>
            );
          })}
        {known && middle && level.sd_px !== null && level.sd_px > 0 && (
          <rect
            x={width - 30}
            y={(middle.y_px - 2 * level.sd_px) * view.k + view.y}
            width={16}
            height={Math.max(2, 4 * level.sd_px * view.k)}
            className="rail-spread"
          />
        )}
        {known && middle && (
          <line
            x1={0}
            y1={middle.y_px * view.k + view.y}
            x2={width}
            y2={middle.y_px * view.k + view.y}
            className="rail-level"
          />
        )}
        {view && litHeight !== null && (
          <path d={`M${width} ${litHeight * view.k + view.y}l-12 -6v12z`} className="rail-lit" />
        )}
      </svg>
      {!known && (
        <p className="absolute inset-x-2 top-1/3 text-xs leading-snug text-base-content/85">
          {isStraight(report) ? t("sighting.levelRail.notInPicture") : t("sighting.levelRail.notYet")}
        </p>
      )}
      {known && (
        <p className="absolute inset-x-1 bottom-1 text-center text-[11px] leading-tight">
          {ladder ? t("sighting.levelRail.chosenForm") : t("sighting.levelRail.unitsOfUpright")}
        </p>
      )}
    </aside>
  );
}

function railLabel(report: Report): string {
  const level = report.eye_level;
  if (isStraight(report)) return t("sighting.levelRail.notInPictureLabel");
  if (level.middle_y_px === null) return t("sighting.levelRail.notFixed");
  const y = Math.round(level.middle_y_px);
  const spread = level.sd_px ? t("sighting.levelRail.giveOrTake", { units: Math.round(level.sd_px) }) : "";
  return t("sighting.levelRail.described", {
    y,
    spread,
    source:
      level.source === "given"
        ? t("sighting.levelRail.asSet")
        : t("sighting.levelRail.fromThe", { source: level.source }),
  });
}
