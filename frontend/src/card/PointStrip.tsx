import type { Schematic } from "../api/types";
import { figure } from "../ui/locale";
import { FAMILIES } from "../ui/marks";
import { useSize } from "../ui/useSize";
import { t } from "../words";

const HEIGHT = 92;
const MARGIN = 70;
const LEAST_REACH = 2.5; // near uprights to either side that the table shows at least

/** The long table of a card: the near upright drawn small, with the vanishing points where they truly fall. */
export function PointStrip({ schematic, resting }: { schematic: Schematic; resting: boolean }) {
  const { ref, width } = useSize({ width: 800, height: HEIGHT });
  const points = resting ? [] : schematic.points;
  const reach = Math.max(
    LEAST_REACH,
    ...points.flatMap((p) => [Math.abs(p.at[0]), Math.min(Math.abs(p.far_x ?? 0), 12)]),
  );
  const k = (width / 2 - MARGIN) / reach;
  const x = (units: number) => width / 2 + units * k;
  const middle = HEIGHT / 2;
  return (
    <div ref={ref} className="point-strip" data-testid="point-strip">
      <svg width={width} height={HEIGHT} role="img" aria-label={wordsOf(schematic, resting)}>
        <line x1={0} x2={width} y1={middle} y2={middle} className="strip-level" />
        <line x1={x(0)} x2={x(0)} y1={middle - 20} y2={middle + 20} className="strip-near" />
        <text x={x(0)} y={HEIGHT - 6} textAnchor="middle" className="strip-figure">
          {t("card.pointStrip.nearUpright")}
        </text>
        {points.map((p) => {
          const mark = FAMILIES[p.side];
          const left = p.side === "left";
          const far = p.far_x ?? (left ? -reach * 1.3 : reach * 1.3);
          return (
            <g key={`${p.form} ${p.side}`} stroke={mark.ink}>
              <line x1={x(p.near_x ?? p.at[0])} x2={x(far)} y1={middle} y2={middle} className="strip-whisker" />
              <circle cx={x(p.at[0])} cy={middle} r={7} className="strip-point" />
              <text x={x(p.at[0])} y={22} textAnchor="middle" className="strip-figure strip-lead">
                {t("card.pointStrip.units", { letter: mark.letter, value: figure(Math.abs(p.at[0]), 2) })}
              </text>
            </g>
          );
        })}
        {points.length === 0 && (
          <text x={width / 2} y={20} textAnchor="middle" className="strip-figure">
            {resting ? t("card.pointStrip.resting") : t("card.pointStrip.howItIsFixed")}
          </text>
        )}
      </svg>
    </div>
  );
}

function wordsOf(schematic: Schematic, resting: boolean): string {
  if (resting || schematic.points.length === 0) return t("card.pointStrip.none");
  return schematic.points
    .map((p) => t("card.pointStrip.pointOut", { side: p.side, value: figure(Math.abs(p.at[0]), 2) }))
    .join(", ");
}
