import type { FanAnswer, Point, ProbeAnswer } from "../../api/types";
import { FAMILIES } from "../../ui/marks";
import { between, lineAt, middleOf, toScreen, type View } from "../geometry";

const HALF = 58;
const RIM_RADIUS = 30;

/** How families run where the probe is held, and a level rim there. */
export function ProbeMarks({ at, answer, view }: { at: Point; answer: ProbeAnswer; view: View }) {
  const here = toScreen(view, at);
  return (
    <g pointerEvents="none" data-testid="probe-marks">
      {answer.runs.map((run) => {
        const line = between(...lineAt(here, run.tilt_deg, HALF));
        return (
          <g key={`${run.form}-${run.family}-${run.slope}`}>
            <line {...line} className="edge-chalk" />
            <line {...line} className="edge-ink" stroke={FAMILIES[run.family].ink} />
          </g>
        );
      })}
      {answer.rim && (
        <ellipse
          cx={here[0]}
          cy={here[1]}
          rx={RIM_RADIUS}
          ry={Math.max(0.6, RIM_RADIUS * answer.rim.ratio)}
          transform={`rotate(${90 - answer.rim.axis_deg} ${here[0]} ${here[1]})`}
          className="probe-rim"
        />
      )}
    </g>
  );
}

/** Evenly spaced edges of one family between two that are laid. */
export function FanLines({ fan, view }: { fan: FanAnswer; view: View }) {
  return (
    <g pointerEvents="none" data-testid="fan">
      {fan.lines.map(({ p, q }) => {
        const [a, b] = [toScreen(view, p), toScreen(view, q)];
        const [x, y] = middleOf(a, b);
        return (
          <g key={`${x}-${y}`}>
            <line {...between(a, b)} className="implied-halo" />
            <line {...between(a, b)} className="fan-line" />
          </g>
        );
      })}
    </g>
  );
}
