import { useDrag } from "@use-gesture/react";
import type { Plan, PlanStep, Point } from "../api/types";
import { between, fitView, toScreen, type View } from "../stage/geometry";
import { actionOf, stepOf, wayOf } from "../stage/keys";
import { FAMILIES } from "../ui/marks";
import { useSize } from "../ui/useSize";
import { t } from "../words";
import { BOX_KEYS } from "./keys";

const RULE = 26; // px that the rules along two sides take
const TICK_NUMBERS = [10, 20, 50, 100];
const LEAST_TICK_PX = 34;

interface BoardProps {
  plan: Plan;
  /** The step in hand: it is lit, and what comes after it waits. */
  step: PlanStep | null;
  fans: boolean;
  scales: boolean;
  /** The drawing's box is moved by so many mm from where it stood; `done` when it is let go. */
  onPlace: (by: Point, done: boolean) => void;
}

/** The sheet of paper to scale on the board, with a millimetre rule along two sides. */
export function Board({ plan, step, fans, scales, onPlace }: BoardProps) {
  const { ref, ...size } = useSize({ width: 700, height: 500 });
  const [wide, high] = plan.paper_mm;
  const inner = { width: size.width - RULE, height: size.height - RULE };
  const fitted = fitView({ width: wide, height: high }, inner, 16);
  const view: View = { k: fitted.k, x: fitted.x + RULE, y: fitted.y + RULE };
  const at = (p: Point) => toScreen(view, p);
  const [x0, y0] = at([0, 0]);
  const [x1, y1] = at([wide, high]);
  return (
    <div ref={ref} className="board" data-testid="board">
      <svg width={size.width} height={size.height}>
        <title>{t("plan.board.described", { wide, high })}</title>
        <defs>
          <clipPath id="plan-sheet">
            <rect x={x0} y={y0} width={x1 - x0} height={y1 - y0} />
          </clipPath>
        </defs>
        <Rules view={view} wide={wide} high={high} />
        <rect x={x0} y={y0} width={x1 - x0} height={y1 - y0} className="plan-sheet" />
        <g clipPath="url(#plan-sheet)">
          <OnSheet plan={plan} at={at} k={view.k} fans={fans} scales={scales} />
        </g>
        {plan.steps.map((one) => (
          <StepMark key={one.number} step={one} at={at} k={view.k} now={step} />
        ))}
        <Limits plan={plan} at={at} k={view.k} onPlace={onPlace} />
      </svg>
    </div>
  );
}

interface OnPaper {
  plan: Plan;
  at: (p: Point) => Point;
  /** Px a mm. */
  k: number;
}

/** The drawing's four limits, moved as one; where it leaves the paper, that shows. */
function Limits({ plan, at, k, onPlace }: OnPaper & { onPlace: (by: Point, done: boolean) => void }) {
  const box = plan.limits_mm;
  const [left, top] = at([box.left, box.top]);
  const [right, bottom] = at([box.right, box.bottom]);
  const bind = useDrag(({ movement: [mx, my], last }) => onPlace([mx / k, my / k], last), {
    pointer: { keys: false },
    filterTaps: true,
  });
  return (
    <>
      <g
        {...bind()}
        role="button"
        aria-label={t("plan.board.place")}
        tabIndex={0}
        className="plan-box"
        onKeyDown={(event) => {
          const way = wayOf(actionOf(BOX_KEYS, event.key));
          if (!way) return;
          event.preventDefault();
          const by = stepOf(event, 20, 5, 1);
          onPlace([way[0] * by, way[1] * by], true);
        }}
      >
        <rect
          x={left}
          y={top}
          width={Math.max(right - left, 2)}
          height={Math.max(bottom - top, 2)}
          className="plan-limits"
        />
      </g>
      {plan.warnings.some((w) => w.leaves !== "cone") && (
        <rect x={left} y={top} width={right - left} height={bottom - top} className="plan-over" pointerEvents="none" />
      )}
    </>
  );
}

/** What lies on the paper before the first line: eye level, vanishing points, fans and edge scales. */
function OnSheet({ plan, at, k, fans, scales }: OnPaper & { fans: boolean; scales: boolean }) {
  const box = plan.limits_mm;
  const level = plan.eye_level_mm;
  const centre = plan.centre_mm ? at(plan.centre_mm as Point) : null;
  return (
    <>
      {centre && plan.cone_mm != null && (
        <circle cx={centre[0]} cy={centre[1]} r={plan.cone_mm * k} className="plan-cone" />
      )}
      {fans &&
        plan.tilts.map((table) =>
          table.fan.map(([p, q]) => (
            <line
              key={`${table.form} ${table.family} ${p}`}
              {...between(at(p as Point), at(q as Point))}
              className="plan-fan"
              stroke={FAMILIES[table.family].ink}
            />
          )),
        )}
      {level && (
        <line
          {...between(at([0, level.left]), at([plan.paper_mm[0], level.right]))}
          className="plan-level"
          data-testid="plan-level"
        />
      )}
      {plan.anchor_mm != null && (
        <line {...between(at([box.left, plan.anchor_mm]), at([box.right, plan.anchor_mm]))} className="plan-anchor" />
      )}
      {scales &&
        plan.edge_scales.map((scale) =>
          scale.marks.map((mark) => (
            <ScaleMark
              key={`${scale.form} ${scale.family} ${mark.number}`}
              a={at(mark.a as Point)}
              b={at(mark.b as Point)}
              letter={FAMILIES[scale.family].letter}
              ink={FAMILIES[scale.family].ink}
              number={mark.number}
            />
          )),
        )}
      {plan.vanishing_points.map((v) =>
        v.x_mm != null && v.y_mm != null ? (
          <circle
            key={`${v.form} ${v.family} ${v.slope}`}
            cx={at([v.x_mm, v.y_mm])[0]}
            cy={at([v.x_mm, v.y_mm])[1]}
            r={5}
            className="plan-point"
            stroke={FAMILIES[v.family].ink}
          />
        ) : null,
      )}
    </>
  );
}

