import type { Critique, CritiqueCause, DrawnProposal, Point, Rim, Sheet } from "../api/types";
import { isEdge, isRim } from "../api/types";
import { between, distance, toScreen, type View } from "../stage/geometry";
import { OvalShape, ovalOf } from "../stage/layers/Rims";
import { figure } from "../ui/locale";
import { t } from "../words";

/** Where every line would run in the drawing's own scale; the longest whisker is the worst error. */
export function Ghosts({ critique, drawing, view }: { critique: Critique; drawing: Sheet; view: View }) {
  const laid = new Map((drawing.sightings ?? []).map((s) => [s.id, s]));
  const worst = Math.max(0, ...critique.ghosts.map((g) => g.apart_mm));
  return (
    <g data-testid="ghosts" pointerEvents="none">
      {critique.ghosts.map((ghost) => {
        const edge = laid.get(ghost.sighting);
        const [p, q] = [toScreen(view, ghost.p), toScreen(view, ghost.q)];
        const ends: [Point, Point][] =
          edge && isEdge(edge)
            ? [
                [toScreen(view, edge.p), p],
                [toScreen(view, edge.q), q],
              ]
            : [];
        const longest = ends.toSorted((a, b) => distance(...b) - distance(...a))[0];
        return (
          <g key={ghost.sighting} className={ghost.apart_mm === worst ? "ghost ghost-worst" : "ghost"}>
            <line {...between(p, q)} className="ghost-line" />
            {longest && <line {...between(...longest)} className="ghost-whisker" />}
            {longest && ghost.apart_mm === worst && (
              <text
                x={(longest[0][0] + longest[1][0]) / 2 + 8}
                y={(longest[0][1] + longest[1][1]) / 2}
                className="ghost-figure"
              >
                {t("paper.lines.mm", { value: figure(ghost.apart_mm, 0) })}
              </text>
            )}
          </g>
        );
      })}
      {critique.ghost_rims.map((rim) => (
        <OvalShape key={rim.sighting} oval={ovalOf(rim.ellipse, view)} className="ghost-line ghost-rim" />
      ))}
    </g>
  );
}

interface LitLinesProps {
  cause: CritiqueCause;
  sheet: Sheet;
  view: View;
  mended: boolean;
}

/** The lines that a cause concerns, lit; on the drawing also where they belong. */
export function LitLines({ cause, sheet, view, mended }: LitLinesProps) {
  const lit = (sheet.sightings ?? []).filter((s) => cause.sightings.includes(s.id)).filter(isEdge);
  return (
    <g data-testid={mended ? "mended" : "lit"} pointerEvents="none">
      {lit.map((edge) => (
        <line key={edge.id} {...between(toScreen(view, edge.p), toScreen(view, edge.q))} className="lit-line" />
      ))}
      {mended &&
        cause.mended.map((line) => (
          <g key={line.sighting} className="mended">
            <line {...between(toScreen(view, line.p), toScreen(view, line.q))} className="mended-under" />
            <line {...between(toScreen(view, line.p), toScreen(view, line.q))} className="mended-line" />
          </g>
        ))}
      {mended &&
        cause.mended_rims.map((rim) => (
          <OvalShape key={rim.sighting} oval={ovalOf(rim.ellipse, view)} className="mended-line mended-rim" />
        ))}
    </g>
  );
}

/** Lines that are proposed and not accepted yet; the one in turn stands out. */
export function Proposed({ proposals, now, view }: { proposals: DrawnProposal[]; now: string | null; view: View }) {
  return (
    <g data-testid="proposed" pointerEvents="none">
      {proposals.flatMap(({ sighting, others }) =>
        sighting.id === now
          ? others.map((line) => (
              <line
                key={`${line.p} ${line.q}`}
                {...between(toScreen(view, line.p), toScreen(view, line.q))}
                className="proposed proposed-other"
                data-other={sighting.id}
              />
            ))
          : [],
      )}
      {proposals.map(({ sighting, snapped, light, doubtful }) => {
        const unsure = snapped && !light && !doubtful ? "" : "proposed-unsure";
        const look = `proposed ${unsure} ${sighting.id === now ? "proposed-now" : ""}`;
        if ("p" in sighting && sighting.p && sighting.q)
          return (
            <line
              key={sighting.id}
              {...between(toScreen(view, sighting.p as Point), toScreen(view, sighting.q as Point))}
              className={look}
              data-proposed={sighting.id}
            />
          );
        if (isRim(sighting)) return <ProposedRim key={sighting.id} rim={sighting} look={look} view={view} />;
        return null;
      })}
    </g>
  );
}

function ProposedRim({ rim, look, view }: { rim: Rim; look: string; view: View }) {
  if (!rim.ends || !rim.near) return null;
  const [a, b] = rim.ends as [Point, Point];
  const middle: Point = [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2];
  const [x, y] = toScreen(view, middle);
  const turn = (Math.atan2(b[1] - a[1], b[0] - a[0]) * 180) / Math.PI;
  return (
    <ellipse
      cx={x}
      cy={y}
      rx={(distance(a, b) / 2) * view.k}
      ry={Math.max(distance(middle, rim.near as Point) * view.k, 0.5)}
      transform={`rotate(${turn} ${x} ${y})`}
      className={`${look} proposed-rim`}
      data-proposed={rim.id}
    />
  );
}
