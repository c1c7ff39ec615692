import { t } from "../words";
import "./long-table.css";
import type { ReactNode } from "react";
import type { Family } from "../api/types";
import { FAMILIES } from "../ui/marks";
import { useSize } from "../ui/useSize";
import { heightAt, type Size } from "./geometry";

const HEIGHT = 122;
const MOST_SHEETS = 9;
const MOST_LABELS = 8;
const ROWS = [14, 30, 98, 114];
const LETTER_PX = 6.1;

/** A vanishing point on the table. */
export interface TablePoint {
  key: string;
  family: Family;
  /** Of the form whose edges meet there. */
  name: string;
  words: string;
  x_px: number;
  y_px: number;
  sd_px?: number | null;
}

interface LongTableProps {
  /** Of the picture, px. */
  size: Size;
  /** Heights of eye level at the picture's left and right edge. */
  level: [number, number] | null;
  points: TablePoint[];
  /** Where they fell in the view that this one is compared with. */
  before?: TablePoint[];
  lit: string | null;
  /** What is said where there is none. */
  nothing: string;
  /** What lies on the sheet, drawn in the picture's pixels. */
  children: ReactNode;
}

/** The sheet drawn small on a wide strip, with the VPs where they truly fall. */
export function LongTable({ size, level, points, before = [], lit, nothing, children }: LongTableProps) {
  const { ref, width } = useSize({ width: 800, height: HEIGHT });
  const w = size.width;
  const near = [...points, ...before].filter((v) => Math.abs(v.x_px - w / 2) / w <= MOST_SHEETS);
  const from = Math.min(-0.6 * w, ...near.map((v) => v.x_px - 0.25 * w));
  const to = Math.max(1.6 * w, ...near.map((v) => v.x_px + 0.25 * w));
  const k = Math.min((width - 24) / (to - from), (HEIGHT - 14) / size.height);
  const x0 = width / 2 - ((from + to) / 2) * k;
  const y0 = (HEIGHT - size.height * k) / 2;
  const placed = points.map((v) => {
    const px = v.x_px * k + x0;
    const words = `${FAMILIES[v.family].letter} ${v.name} · ${v.words}`;
    const half = (words.length * LETTER_PX) / 2;
    return { v, px, py: v.y_px * k + y0, words, half, x: besidePicture(px, half, [x0, x0 + w * k], width) };
  });
  const worded = placed.length <= MOST_LABELS ? placed : placed.filter((p) => p.v.key === lit);
  const labels = new Map(spreadOut(worded, ROWS.length).map((item) => [item.v.key, item]));
  const eyeAt = ([left, right]: [number, number], px: number) => heightAt(left, right, w, (px - x0) / k) * k + y0;
  return (
    <section aria-label={t("stage.longTable.described")} className="long-table border-t border-base-300 bg-base-200">
      <div ref={ref} className="relative h-full w-full overflow-hidden">
        <svg width={width} height={HEIGHT} role="img" aria-label={tableLabel(points)}>
          <svg
            x={x0}
            y={y0}
            width={w * k}
            height={size.height * k}
            viewBox={`0 0 ${w} ${size.height}`}
            aria-hidden="true"
          >
            {children}
          </svg>
          <rect x={x0} y={y0} width={w * k} height={size.height * k} className="table-sheet" />
          {level && <line x1={0} y1={eyeAt(level, 0)} x2={width} y2={eyeAt(level, width)} className="table-level" />}
          {before.map((v) => (
            <circle
              key={v.key}
              cx={v.x_px * k + x0}
              cy={v.y_px * k + y0}
              r={4.5}
              className="table-before"
              stroke={FAMILIES[v.family].ink}
            >
              <title>
                {t("stage.longTable.before", { letter: FAMILIES[v.family].letter, name: v.name, words: v.words })}
              </title>
            </circle>
          ))}
          {placed.map(({ v, px, py }) => {
            const label = labels.get(v.key);
            const beyond = px < 6 || px > width - 6;
            const ink = FAMILIES[v.family].ink;
            const chosen = lit === v.key;
            const spread = 2 * (v.sd_px ?? 0) * k;
            const row = label ? (ROWS[label.row] ?? 14) : 0;
            return (
              <g key={v.key} className={chosen ? "table-lit" : ""}>
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
        {points.length === 0 && (
          <p className="absolute bottom-2 left-3 text-sm leading-snug" style={{ maxWidth: Math.max(130, x0 - 20) }}>
            {nothing}
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

function tableLabel(points: TablePoint[]): string {
  if (!points.length) return t("stage.longTable.none");
  return points
    .map((v) => t("stage.longTable.vanishingPoint", { name: v.name, family: v.family, words: v.words }))
    .join("; ");
}
