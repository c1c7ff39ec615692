import { type Edge, type Finding, type Point, pointOf, type Report } from "../../api/types";
import { FAMILIES, VERDICTS } from "../../ui/marks";
import { between, distance, lineAt, lineOnTo, middleOf, type Size, toScreen, type View } from "../geometry";
import { TAG, type TagPlace } from "../tags";

export type PlacedEdge = Edge & { p: Point; q: Point };

interface EdgeLineProps {
  edge: PlacedEdge;
  view: View;
  chosen: boolean;
  quiet: boolean;
}

/** A laid edge; one that is only proposed is hollow. */
export function EdgeLine({ edge, view, chosen, quiet }: EdgeLineProps) {
  const family = FAMILIES[edge.family];
  const [p, q] = [toScreen(view, edge.p), toScreen(view, edge.q)];
  const line = between(p, q);
  if (edge.proposed)
    return (
      <g className={`proposed ${chosen ? "edge-chosen" : ""}`} opacity={quiet ? 0.45 : 1} data-proposed={edge.id}>
        <line {...line} className="edge-reach" />
        <line {...line} className="proposed-halo" />
        <line {...line} className="proposed-ink" stroke={family.ink} />
        <line {...line} className="proposed-hollow" />
      </g>
    );
  return (
    <g className={`edge ${chosen ? "edge-chosen" : ""}`} opacity={quiet ? 0.45 : 1} data-edge={edge.id}>
      <line {...line} className="edge-reach" />
      <line {...line} className="edge-chalk" />
      <line {...line} className="edge-ink" stroke={family.ink} strokeDasharray={family.dash} />
    </g>
  );
}

interface SightingTagProps {
  letter: string;
  finding: Finding | undefined;
  place: TagPlace | undefined;
  width: number;
}

/** The tag of a laid edge or rim: its letter and its verdict's mark. */
export function SightingTag({ letter, finding, place, width }: SightingTagProps) {
  if (!place) return null;
  return (
    <g
      transform={`translate(${place.at[0]} ${place.at[1]})`}
      className={`tag tag-${finding?.verdict ?? "unsure"}`}
      data-tag={finding?.sighting}
    >
      <rect x={-width / 2} y={-TAG.height / 2} width={width} height={TAG.height} rx={TAG.height / 2} />
      <text x={-6} y={4.5} textAnchor="middle">
        {letter}
      </text>
      <text x={width / 2 - 8} y={4.5} textAnchor="middle" className="tag-mark">
        {finding ? VERDICTS[finding.verdict].mark : ""}
      </text>
    </g>
  );
}

interface EdgeAnswerProps {
  edge: PlacedEdge;
  finding: Finding | undefined;
  report: Report;
  view: View;
  size: Size;
}

/** The selected edge drawn on to its VP, where it should run, and what was judged. */
export function EdgeAnswer({ edge, finding, report, view, size }: EdgeAnswerProps) {
  const middle = toScreen(view, middleOf(edge.p, edge.q));
  const half = (distance(edge.p, edge.q) * view.k) / 2;
  const far = size.width + size.height;
  const drawnOn = lineOnTo(middle, pointOf(report, finding), view, far);
  const implied = finding?.implied ?? null;
  const spread = Math.min(40, 2 * (finding?.implied_sd ?? 0));
  const long = Math.max(half * 1.25, half + 24);
  const should = implied === null ? null : lineAt(middle, implied, long);
  const fan =
    implied === null ? null : [lineAt(middle, implied - spread, long), lineAt(middle, implied + spread, long)];
  const judged = finding?.judged ?? edge.judged_tilt_deg ?? null;
  const judgedLine = judged === null ? null : lineAt(middle, judged, half);
  return (
    <g pointerEvents="none" data-testid="answer">
      {drawnOn && <line {...between(...drawnOn)} className="drawn-on" />}
      {fan && (
        <path
          className="implied-fan"
          d={`M${middle}L${fan[0]?.[1]}L${fan[1]?.[1]}ZM${middle}L${fan[0]?.[0]}L${fan[1]?.[0]}Z`}
        />
      )}
      {judgedLine && (
        <>
          <line {...between(...judgedLine)} className="judged-outer" />
          <line {...between(...judgedLine)} className="judged-inner" />
        </>
      )}
      {should && (
        <>
          <line {...between(...should)} className="implied-halo" />
          <line {...between(...should)} className="implied" />
        </>
      )}
    </g>
  );
}
