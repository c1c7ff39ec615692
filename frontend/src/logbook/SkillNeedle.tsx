import "../stage/stage.css";
import type { LoggedSkill } from "../api/types";

/** How far the needle swings for an error of so many tolerances; beyond them it stands at its end. */
const MOST = 3;
const SWING_DEG = 75;
const LONG = 40;

/** A skill's own small needle: where it points is the mean error, its fan the spread; the grey fan is what was a month ago. */
export function SkillNeedle({ row }: { row: LoggedSkill }) {
  const { whole, month_ago, tolerance } = row;
  const turn = (error: number) => (Math.max(-MOST, Math.min(MOST, error / tolerance)) / MOST) * SWING_DEG;
  const fan = (stands: LoggedSkill["whole"], long: number) => {
    if (!stands.bias || !stands.spread) return null;
    const [low, high] = [-1, 1].map((side) => turn((stands.bias?.value ?? 0) + side * (stands.spread?.value ?? 0)));
    const [a, b] = [at(low ?? 0, long), at(high ?? 0, long)];
    return `M0 0L${a.join(" ")}A${long} ${long} 0 0 1 ${b.join(" ")}Z`;
  };
  const [x, y] = at(turn(whole.bias?.value ?? 0), LONG);
  const marks = [-1, 0, 1].map((side) => ({
    side,
    from: at(turn(side * tolerance), 42),
    to: at(turn(side * tolerance), 47),
  }));
  const before = fan(month_ago, LONG - 2);
  const now = fan(whole, LONG - 8);
  return (
    <svg viewBox="-50 -50 100 54" className="skill-needle" aria-hidden="true">
      {before && <path d={before} className="needle-before" />}
      {now && <path d={now} className="needle-fan" />}
      {marks.map(({ side, from, to }) => (
        <line key={side} x1={from[0]} y1={from[1]} x2={to[0]} y2={to[1]} className="dial-tick" />
      ))}
      {whole.bias && <line x1={0} y1={0} x2={x} y2={y} className="needle-mean" />}
      <circle r={3} className="dial-hub" />
    </svg>
  );
}

/** A place on the dial, straight up at nought, positive to the right. */
function at(turn: number, long: number): [number, number] {
  const t = (turn * Math.PI) / 180;
  return [long * Math.sin(t), -long * Math.cos(t)];
}