function Rules({ view, wide, high }: { view: View; wide: number; high: number }) {
  const every = TICK_NUMBERS.find((mm) => mm * view.k >= LEAST_TICK_PX) ?? 200;
  const ticks = (long: number) => Array.from({ length: Math.floor(long / 5) + 1 }, (_, n) => n * 5);
  const length = (mm: number) => (mm % every === 0 ? 10 : mm % 10 === 0 ? 6 : 3);
  const shown = (mm: number) => mm % 10 === 0 || 5 * view.k > 5;
  const [x0, y0] = toScreen(view, [0, 0]);
  return (
    <g className="plan-rule" aria-hidden="true">
      {ticks(wide)
        .filter(shown)
        .map((mm) => (
          <g key={`x${mm}`}>
            <line x1={x0 + mm * view.k} x2={x0 + mm * view.k} y1={y0 - 3} y2={y0 - 3 - length(mm)} />
            {mm % every === 0 && (
              <text x={x0 + mm * view.k} y={y0 - 15} textAnchor="middle">
                {mm}
              </text>
            )}
          </g>
        ))}
      {ticks(high)
        .filter(shown)
        .map((mm) => (
          <g key={`y${mm}`}>
            <line y1={y0 + mm * view.k} y2={y0 + mm * view.k} x1={x0 - 3} x2={x0 - 3 - length(mm)} />
            {mm % every === 0 && (
              <text x={x0 - 15} y={y0 + mm * view.k + 4} textAnchor="end">
                {mm}
              </text>
            )}
          </g>
        ))}
    </g>
  );
}

/** One line of an edge scale: a tick at each side of the sheet, numbered alike. */
function ScaleMark({ a, b, letter, ink, number }: { a: Point; b: Point; letter: string; ink: string; number: number }) {
  const run = Math.hypot(b[0] - a[0], b[1] - a[1]);
  const share = Math.min(16 / run, 0.25);
  const ends = [
    { here: a, there: b },
    { here: b, there: a },
  ];
  const numbered = number % 5 === 0;
  return (
    <g>
      {ends.map(({ here, there }) => {
        const tip: Point = [here[0] + (there[0] - here[0]) * share, here[1] + (there[1] - here[1]) * share];
        const right = there[0] >= here[0];
        return (
          <g key={`${here}`}>
            <line
              {...between(here, tip)}
              stroke={ink}
              className={numbered ? "plan-mark plan-mark-long" : "plan-mark"}
            />
            {numbered && number !== 0 && (
              <text
                x={tip[0] + (right ? 2 : -2)}
                y={tip[1] + 4}
                textAnchor={right ? "start" : "end"}
                className="plan-number"
              >
                {letter}
                {String(number).replace("-", "−")}
              </text>
            )}
          </g>
        );
      })}
    </g>
  );
}

function StepMark({ step, at, k, now }: { step: PlanStep; at: (p: Point) => Point; k: number; now: PlanStep | null }) {
  const lit = now?.number === step.number;
  const waits = now !== null && step.number > now.number;
  const look = `plan-step ${lit ? "plan-lit" : ""} ${waits ? "plan-waits" : ""} ${step.step === "near upright" ? "plan-near" : ""}`;
  if (step.step === "limits" || step.step === "anchor line" || step.step === "eye level")
    return lit && <FrameMark step={step} at={at} />;
  if (step.centre_mm && step.major_mm != null && step.minor_mm != null) {
    const [cx, cy] = at(step.centre_mm as Point);
    return (
      <ellipse
        cx={cx}
        cy={cy}
        rx={(step.major_mm / 2) * k}
        ry={(step.minor_mm / 2) * k}
        transform={`rotate(${90 - (step.tilt_deg ?? 90)} ${cx} ${cy})`}
        className={look}
        pointerEvents="none"
      />
    );
  }
  if (!step.p_mm || !step.q_mm) return null;
  if (step.crossing_mm) {
    const [x, y] = at(step.crossing_mm as Point);
    return (
      <g className={look} pointerEvents="none">
        <line x1={x - 5} x2={x + 5} y1={y - 5} y2={y + 5} />
        <line x1={x - 5} x2={x + 5} y1={y + 5} y2={y - 5} />
      </g>
    );
  }
  return (
    <line
      {...between(at(step.p_mm as Point), at(step.q_mm as Point))}
      className={look}
      strokeDasharray={step.step === "axis" ? "9 4 2 4" : undefined}
      pointerEvents="none"
    />
  );
}

/** What the drawing is laid out by, while its step is shown: the limits of the paper that it takes, a line across. */
function FrameMark({ step, at }: { step: PlanStep; at: (p: Point) => Point }) {
  if (!step.p_mm || !step.q_mm) return null;
  const [p, q] = [at(step.p_mm as Point), at(step.q_mm as Point)];
  const look = { className: "plan-step plan-lit", pointerEvents: "none" as const };
  if (step.step === "limits") return <rect x={p[0]} y={p[1]} width={q[0] - p[0]} height={q[1] - p[1]} {...look} />;
  return <line {...between(p, q)} {...look} />;
}
