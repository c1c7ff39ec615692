import { pictureUrl } from "../api/client";
import { isStraight, type Picture, type Report, type VanishingPoint } from "../api/types";
import { heightAt } from "../stage/geometry";
import { FAMILIES } from "../ui/marks";
import { useSize } from "../ui/useSize";

const HEIGHT = 122;
const MOST_SHEETS = 9;
const MOST_LABELS = 8;
const ROWS = [14, 30, 98, 114];
const LETTER_PX = 6.1;

type Finite = VanishingPoint & { x_px: number; y_px: number };

/** The sheet drawn small on a wide strip, with the VPs where they truly fall. */
export function LongTable({
  picture,
  report,
  lit,
  formName,
  resting,
}: {
  picture: Picture;
  report: Report;
  lit: VanishingPoint | null;
  formName: (form: string | null) => string;
  /** While a judgement is made the vanishing points rest; eye level may stay. */
  resting: boolean;
}) {
  const { ref, width } = useSize({ width: 800, height: HEIGHT });
  const w = picture.width_px;
  const shown = resting ? [] : report.vanishing_points;
  const level = shown.filter((v) => v.family !== "upright" && v.family !== "slope");
  const finite = level.filter((v): v is Finite => v.x_px !== null && v.y_px !== null);
  const near = finite.filter((v) => Math.abs(v.x_px - w / 2) / w <= MOST_SHEETS);
  const from = Math.min(-0.6 * w, ...near.map((v) => v.x_px - 0.25 * w));
  const to = Math.max(1.6 * w, ...near.map((v) => v.x_px + 0.25 * w));
  const k = Math.min((width - 24) / (to - from), (HEIGHT - 14) / picture.height_px);
  const x0 = width / 2 - ((from + to) / 2) * k;
  const y0 = (HEIGHT - picture.height_px * k) / 2;
  const eye = report.eye_level;
  const eyeAt = (px: number) => heightAt(eye.left_y_px ?? 0, eye.right_y_px ?? 0, w, (px - x0) / k) * k + y0;
  const placed = finite.map((v) => {
    const px = v.x_px * k + x0;
    const words = `${FAMILIES[v.family].letter} ${formName(v.form)} · ${v.words}`;
    const half = (words.length * LETTER_PX) / 2;
    return { v, px, py: v.y_px * k + y0, words, half, x: besidePicture(px, half, [x0, x0 + w * k], width) };
  });
  const worded = placed.length <= MOST_LABELS ? placed : placed.filter((p) => p.v === lit);
  const labels = new Map(spreadOut(worded, ROWS.length).map((item) => [item.v, item]));
  return (
    <section
      aria-label="Long table: where the vanishing points fall"
      className="long-table border-t border-base-300 bg-base-200"
    >
      <div ref={ref} className="relative h-full w-full overflow-hidden">
        <svg width={width} height={HEIGHT} role="img" aria-label={tableLabel(finite, formName)}>
          <image
            href={pictureUrl(picture.id, "thumb")}
            x={x0}
            y={y0}
            width={w * k}
            height={picture.height_px * k}
            preserveAspectRatio="none"
          />
          <rect x={x0} y={y0} width={w * k} height={picture.height_px * k} className="table-sheet" />
          {eye.left_y_px !== null && <line x1={0} y1={eyeAt(0)} x2={width} y2={eyeAt(width)} className="table-level" />}
          {placed.map(({ v, px, py }) => {
            const label = labels.get(v);
            const beyond = px < 6 || px > width - 6;
            const ink = FAMILIES[v.family].ink;
            const chosen = lit === v;
            const spread = 2 * (v.sd_px ?? 0) * k;
            const row = label ? (ROWS[label.row] ?? 14) : 0;
            return (
              <g key={`${v.form}-${v.family}`} className={chosen ? "table-lit" : ""}>
                {label && !beyond && (
                  <line x1={px} y1={py} x2={label.x} y2={row < py ? row + 3 : row - 11} className="table-leader" />
                )}
                {!beyond && spread > 1 && (
                  <path
                    d={`M${px - spread} ${py - 4}v8m0 -4h${2 * spread}m0 -4v8`}
                    className="table-whisker"
                    stroke={ink}
                  />
                )}
                {beyond ? (
                  <path d={px < 6 ? `M2 ${py}l10 -6v12z` : `M${width - 2} ${py}l-10 -6v12z`} fill={ink} />
                ) : (
                  <circle
                    cx={px}
                    cy={py}
                    r={chosen ? 6 : 4.5}
                    className="table-point"
                    stroke={ink}
                    fill={chosen ? ink : undefined}
                  />
                )}
                {label && (
                  <text x={label.x} y={row} textAnchor="middle" className="table-figure">
                    {label.words}
                  </text>
                )}
              </g>
            );
          })}
        </svg>
        {finite.length === 0 && (
          <p className="absolute bottom-2 left-3 text-sm leading-snug" style={{ maxWidth: Math.max(130, x0 - 20) }}>
            {resting
              ? "Vanishing points rest until you have judged."
              : report.perspective === "parallel"
                ? "Parallel drawing: nothing converges."
                : isStraight(report)
                  ? `Seen ${report.view}, level families meet nowhere; the uprights meet on the picture.`
                  : level.length > 0
                    ? "The level families run parallel to the picture; no vanishing point on the table."
                    : "Vanishing points appear here, to scale with the sheet."}
          </p>
        )}
      </div>
    </section>
  );
}

/** Where a label of a point at `px` is centred: over it, but beside the small picture, and inside the strip. */
export function besidePicture(px: number, half: number, [left, right]: [number, number], width: number): number {
  const gap = 8;
  const covers = px + half > left - gap && px - half < right + gap;
  const beside = px < (left + right) / 2 ? Math.min(px, left - gap - half) : Math.max(px, right + gap + half);
  return Math.min(width - half - 4, Math.max(half + 4, covers ? beside : px));
}

/** Give each label the first row in which it touches no other; the last row takes what is left. */
export function spreadOut<T extends { x: number; half: number }>(items: T[], rows: number): (T & { row: number })[] {
  const ends: number[] = [];
  return [...items]
    .sort((a, b) => a.x - b.x)
    .map((item) => {
      let row = 0;
      while (row < rows - 1 && (ends[row] ?? Number.NEGATIVE_INFINITY) > item.x - item.half - 6) row += 1;
      ends[row] = item.x + item.half;
      return { ...item, row };
    });
}

function tableLabel(points: Finite[], formName: (form: string | null) => string): string {
  if (!points.length) return "No vanishing points yet";
  return points.map((v) => `${formName(v.form)} ${v.family} vanishing point: ${v.words}`).join("; ");
}
