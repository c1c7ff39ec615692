import { isStraight, type Report } from "../api/types";

/** Where eye level and the view stand, and what the sightings leave open. */
export function Standing({
  report,
  levelIsSet,
  resting,
  onTurnLevel,
}: {
  report: Report;
  levelIsSet: boolean;
  resting: boolean;
  onTurnLevel: () => void;
}) {
  const level = report.eye_level;
  const y = level.middle_y_px;
  const straight = isStraight(report);
  const both = !!level.by_edges && !!level.by_rims && level.source === "edges and rims";
  const camera = report.camera;
  return (
    <section aria-label="Eye level and view" className="border-b border-base-300 px-3 py-2 text-sm" aria-live="polite">
      <div className="flex items-baseline gap-2">
        <h2 className="font-semibold whitespace-nowrap">Eye level</h2>
        <span
          className="tabular-nums whitespace-nowrap"
          data-testid="eye-level"
          data-y={y ?? ""}
          data-sd={level.sd_px ?? ""}
        >
          {y === null
            ? straight
              ? "not in the picture"
              : "not fixed yet"
            : `${y.toFixed(0)} px${level.sd_px && !levelIsSet ? ` ± ${level.sd_px.toFixed(0)}` : ""}`}
        </span>
        <span className="text-base-content/85">
          {levelIsSet ? "set by hand" : y !== null && !both ? `from the ${level.source}` : ""}
        </span>
        {!straight && (
          <button type="button" className="btn btn-xs ml-auto" onClick={onTurnLevel} title="E">
            {levelIsSet ? "Find it instead" : "Set by hand"}
          </button>
        )}
      </div>
      {straight && <p>Looking {report.view}: the uprights recede, level edges keep the directions of the plan.</p>}
      {both && level.by_edges && level.by_rims && (
        <p className="tabular-nums" data-testid="edges-and-rims">
          from the edges ({heightText(level.by_edges)}) and rims ({heightText(level.by_rims)})
        </p>
      )}
      {camera?.view_deg != null && (
        <p className="tabular-nums">
          {report.view && `${VIEWS[report.view]}, `}
          {report.perspective}, view {camera.view_deg.toFixed(0)}° wide
          {camera.pitch_deg !== null &&
            Math.abs(camera.pitch_deg) >= 0.5 &&
            `, looking ${camera.pitch_deg > 0 ? "up" : "down"} ${Math.abs(camera.pitch_deg).toFixed(1)}°`}
        </p>
      )}
      {!resting && report.judgements.length > 0 && (
        <p className="tabular-nums" data-testid="judgements">
          {report.judgements.join("; ")}
        </p>
      )}
      {!resting && report.standings.length > 0 && (
        <details>
          <summary className="cursor-pointer">Which faces show</summary>
          <ul className="mt-1 flex flex-col gap-1 leading-snug">
            {report.standings.map((standing) => (
              <li key={standing.form}>{standing.words}</li>
            ))}
          </ul>
        </details>
      )}
    </section>
  );
}

const VIEWS: Partial<Record<NonNullable<Report["view"]>, string>> = {
  "bird's-eye": "bird’s-eye view",
  normal: "normal view",
  "worm's-eye": "worm’s-eye view",
};

function heightText(part: { middle_y_px: number; sd_px: number }): string {
  return `${part.middle_y_px.toFixed(0)} ± ${part.sd_px.toFixed(0)}`;
}

/** What the sightings leave open. */
export function Notes({ report, count }: { report: Report; count: number }) {
  if (count === 0 && report.notes.length > 0 && !isStraight(report))
    return (
      <p className="px-3 pt-2 leading-snug">
        Nothing is sighted yet. Choose <b>Add an edge</b> and judge its tilt by eye, or <b>Add a rim</b> and judge how
        far it opens; then lay it on the picture. Two families of edges fix eye level, and so do two level rims.
      </p>
    );
  if (report.notes.length === 0) return null;
  return (
    <ul className="flex flex-col gap-1 px-3 pt-2 text-sm leading-snug" aria-label="Notes">
      {report.notes.map((note) => (
        <li key={note} className="note">
          {note}
        </li>
      ))}
    </ul>
  );
}
