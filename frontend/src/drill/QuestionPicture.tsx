import { t } from "../words";
import "./drill.css";
import { useDrag } from "@use-gesture/react";
import { useEffect, useRef } from "react";
import type { QuestionAsked, ShownMark } from "../api/types";
import { actionOf, stepOf, wayOf } from "../stage/keys";
import type { Hand } from "./hand";
import { PLACE_KEYS } from "./keys";

type Point = [number, number];

interface QuestionPictureProps {
  question: QuestionAsked;
  hand: Hand;
  onHand: (hand: Hand) => void;
}

/** The question's picture; where a place is asked for, the point or the level line is put on it. With the answer the truth lies over the judgement. */
export function QuestionPicture({ question, hand, onHand }: QuestionPictureProps) {
  const svg = useRef<SVGSVGElement>(null);
  const level = question.instrument === "level";
  const placing = (level || question.instrument === "point") && !question.answered;
  useEffect(() => {
    if (placing) svg.current?.focus({ preventScroll: true });
  }, [placing]);

  const put = ([x, y]: Point) => {
    const inside: Point = [clamp(x, question.width_px), clamp(y, question.height_px)];
    onHand({ ...hand, point: level ? [question.width_px / 2, inside[1]] : inside });
  };
  const bind = useDrag(
    ({ xy: [x, y] }) => {
      const matrix = svg.current?.getScreenCTM();
      if (!placing || !matrix) return;
      const at = new DOMPoint(x, y).matrixTransform(matrix.inverse());
      put([at.x, at.y]);
    },
    { pointer: { keys: false } },
  );
  const nudge = (event: React.KeyboardEvent) => {
    const way = wayOf(actionOf(PLACE_KEYS, event.key));
    if (!way || !placing) return;
    event.preventDefault();
    event.stopPropagation();
    const by = stepOf(event, 40, 5, 1);
    const [x, y] = hand.point ?? [question.width_px / 2, question.height_px / 2];
    put([x + way[0] * by, y + way[1] * by]);
  };
  const { width_px: wide, height_px: high } = question;
  return (
    <svg
      ref={svg}
      {...bind()}
      viewBox={`0 0 ${wide} ${high}`}
      className={`drill-picture ${placing ? "drill-placing" : ""}`}
      role={placing ? "application" : "img"}
      aria-label={
        placing
          ? t(level ? "drill.questionPicture.moveLevel" : "drill.questionPicture.movePoint", {
              prompt: question.prompt,
            })
          : question.prompt
      }
      tabIndex={placing ? 0 : undefined}
      onKeyDown={nudge}
    >
      <image href={question.picture} width={wide} height={high} preserveAspectRatio="none" />
      {question.answered?.over.map((mark) => (
        <Shown key={String(mark.points)} mark={mark} look="drill-truth" />
      ))}
      {question.answered?.drawn.map((mark) => (
        <Shown key={String(mark.points)} mark={mark} look="drill-judged" />
      ))}
      {placing && hand.point && <Held point={hand.point} wide={level ? wide : null} />}
    </svg>
  );
}

const clamp = (value: number, most: number) => Math.min(Math.max(value, 0), most);

/** A line is drawn on chalk, as everywhere; a point is a ring. */
export function Shown({ mark, look }: { mark: ShownMark; look: string }) {
  const [first] = mark.points;
  if (mark.points.length === 1 && first)
    return (
      <g className={look}>
        <circle cx={first[0]} cy={first[1]} r={11} className="drill-chalk" />
        <circle cx={first[0]} cy={first[1]} r={11} className="drill-ink" />
        <circle cx={first[0]} cy={first[1]} r={2.5} className="drill-centre" />
      </g>
    );
  const points = mark.points.map((p) => p.join(",")).join(" ");
  return (
    <g className={`${look} ${mark.role === "given" ? "drill-given" : ""}`}>
      <polyline points={points} className="drill-chalk" />
      <polyline points={points} className="drill-ink" />
    </g>
  );
}

/** What the hand holds: a level line right across, or a point whose middle stays free to look through. */
function Held({ point: [x, y], wide }: { point: Point; wide: number | null }) {
  if (wide !== null)
    return (
      <g className="drill-judged" data-testid="level-line">
        <line x1={0} x2={wide} y1={y} y2={y} className="drill-chalk" />
        <line x1={0} x2={wide} y1={y} y2={y} className="drill-ink" />
        <circle cx={wide - 60} cy={y} r={16} className="drill-grip" />
      </g>
    );
  return (
    <g className="drill-judged" data-testid="held-point">
      <circle cx={x} cy={y} r={20} className="drill-chalk" />
      <circle cx={x} cy={y} r={20} className="drill-ink" />
      <path d={`M${x - 34} ${y}h24M${x + 10} ${y}h24M${x} ${y - 34}v24M${x} ${y + 10}v24`} className="drill-ink" />
      <circle cx={x} cy={y} r={2.5} className="drill-centre" />
    </g>
  );
}
