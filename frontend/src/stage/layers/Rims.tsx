import { type Ellipse, type Finding, type Ladder, type Point, pointOf, type Report, type Rim } from "../../api/types";
import { between, curveThrough, lineAt, lineOnTo, type Oval, toScreen, type View } from "../geometry";

/** A report's ellipse on the stage. The minor axis is the form's axis as drawn. */
export function ovalOf(ellipse: Ellipse, view: View): Oval {
  return {
    centre: toScreen(view, ellipse.centre_px),
    rx: (ellipse.major_px / 2) * view.k,
    ry: (ellipse.minor_px / 2) * view.k,
    turn: 90 - ellipse.axis_deg,
  };
}

interface OvalShapeProps {
  oval: Oval;
  className: string;
  [data: `data-${string}`]: string;
}

export function OvalShape({ oval, className, ...rest }: OvalShapeProps) {
  const [x, y] = oval.centre;
  return (
    <ellipse
      cx={x}
      cy={y}
      rx={oval.rx}
      ry={Math.max(oval.ry, 0.4)}
      transform={`rotate(${oval.turn} ${x} ${y})`}
      className={className}
      {...rest}
    />
  );
}

/** Where a rim's tag would like to sit: beside the right end of its major axis. */
export function rimTagAt(finding: Finding | undefined, view: View): Point | null {
  const ellipse = finding?.rim?.sighted_ellipse;
  if (!ellipse) return null;
  const oval = ovalOf(ellipse, view);
  const a = (oval.turn * Math.PI) / 180;
  const side = Math.cos(a) >= 0 ? 1 : -1;
  return [oval.centre[0] + side * Math.cos(a) * oval.rx + 24, oval.centre[1] + side * Math.sin(a) * oval.rx];
}

interface RimLineProps {
  rim: Rim;
  finding: Finding | undefined;
  view: View;
  chosen: boolean;
  quiet: boolean;
}

/** A laid rim; of one that is only proposed the seen arc, hollow. */
export function RimLine({ rim, finding, view, chosen, quiet }: RimLineProps) {
  if (rim.proposed) {
    const arc = (rim.points ?? []).map((p) => toScreen(view, p));
    if (arc.length < 3) return null;
    return (
      <g className={`proposed ${chosen ? "edge-chosen" : ""}`} opacity={quiet ? 0.45 : 1} data-proposed={rim.id}>
        {["edge-reach", "proposed-halo", "proposed-ink proposed-rim", "proposed-hollow"].map((look) => (
          <path key={look} d={curveThrough(arc)} className={`${look} rim-open`} />
        ))}
      </g>
    );
  }
  const ellipse = finding?.rim?.sighted_ellipse;
  if (!ellipse) return null;
  const oval = ovalOf(ellipse, view);
  return (
    <g className={`edge ${chosen ? "edge-chosen" : ""}`} opacity={quiet ? 0.45 : 1} data-edge={rim.id}>
      <OvalShape oval={oval} className="edge-reach rim-open" />
      <OvalShape oval={oval} className="edge-chalk rim-open" />
      <OvalShape oval={oval} className="rim-ink rim-open" />
    </g>
  );
}

interface RimAnswerProps {
  finding: Finding;
  report: Report;
  view: View;
  far: number;
}

/** The selected rim: how it must open, its axis drawn on, the circle's own centre, and what was judged. */
export function RimAnswer({ finding, report, view, far }: RimAnswerProps) {
  const reading = finding.rim;
  if (!reading) return null;
  const seen = ovalOf(reading.sighted_ellipse, view);
  const due = reading.implied_ellipse ? ovalOf(reading.implied_ellipse, view) : null;
  const judged = finding.judged;
  const centre = reading.true_centre_px ? toScreen(view, reading.true_centre_px) : seen.centre;
  const axis = lineOnTo(centre, pointOf(report, finding), view, far);
  const minor = lineAt(seen.centre, reading.sighted_ellipse.axis_deg, Math.max(seen.ry, 10) + 14);
  const corners = reading.square_px.map((p) => toScreen(view, p));
  const diameter = reading.diameter_px?.map((p) => toScreen(view, p));
  return (
    <g pointerEvents="none" data-testid="answer">
      {axis && <line {...between(...axis)} className="drawn-on" />}
      {corners.length === 4 && <polygon points={corners.map((p) => p.join(",")).join(" ")} className="rim-square" />}
      {reading.touch_px.map((p) => {
        const [x, y] = toScreen(view, p);
        return <circle key={p.join()} cx={x} cy={y} r={3} className="rim-touch" />;
      })}
      {judged !== null && (
        <>
          <OvalShape
            oval={{ ...seen, ry: seen.rx * Math.sin((judged * Math.PI) / 180) }}
            className="judged-outer rim-open"
          />
          <OvalShape
            oval={{ ...seen, ry: seen.rx * Math.sin((judged * Math.PI) / 180) }}
            className="judged-inner rim-open"
          />
        </>
      )}
      {diameter?.[0] && diameter[1] && <line {...between(diameter[0], diameter[1])} className="rim-diameter" />}
      <line {...between(...minor)} className="rim-axis" />
      {due && (
        <>
          <OvalShape oval={due} className="implied-halo rim-open" />
          <OvalShape oval={due} className="implied rim-open" />
        </>
      )}
      {reading.true_centre_px && <circle cx={centre[0]} cy={centre[1]} r={3} className="rim-touch" />}
    </g>
  );
}

interface RimsDueProps {
  report: Report;
  sheetRims: Rim[];
  form: string | null;
  view: View;
}

/** All rims that the forms should have: the implied ellipse of each, and those between them. */
export function RimsDue({ report, sheetRims, form, view }: RimsDueProps) {
  const mine = new Set(sheetRims.filter((r) => form === null || r.form === form).map((r) => r.id));
  const ladders = report.ladders.filter((l: Ladder) => form === null || l.form === form);
  return (
    <g pointerEvents="none" data-testid="rims-due">
      {ladders.flatMap((ladder) =>
        ladder.rungs.map((rung) => (
          <OvalShape
            key={`${ladder.form}-${rung.units}`}
            oval={ovalOf(rung.ellipse, view)}
            className="rim-rung rim-open"
          />
        )),
      )}
      {report.findings
        .filter((f) => mine.has(f.sighting))
        .map((f) => {
          const due = f.rim?.implied_ellipse;
          if (!due) return null;
          return (
            <g key={f.sighting}>
              <OvalShape oval={ovalOf(due, view)} className="implied-halo rim-open" />
              <OvalShape oval={ovalOf(due, view)} className="implied rim-open" />
            </g>
          );
        })}
    </g>
  );
}
