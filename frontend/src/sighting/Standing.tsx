import { isStraight, type Report } from "../api/types";
import { figure } from "../ui/locale";
import { t } from "../words";
import { Said } from "../words/Said";

interface StandingProps {
  report: Report;
  /** How high the picture is, px: heights are told as parts of it. */
  high: number;
  levelIsSet: boolean;
  resting: boolean;
  onTurnLevel: () => void;
  onJudgeLevel: () => void;
}

/** Where eye level and the view stand, and what the sightings leave open. */
export function Standing({ report, levelIsSet, resting, high, onTurnLevel, onJudgeLevel }: StandingProps) {
  const level = report.eye_level;
  const y = level.middle_y_px;
  const straight = isStraight(report);
  const both = !!level.by_edges && !!level.by_rims && level.source === "edges and rims";
  const camera = report.camera;
  return (
    <section
      aria-label={t("sighting.standing.title")}
      className="border-b border-base-300 px-3 py-2 text-sm"
      aria-live="polite"
    >
      <div className="flex flex-wrap items-baseline gap-x-2">
        <h2 className="font-semibold whitespace-nowrap">{t("sighting.standing.eyeLevel")}</h2>
        <span
          className="tabular-nums whitespace-nowrap"
          data-testid="eye-level"
          data-y={y ?? ""}
          data-sd={level.sd_px ?? ""}
        >
          {y === null
            ? straight
              ? t("sighting.standing.notInPicture")
              : t("sighting.standing.notFixedYet")
            : downText(y, levelIsSet ? null : level.sd_px, high)}
        </span>
        <span className="text-base-content/85">
          {levelIsSet
            ? t("sighting.standing.setByHand")
            : y !== null && !both
              ? t("sighting.standing.fromThe", { source: level.source })
              : ""}
        </span>
        {!straight && (
          <span className="ml-auto flex gap-1">
            {!level.judged && (
              <button
                type="button"
                className="btn btn-xs"
                onClick={onJudgeLevel}
                title={t("sighting.standing.judgeHint")}
              >
                {t("sighting.standing.judgeIt")}
              </button>
            )}
            <button type="button" className="btn btn-xs" onClick={onTurnLevel} title="E">
              {levelIsSet ? t("sighting.standing.findItInstead") : t("sighting.standing.setByHandDo")}
            </button>
          </span>
        )}
      </div>
      {level.judged && !resting && (
        <p className="tabular-nums" data-testid="judged-level">
          {level.judged.words}{" "}
          {level.judged.skill && t("sighting.standing.inTheLogbook", { skill: level.judged.skill })}
        </p>
      )}
      {straight && (
        <p>
          {t("sighting.standing.looking")} {report.view}
          {t("sighting.standing.uprightsRecede")}
        </p>
      )}
      {both && level.by_edges && level.by_rims && (
        <p className="tabular-nums" data-testid="edges-and-rims">
          {t("sighting.standing.fromEdgesAndRims", {
            edges: heightText(level.by_edges, high),
            rims: heightText(level.by_rims, high),
          })}
        </p>
      )}
      {camera?.view_deg != null && <p className="tabular-nums">{cameraWords(report, camera, camera.view_deg)}</p>}
      {!resting && report.judgements.length > 0 && (
        <p className="tabular-nums" data-testid="judgements">
          {report.judgements.join("; ")}
        </p>
      )}
      {!resting && report.standings.length > 0 && (
        <details>
          <summary className="cursor-pointer">{t("sighting.standing.whichFacesShow")}</summary>
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
  "bird's-eye": t("sighting.standing.birdsEyeView"),
  normal: t("sighting.standing.normalView"),
  "worm's-eye": t("sighting.standing.wormsEyeView"),
};

/** The kind of view, how wide it is, and how far it looks up or down. */
function cameraWords(report: Report, camera: NonNullable<Report["camera"]>, view_deg: number): string {
  const pitch = camera.pitch_deg ?? 0;
  const words = [
    report.view && VIEWS[report.view],
    t(`sighting.standing.perspective.${report.perspective}`),
    t("sighting.standing.wide", { degrees: figure(view_deg, 0) }),
    Math.abs(pitch) >= 0.5 &&
      t(pitch > 0 ? "sighting.standing.lookingUp" : "sighting.standing.lookingDown", {
        degrees: figure(Math.abs(pitch), 1),
      }),
  ];
  return words.filter(Boolean).join(", ");
}

function heightText(part: { middle_y_px: number; sd_px: number }, high: number): string {
  const digits = digitsOf(part.sd_px / high);
  return `${figure((100 * part.middle_y_px) / high, digits)} ± ${figure((100 * part.sd_px) / high, digits)} %`;
}

/** How finely a share is told whose ± is `sd`: to a whole per cent, or a tenth where that says more. */
function digitsOf(sd: number): 0 | 1 {
  return sd > 0 && sd < 0.0095 ? 1 : 0;
}

/** How far down the picture a height lies, with its ±. */
function downText(y: number, sd: number | null, high: number): string {
  const digits = digitsOf((sd ?? 0) / high);
  const share = y / high;
  const percent = (part: number) => figure(100 * part, digits);
  const place =
    share < 0
      ? t("sighting.standing.aboveThePicture", { percent: percent(-share) })
      : share > 1
        ? t("sighting.standing.belowThePicture", { percent: percent(share - 1) })
        : t("sighting.standing.downThePicture", { percent: percent(share) });
  return sd ? `${place} ± ${percent(sd / high)}` : place;
}

/** What the sightings leave open. */
export function Notes({ report, count }: { report: Report; count: number }) {
  if (count === 0 && report.notes.length > 0 && !isStraight(report))
    return (
      <p className="px-3 pt-2 leading-snug">
        <Said
          of="sighting.standing.empty"
          parts={{
            edge: <b>{t("sighting.standing.addAnEdge")}</b>,
            rim: <b>{t("sighting.standing.addARim")}</b>,
          }}
        />
      </p>
    );
  if (report.notes.length === 0) return null;
  return (
    <ul className="flex flex-col gap-1 px-3 pt-2 text-sm leading-snug" aria-label={t("sighting.standing.notes")}>
      {report.notes.map((note) => (
        <li key={note} className="note">
          {note}
        </li>
      ))}
    </ul>
  );
}
