import type { Picture, Point, Report, Sheet } from "../../api/types";
import { t } from "../../words";
import { between, heightAt, toPicture, toScreen, type View } from "../geometry";

interface LevelLineProps {
  picture: Picture;
  report: Report;
  given: Sheet["eye_level"];
  view: View;
  width: number;
}

/** Eye level across the stage, as it is set or as the sightings find it, with its ±. */
export function LevelLine({ picture, report, given, view, width }: LevelLineProps) {
  const level = report.eye_level;
  const levelIsSet = !!given;
  const shown = given ?? level;
  if (shown.left_y_px == null || shown.right_y_px == null) return null;
  const { left_y_px, right_y_px } = shown;
  const across = (x: number) => toScreen(view, [x, heightAt(left_y_px, right_y_px, picture.width_px, x)]);
  const [a, b] = [across(toPicture(view, [0, 0])[0]), across(toPicture(view, [width, 0])[0])];
  const [left, right] = [across(0), across(picture.width_px)];
  const found = levelIsSet ? level.found : null;
  const band = (levelIsSet ? 0 : 2 * (level.sd_px ?? 0)) * view.k;
  return (
    <g className="level">
      {band > 0 && <Band a={a} b={b} half={band} />}
      {found && <FoundLine found={found} picture={picture} view={view} />}
      <line {...between(a, b)} className="level-halo" pointerEvents="none" />
      <line {...between(a, b)} className={levelIsSet ? "level-set" : "level-found"} pointerEvents="none" />
      {levelIsSet && (
        <>
          <line {...between(a, b)} className="level-reach" data-level="both" />
          {(["left", "right"] as const).map((side) => {
            const [x, y] = side === "left" ? left : right;
            return (
              <rect
                key={side}
                x={x - 8}
                y={y - 8}
                width={16}
                height={16}
                className="handle level-handle"
                data-level={side}
                tabIndex={0}
                role="button"
                aria-label={t("layers.eyeLevel.handle", { side })}
              />
            );
          })}
        </>
      )}
      <text x={Math.max(8, Math.min(left[0], width - 120) + 14)} y={left[1] - 7} className="level-word">
        {levelIsSet ? t("layers.eyeLevel.eyeLevelSet") : t("layers.eyeLevel.eyeLevel")}
      </text>
    </g>
  );
}

interface JudgedLineProps {
  judged: NonNullable<Sheet["judged_eye_level"]>;
  picture: Picture;
  view: View;
}

/** Where eye level was judged to lie, hollow as every judgement is. */
export function JudgedLine({ judged, picture, view }: JudgedLineProps) {
  const a = toScreen(view, [0, judged.left_y_px]);
  const b = toScreen(view, [picture.width_px, judged.right_y_px]);
  return (
    <g pointerEvents="none" data-testid="judged-eye-level">
      <line {...between(a, b)} className="level-judged-outer" />
      <line {...between(a, b)} className="level-judged-inner" />
      <text x={b[0] - 8} y={b[1] - 6} textAnchor="end" className="level-word">
        {t("layers.eyeLevel.judged")}
      </text>
    </g>
  );
}

/** Seen straight up or down: where the uprights meet, with its ±. */
export function MeetingMark({ report, view }: { report: Report; view: View }) {
  const point = report.vanishing_points.find((v) => v.family === "upright");
  if (point?.x_px == null || point.y_px == null) return null;
  const [x, y] = toScreen(view, [point.x_px, point.y_px]);
  const spread = 2 * (point.sd_px ?? 0) * view.k;
  return (
    <g pointerEvents="none" data-testid="uprights-meet">
      {spread > 8 && <circle cx={x} cy={y} r={spread} className="level-band" />}
      <path d={`M${x - 12} ${y}h24m-12 -12v24`} className="level-halo" />
      <path d={`M${x - 12} ${y}h24m-12 -12v24`} className="level-set" />
      <text x={x + 12} y={y - 9} className="level-word">
        {report.view === "straight up" ? t("layers.eyeLevel.zenith") : t("layers.eyeLevel.nadir")}
      </text>
    </g>
  );
}

interface FoundLineProps {
  found: { left_y_px: number; right_y_px: number; sd_px: number };
  picture: Picture;
  view: View;
}

function FoundLine({ found, picture, view }: FoundLineProps) {
  const a = toScreen(view, [0, found.left_y_px]);
  const b = toScreen(view, [picture.width_px, found.right_y_px]);
  return (
    <g pointerEvents="none">
      <Band a={a} b={b} half={2 * found.sd_px * view.k} />
      <line {...between(a, b)} className="level-found" />
    </g>
  );
}

/** The ± of a level, above and below its line. */
function Band({ a: [x1, y1], b: [x2, y2], half }: { a: Point; b: Point; half: number }) {
  const points = `${x1},${y1 - half} ${x2},${y2 - half} ${x2},${y2 + half} ${x1},${y1 + half}`;
  return <polygon className="level-band" pointerEvents="none" points={points} />;
}
