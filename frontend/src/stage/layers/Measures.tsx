import {
  type ConstructAnswer,
  type EasedLine,
  type Face,
  type FigureAnswer,
  type Finding,
  type GuideAnswer,
  isFace,
  isLength,
  type Point,
  type Report,
  type Sighting,
  twoEnds,
} from "../../api/types";
import { VERDICTS } from "../../ui/marks";
import { t } from "../../words";
import { between, distance, lineAt, middleOf, type Size, tiltOf, toScreen, type View } from "../geometry";

interface MeasureMarkProps {
  sighting: Sighting;
  finding: Finding | undefined;
  view: View;
  chosen: boolean;
  quiet: boolean;
}

/** What is measured beside edges and rims: lengths, lines from corner to corner, heights, faces and parts. */
export function MeasureMark({ sighting, finding, view, chosen, quiet }: MeasureMarkProps) {
  const look = `measure measure-${sighting.kind} ${chosen ? "measure-chosen" : ""}`;
  const mark = finding && finding.verdict !== "unsure" && !finding.measure ? VERDICTS[finding.verdict].mark : "";
  if (isFace(sighting)) return <FaceMark face={sighting} look={look} view={view} quiet={quiet} />;
  if (sighting.kind === "division") {
    const [x, y] = toScreen(view, sighting.point);
    const across = finding?.part_line_px;
    const line = across && between(toScreen(view, across[0]), toScreen(view, across[1]));
    return (
      <g className={look} opacity={quiet ? 0.4 : 1} data-edge={sighting.id}>
        {line && !quiet && (
          <>
            <line {...line} className="measure-halo" />
            <line {...line} className="measure-ink part-line" />
          </>
        )}
        <circle cx={x} cy={y} r={14} className="measure-reach" />
        <path d={`M${x} ${y - 6}l6 6l-6 6l-6 -6z`} className="measure-dot" />
        {mark && !quiet && <Word at={[x + 12, y - 8]}>{mark}</Word>}
      </g>
    );
  }
  const two = twoEnds(sighting);
  if (!two) return null;
  const [p, q] = [toScreen(view, two[0]), toScreen(view, two[1])];
  const ticks = sighting.kind === "length" || sighting.kind === "height";
  const square = tiltOf(p, q) + 90;
  const unit = isLength(sighting) && sighting.unit ? "1" : "";
  return (
    <g className={look} opacity={quiet ? 0.4 : 1} data-edge={sighting.id}>
      <line {...between(p, q)} className="edge-reach" />
      <line {...between(p, q)} className="measure-halo" />
      <line {...between(p, q)} className="measure-ink" />
      {ticks &&
        [p, q].map((end, k) => (
          <line key={k === 0 ? "p" : "q"} {...between(...lineAt(end, square, 7))} className="measure-tick" />
        ))}
      {!quiet && (unit || mark) && <Word at={[middleOf(p, q)[0] + 8, middleOf(p, q)[1] - 6]}>{unit || mark}</Word>}
    </g>
  );
}

function Word({ at: [x, y], children }: { at: Point; children: string }) {
  return (
    <text x={x} y={y} className="level-word" pointerEvents="none">
      {children}
    </text>
  );
}

/** The unit carried along a stick that is being stretched, thumb mark by thumb mark. */
export function ThumbMarks({ from, to, unit }: { from: Point; to: Point; unit: number }) {
  const long = distance(from, to);
  if (!(unit > 3) || long < 2) return null;
  const tilt = tiltOf(from, to);
  const count = Math.min(40, Math.floor(long / unit));
  return (
    <g pointerEvents="none" data-testid="thumb-marks" data-count={count}>
      {Array.from({ length: count }, (_, k) => {
        const share = ((k + 1) * unit) / long;
        const at: Point = [from[0] + share * (to[0] - from[0]), from[1] + share * (to[1] - from[1])];
        return <line key={share} {...between(...lineAt(at, tilt + 90, 9))} className="thumb-mark" />;
      })}
    </g>
  );
}

/** A face being laid, corner by corner. */
export function LaidCorners({ corners, hand, view }: { corners: Point[]; hand: Point | null; view: View }) {
  const at = [...corners, ...(hand && corners.length < 4 ? [hand] : [])].map((corner) => toScreen(view, corner));
  return (
    <g pointerEvents="none" data-testid="laid-corners">
      {at.length > 1 && (
        <>
          <path d={`M${at.map((c) => c.join(" ")).join("L")}`} className="edge-chalk measure-open" />
          <path d={`M${at.map((c) => c.join(" ")).join("L")}`} className="lay-ink measure-open" />
        </>
      )}
      {corners.map((corner) => {
        const [x, y] = toScreen(view, corner);
        return <circle key={`${x}-${y}`} cx={x} cy={y} r={5} className="handle" />;
      })}
    </g>
  );
}

