import type { Picture, Report, Sheet } from "../../api/types";
import { toPicture, toScreen, type View } from "../geometry";

/** Eye level across the stage, as it is set or as the sightings find it, with its ±. */
export function LevelLine({
  picture,
  report,
  given,
  view,
  width,
}: {
  picture: Picture;
  report: Report;
  given: Sheet["eye_level"];
  view: View;
  width: number;
}) {
  const level = report.eye_level;
  const levelIsSet = !!given;
  const shown = given ?? level;
  if (shown.left_y_px == null || shown.right_y_px == null) return null;
  const slope = (shown.right_y_px - shown.left_y_px) / picture.width_px;
  const [x0, x1] = [toPicture(view, [0, 0])[0], toPicture(view, [width, 0])[0]];
  const a = toScreen(view, [x0, shown.left_y_px + slope * x0]);
  const b = toScreen(view, [x1, shown.left_y_px + slope * x1]);
  const found = levelIsSet ? level.found : null;
  const band = (levelIsSet ? 0 : 2 * (level.sd_px ?? 0)) * view.k;
  const [left, right] = [toScreen(view, [0, shown.left_y_px]), toScreen(view, [picture.width_px, shown.right_y_px])];
  return (
    <g className="level">
      {band > 0 && (
        <polygon
          className="level-band"
          pointerEvents="none"
          points={`${a[0]},${a[1] - band} ${b[0]},${b[1] - band} ${b[0]},${b[1] + band} ${a[0]},${a[1] + band}`}
        />
      )}
      {found && <FoundLine found={found} picture={picture} view={view} />}
      <line x1={a[0]} y1={a[1]} x2={b[0]} y2={b[1]} className="level-halo" pointerEvents="none" />
      <line
        x1={a[0]}
        y1={a[1]}
        x2={b[0]}
        y2={b[1]}
        className={levelIsSet ? "level-set" : "level-found"}
        pointerEvents="none"
      />
      {levelIsSet && (
        <>
          <line x1={a[0]} y1={a[1]} x2={b[0]} y2={b[1]} className="level-reach" data-level="both" />
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
                aria-label={`Eye level at the ${side}; up and down arrows move it`}
              />
            );
          })}
        </>
      )}
      <text x={Math.max(8, Math.min(left[0], width - 120) + 14)} y={left[1] - 7} className="level-word">
        {levelIsSet ? "eye level, set" : "eye level"}
      </text>
    </g>
  );
}

function FoundLine({
  found,
  picture,
  view,
}: {
  found: { left_y_px: number; right_y_px: number; sd_px: number };
  picture: Picture;
  view: View;
}) {
  const a = toScreen(view, [0, found.left_y_px]);
  const b = toScreen(view, [picture.width_px, found.right_y_px]);
  const band = 2 * found.sd_px * view.k;
  return (
    <g pointerEvents="none">
      <polygon
        className="level-band"
        points={`${a[0]},${a[1] - band} ${b[0]},${b[1] - band} ${b[0]},${b[1] + band} ${a[0]},${a[1] + band}`}
      />
      <line x1={a[0]} y1={a[1]} x2={b[0]} y2={b[1]} className="level-found" />
    </g>
  );
}
