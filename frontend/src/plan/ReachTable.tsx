import type { Plan } from "../api/types";
import { figure } from "../ui/locale";
import { FAMILIES } from "../ui/marks";
import { useSize } from "../ui/useSize";
import { t } from "../words";

const HEIGHT = 112;
const MARGIN = 90;
const LEAST_REACH_MM = 250; // to either side of the sheet that the table shows at least
const MOST_REACH_MM = 4000;
const LETTER_PX = 6.6;
const ROWS = [16, 34, 94, 108];

/** The long table under the board: the sheet drawn small, with the vanishing points where they truly fall, in centimetres. */
export function ReachTable({ plan, called }: { plan: Plan; called: (form: string | null) => string }) {
  const { ref, width } = useSize({ width: 800, height: HEIGHT });
  const [wide, high] = plan.paper_mm;
  const points = plan.vanishing_points.filter((v) => v.x_mm != null && v.family !== "upright" && v.slope == null);
  const off = Math.max(
    LEAST_REACH_MM,
    ...points.map((v) => Math.min(MOST_REACH_MM, Math.max(-(v.x_mm ?? 0), (v.x_mm ?? 0) - wide))),
  );
  const k = (width - 2 * MARGIN) / (wide + 2 * off);
  const x = (mm: number) => MARGIN + (mm + off) * k;
  const sheetHigh = Math.min(high * k, 46);
  const middle = HEIGHT / 2;
  const taken = ROWS.map(() => Number.NEGATIVE_INFINITY);
  const shown = points
    .map((v) => ({ v, at: x(Math.max(-off, Math.min(wide + off, v.x_mm ?? 0))) }))
    .sort((a, b) => a.at - b.at)
    .map(({ v, at }) => {
      const words = labelOf(v.off_sheet_cm ?? 0, called(v.form), FAMILIES[v.family].letter);
      const half = (words.length * LETTER_PX) / 2;
      const row = taken.findIndex((end) => end < at - half - 4);
      const place = Math.max(row, 0);
      taken[place] = at + half;
      return {
        v,
        at: Math.max(half + 2, Math.min(width - half - 2, at)),
        point: at,
        words,
        y: row < 0 ? null : (ROWS[place] ?? 16),
      };
    });
  return (
    <div ref={ref} className="reach-table" data-testid="reach-table">
      <svg width={width} height={HEIGHT} role="img" aria-label={plan.vanishing_points.map((v) => v.words).join(" ")}>
        <line x1={0} x2={width} y1={middle} y2={middle} className="reach-level" />
        <rect x={x(0)} y={middle - sheetHigh / 2} width={wide * k} height={sheetHigh} className="reach-sheet" />
        {shown.map(({ v, at, point, words, y }) => (
          <g key={`${v.form} ${v.family}`} stroke={FAMILIES[v.family].ink}>
            {v.sd_mm != null && (
              <line
                x1={Math.max(0, point - 2 * v.sd_mm * k)}
                x2={Math.min(width, point + 2 * v.sd_mm * k)}
                y1={middle}
                y2={middle}
                className="reach-whisker"
              />
            )}
            <circle cx={point} cy={middle} r={5.5} className="reach-point" />
            {y !== null && (
              <>
                <line
                  x1={point}
                  x2={at}
                  y1={middle + (y < middle ? -6 : 6)}
                  y2={y < middle ? y + 3 : y - 11}
                  className="reach-leader"
                />
                <text x={at} y={y} textAnchor="middle" className="reach-figure">
                  {words}
                </text>
              </>
            )}
          </g>
        ))}
        {shown.length === 0 && (
          <text x={width / 2} y={18} textAnchor="middle" className="reach-figure">
            {t("plan.reachTable.none")}
          </text>
        )}
      </svg>
    </div>
  );
}

function labelOf(off_cm: number, form: string, letter: string): string {
  const where =
    off_cm <= 0
      ? t("plan.reachTable.onTheSheet")
      : t("plan.reachTable.cmOff", { cm: figure(off_cm, off_cm < 10 ? 1 : 0) });
  return [letter, form, where].filter(Boolean).join(" ");
}