/** A construction on a face, as far as its steps are shown. */
export function ConstructionLines({ answer, shown, view }: { answer: ConstructAnswer; shown: number; view: View }) {
  return (
    <g pointerEvents="none" data-testid="construction">
      {answer.steps.slice(0, shown).flatMap((step) =>
        step.strokes.map(({ role, p, q }) => {
          const line = between(toScreen(view, p), toScreen(view, q));
          return (
            <g key={`${step.words}-${line.x1}-${line.y1}-${line.x2}-${line.y2}`} className={`stroke-${role}`}>
              <line {...line} className="implied-halo" />
              <line {...line} className="stroke-ink" />
            </g>
          );
        }),
      )}
    </g>
  );
}

/** A figure standing on the ground, with eye level through it. */
export function FigureMark({ foot, answer, view }: { foot: Point; answer: FigureAnswer | null; view: View }) {
  const base = toScreen(view, foot);
  const top = answer?.top ? toScreen(view, answer.top) : null;
  const tall = top ? distance(base, top) : 0;
  return (
    <g data-testid="figure" data-top={answer?.top?.[1] ?? ""}>
      {top && (
        <g pointerEvents="none">
          <line {...between(base, top)} className="implied-halo" />
          <line {...between(base, top)} className="figure-spine" />
          <circle
            cx={top[0] + (base[0] - top[0]) * 0.065}
            cy={top[1] + (base[1] - top[1]) * 0.065}
            r={Math.max(2.5, tall * 0.065)}
            className="figure-head"
          />
          <line
            {...between(
              ...lineAt([top[0] + (base[0] - top[0]) * 0.2, top[1] + (base[1] - top[1]) * 0.2], 0, tall * 0.11),
            )}
            className="figure-spine"
          />
        </g>
      )}
      <circle
        cx={base[0]}
        cy={base[1]}
        r={9}
        className="handle level-handle"
        data-figure="foot"
        tabIndex={0}
        role="button"
        aria-label={t("layers.measures.figureFoot")}
      />
    </g>
  );
}

interface GuideLineProps {
  along: "plumb" | "level";
  answer: GuideAnswer;
  view: View;
  size: Size;
}

/** A plumb line or a level one held before the picture. */
export function GuideLine({ along, answer, view, size }: GuideLineProps) {
  const [x, y] = toScreen(view, [answer.at_px, answer.at_px]);
  const line = along === "plumb" ? { x1: x, x2: x, y1: 0, y2: size.height } : { x1: 0, x2: size.width, y1: y, y2: y };
  const bob: Point = along === "plumb" ? [x, size.height - 28] : [size.width - 28, y];
  return (
    <g className="guide" data-testid="guide" data-at={answer.at_px}>
      <line {...line} className="implied-halo" pointerEvents="none" />
      <line {...line} className="guide-line" pointerEvents="none" />
      <line {...line} className={`guide-reach guide-${along}`} data-guide={along} />
      {answer.passed.map((end) => {
        const [px, py] = toScreen(view, end.at);
        return <circle key={`${end.sighting}-${end.corner}`} cx={px} cy={py} r={6} className="guide-passed" />;
      })}
      <circle
        cx={bob[0]}
        cy={bob[1]}
        r={9}
        className={`handle guide-${along}`}
        data-guide={along}
        tabIndex={0}
        role="button"
        aria-label={t("layers.measures.line", {
          level: along === "plumb" ? t("layers.measures.plumb") : t("layers.measures.level"),
        })}
      />
    </g>
  );
}

/** The 60° cone of vision. */
export function ConeOfVision({ report, view }: { report: Report; view: View }) {
  const { centre_px, cone_radius_px } = report.camera ?? {};
  if (!centre_px || !cone_radius_px) return null;
  const [x, y] = toScreen(view, centre_px);
  return (
    <g pointerEvents="none" data-testid="cone">
      <circle cx={x} cy={y} r={cone_radius_px * view.k} className="cone" />
      <path d={`M${x - 7} ${y}h14M${x} ${y - 7}v14`} className="cone" />
    </g>
  );
}

/** A solved form as from further away. */
export function EasedLines({ lines, view }: { lines: EasedLine[]; view: View }) {
  return (
    <g pointerEvents="none" data-testid="eased">
      {lines.map((line) => {
        const at = between(toScreen(view, line.eased_p), toScreen(view, line.eased_q));
        return (
          <g key={line.id}>
            <line {...at} className="implied-halo" />
            <line {...at} className="eased-line" />
          </g>
        );
      })}
    </g>
  );
}

interface FaceMarkProps extends Pick<MeasureMarkProps, "view" | "quiet"> {
  face: Face;
  look: string;
}

function FaceMark({ face, look, view, quiet }: FaceMarkProps) {
  const corners = face.corners.map((at) => toScreen(view, at));
  const path = `M${corners.map((at) => at.join(" ")).join("L")}Z`;
  return (
    <g className={look} opacity={quiet ? 0.4 : 1} data-edge={face.id}>
      <path d={path} className="edge-reach measure-open" />
      <path d={path} className="measure-halo measure-open" />
      <path d={path} className="measure-ink measure-open" />
    </g>
  );
}
