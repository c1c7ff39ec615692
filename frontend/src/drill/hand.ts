import type { QuestionAsked } from "../api/types";

type Point = [number, number];

/** What is held ready to be committed: a number, or a place on the picture. */
export interface Hand {
  value: number;
  point: Point | null;
}

const FIRST: Record<QuestionAsked["instrument"], number> = {
  needle: 0,
  ellipse: 20,
  stick: 1,
  level: 0,
  point: 0,
  choice: -1,
};

/** Where the hand is before it is moved: the level line across the middle, a point nowhere yet. */
export function firstHand(question: QuestionAsked): Hand {
  const level: Point | null =
    question.instrument === "level" ? [question.width_px / 2, Math.round(question.height_px * 0.12)] : null;
  return { value: FIRST[question.instrument], point: level };
}

/** Whether there is something to commit. */
export function isReady(question: QuestionAsked, hand: Hand): boolean {
  if (question.instrument === "point" || question.instrument === "level") return hand.point !== null;
  return question.instrument === "choice" ? hand.value >= 0 : true;
}

/** An answer as the server takes it: a number, or a place. */
export function given(question: QuestionAsked, hand: Hand): { value?: number; point?: Point } {
  const placed = question.instrument === "point" || question.instrument === "level";
  return placed ? { point: hand.point ?? undefined } : { value: hand.value };
}
