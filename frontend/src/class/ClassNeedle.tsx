import "../stage/stage.css";
import type { SkillOfClass } from "../api/types";

/** How far a needle swings for a bias of so many tolerances; beyond them it stands at its end. */
const MOST = 3;
const SWING_DEG = 75;

/** The class in one skill: a thin needle for each student, the mean of them thick, ticks at the tolerance. */
export function ClassNeedle({ one }: { one: SkillOfClass }) {
  const tip = (error: number, long: number): [number, number] => {
    const turn = (Math.max(-MOST, Math.min(MOST, error / one.tolerance)) / MOST) * SWING_DEG * (Math.PI / 180);
    return [long * Math.sin(turn), -long * Math.cos(turn)];
  };
  const [x, y] = tip(one.mean, 40);
  return (
    <svg viewBox="-50 -50 100 54" className="class-needle" aria-hidden="true">
      {[-1, 0, 1].map((side) => {
        const [from, to] = [tip(side * one.tolerance, 42), tip(side * one.tolerance, 47)];
        return <line key={side} x1={from[0]} y1={from[1]} x2={to[0]} y2={to[1]} className="dial-tick" />;
      })}
      {one.students.map(({ name, stands }) => {
        const [sx, sy] = tip(stands.bias?.value ?? 0, 38);
        return <line key={name} x1={0} y1={0} x2={sx} y2={sy} className="needle-one" />;
      })}
      <line x1={0} y1={0} x2={x} y2={y} className="needle-all" />
      <circle r={3} className="dial-hub" />
    </svg>
  );
}
