import type { Finding, Ladder, Sighting } from "../api/types";
import { between, lineAt } from "../stage/geometry";
import { figure } from "../ui/locale";
import { degreesText, leanText } from "../ui/marks";
import { t } from "../words";

/** When what is truly so is told: after the judgement, or where judging is turned off at once. */
export type Truth = "once judged" | "at once";

interface TripleProps {
  sighting: Sighting;
  finding: Finding | undefined;
  /** On a sheet of the model stand, when asked for: `once judged`, or at once. */
  truth?: Truth | null;
}

/** Judged hollow, sighted chalk, implied a fine line; then the three figures. */
export function Triple({ sighting, finding, truth = null }: TripleProps) {
  const edge = sighting.kind === "edge";
  const rim = sighting.kind === "rim";
  // told from life it counts in near uprights, as a length does
  const told = sighting.kind === "alignment" && sighting.beside != null;
  const judged = finding?.judged ?? (edge ? sighting.judged_tilt_deg : rim ? sighting.judged_degree_deg : null);
  const text = (value: number | null | undefined) => {
    if (value === null || value === undefined) return "–";
    if (sighting.kind === "length" || sighting.kind === "division" || told) return figure(value, 2);
    if (sighting.kind === "height") return `${figure(value, 2)} m`;
    return degreesText(value);
  };
  const Mini = edge ? MiniNeedle : rim ? MiniRim : null;
  const upright = edge && sighting.family === "upright" && finding?.sighted_lean_deg !== null;
  const lean = (value: number | null | undefined) => (value == null ? "–" : leanText(value));
  const spread = (sd: number | null | undefined) =>
    sd && sighting.kind !== "face" ? (
      <span className="figure-sd">
        {" "}
        ±{figure(sd, edge || rim || (sighting.kind === "alignment" && !told) ? 1 : sd < 0.01 ? 3 : 2)}
      </span>
    ) : null;
  if (sighting.kind === "face") return null;
  return (
    <>
      {Mini && finding && (
        <svg viewBox="-20 -20 40 40" width="38" height="38" aria-hidden="true" className="shrink-0">
          <circle r="19" className="dial-face" />
          <Mini value={judged ?? null} kind="judged" />
          <Mini value={finding.sighted} kind="sighted" />
          <Mini value={finding.implied} kind="implied" />
        </svg>
      )}
      <span className="grid grow grid-cols-3 text-sm tabular-nums">
        <span>
          <span className="figure-name">{t("sighting.figures.judged")}</span>
          {upright ? lean(finding?.judged_lean_deg) : text(judged)}
          {finding?.judged_by && <span className="figure-off">{finding.judged_by}</span>}
        </span>
        <span>
          <span className="figure-name">
            {sighting.kind === "division" ? t("sighting.figures.drawn") : t("sighting.figures.sighted")}
          </span>
          <b>{finding?.miss_words || (upright ? lean(finding?.sighted_lean_deg) : text(finding?.sighted))}</b>
          {!finding?.miss_words && spread(finding?.sighted_sd)}
        </span>
        <span>
          <span className="figure-name">
            {sighting.kind === "division" ? t("sighting.figures.truly") : t("sighting.figures.implied")}
          </span>
          {upright ? lean(finding?.implied_lean_deg) : text(finding?.implied)}
          {spread(finding?.implied_sd)}
          {truth && finding && finding.true !== null && (
            <span className="figure-true" data-testid="true">
              {t("sighting.figures.true")}{" "}
              {truth === "once judged" && (judged ?? null) === null ? (
                t("sighting.figures.onceJudged")
              ) : (
                <b>{upright ? lean(finding.true_lean_deg) : text(finding.true)}</b>
              )}
            </span>
          )}
        </span>
      </span>
    </>
  );
}

/** Where a rim's figures come from: its axis, each side's word, and the guide to reach for. */
export function RimFigures({ finding }: { finding: Finding }) {
  const rim = finding.rim;
  if (!rim) return null;
  const alone = [
    rim.by_edges && t("sighting.figures.edgesAlone", { degrees: degreesText(rim.by_edges.degree_deg) }),
    rim.by_rims && t("sighting.figures.otherRimsAlone", { degrees: degreesText(rim.by_rims.degree_deg) }),
  ].filter(Boolean);
  return (
    <dl className="grid grid-cols-[auto_1fr] gap-x-2 px-2.5 pb-1.5 text-[13px] leading-snug tabular-nums">
      {rim.axis_turn_deg !== null && (
        <>
          <dt>{t("sighting.figures.minorAxis")}</dt>
          <dd>
            {figure(Math.abs(rim.axis_turn_deg), 1)}° ± {figure(rim.axis_turn_sd ?? 0, 1)}{" "}
            {t("sighting.figures.offAxis")}
          </dd>
        </>
      )}
      {alone.length > 0 && (
        <>
          <dt>{t("sighting.figures.impliedBy")}</dt>
          <dd>{alone.join(", ")}</dd>
        </>
      )}
      {rim.guide_deg !== null && finding.verdict !== "holds" && (
        <>
          <dt>{t("sighting.figures.guide")}</dt>
          <dd>{t("sighting.figures.nearestEllipseGuide", { degree: rim.guide_deg })}</dd>
        </>
      )}
    </dl>
  );
}

/** What degree each rim of the form should have, height by height, with the guide to draw it. */
export function RimsByHeight({ ladder }: { ladder: Ladder }) {
  return (
    <details className="px-2.5 pb-1.5 text-[13px]">
      <summary className="cursor-pointer">{t("sighting.figures.rimsByHeight")}</summary>
      <table className="mt-1 w-full tabular-nums">
        <thead>
          <tr className="text-left">
            <th scope="col">{t("sighting.figures.unitsFromEyeLevel")}</th>
            <th scope="col">{t("sighting.figures.degree")}</th>
            <th scope="col">{t("sighting.figures.guide")}</th>
          </tr>
        </thead>
        <tbody>
          {ladder.rungs.map((rung) => (
            <tr key={rung.units}>
              <td>{`${rung.units > 0 ? "+" : rung.units < 0 ? "−" : ""}${Math.abs(rung.units)}`}</td>
              <td>{degreesText(rung.ellipse.degree_deg)}</td>
              <td>{rung.guide_deg === null ? "–" : `${rung.guide_deg}°`}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </details>
  );
}

interface MiniProps {
  /** Degrees: an edge's tilt, a rim's degree. */
  value: number | null;
  kind: "judged" | "sighted" | "implied";
}

function MiniRim({ value, kind }: MiniProps) {
  if (value === null) return null;
  const shape = { rx: 15, ry: Math.max(0.3, 15 * Math.sin((value * Math.PI) / 180)) };
  if (kind === "implied") return <ellipse {...shape} className="mini-implied rim-open" />;
  return (
    <>
      <ellipse {...shape} className={`mini-${kind}-outer mini-rim-outer rim-open`} />
      <ellipse {...shape} className={`mini-${kind}-inner mini-rim-inner rim-open`} />
    </>
  );
}

function MiniNeedle({ value, kind }: MiniProps) {
  if (value === null) return null;
  const line = between(...lineAt([0, 0], value, 16));
  if (kind === "implied") return <line {...line} className="mini-implied" />;
  return (
    <>
      <line {...line} className={`mini-${kind}-outer`} />
      <line {...line} className={`mini-${kind}-inner`} />
    </>
  );
}
