import { useMemo } from "react";
import type { Family, StandDrawing } from "../api/types";
import { FAMILIES } from "../ui/marks";
import { strokesOf } from "./strokes";

/** How the exact drawing is laid over: what is seen, all of it, one thing's lines alone, or as the ghost of another view. */
export type Look = "seen" | "all" | "chosen" | "ghost" | "small";

interface ExactLinesProps {
  drawing: StandDrawing;
  look: Look;
  chosen?: string | null;
}

/** The exact drawing in the picture's own pixels. */
export function ExactLines({ drawing, look, chosen = null }: ExactLinesProps) {
  const shown = useMemo(
    () => (look === "chosen" && chosen ? alone(drawing, chosen) : drawing),
    [drawing, look, chosen],
  );
  const strokes = useMemo(() => strokesOf(shown), [shown]);
  const level = drawing.eye_level;
  return (
    <g className={`exact exact-${look}`} data-exact={look}>
      {level && (look === "seen" || look === "all") && (
        <line x1={0} y1={level.left_y_px} x2={drawing.width_px} y2={level.right_y_px} className="exact-level" />
      )}
      {look === "all" && <path d={strokes.construction} className="exact-construction" />}
      {look === "all" && <path d={strokes.hidden} className="exact-hidden" />}
      {strokes.shadows && (look === "seen" || look === "all") && <path d={strokes.shadows} className="exact-shadow" />}
      {Object.entries(strokes.seen).map(([kind, d]) => (
        <path
          key={kind}
          d={d}
          stroke={look === "ghost" || look === "small" ? undefined : inkOf(kind)}
          className="exact-seen"
        />
      ))}
    </g>
  );
}

function inkOf(kind: string): string {
  if (kind === "rim") return "var(--ink-rim)";
  return FAMILIES[kind as Family]?.ink ?? "var(--line-ink)";
}

function alone(drawing: StandDrawing, thing: string): StandDrawing {
  const own = <T extends { thing: string }>(lines: T[]) => lines.filter((line) => line.thing === thing);
  return {
    ...drawing,
    edges: own(drawing.edges),
    rims: own(drawing.rims),
    outlines: own(drawing.outlines),
    curves: own(drawing.curves),
    shadows: [],
    construction: own(drawing.construction),
  };
}
