import type { AssignmentOut } from "../api/types";

export const HAND_IN: Record<AssignmentOut["hand_in"][number], string> = {
  sightings: "the sheet with its sightings",
  drawing: "the drawing",
  critique: "its critique",
  note: "a note for next time",
};

export const SUBJECT: Record<AssignmentOut["subject"], string> = {
  photo: "a photo of yours",
  stand: "a set-up on the stand",
  own: "whatever the student finds",
};

export const HOW_FAR: Record<AssignmentOut["how_far"], string> = {
  "not begun": "not begun",
  begun: "begun",
  "handed in": "handed in",
  returned: "given back",
};

/** When it is due, in words. */
export function dueWords({ due_at, late, tries_made }: Pick<AssignmentOut, "due_at" | "late" | "tries_made">): string {
  if (!due_at) return "";
  const day = dayWords(due_at);
  if (tries_made.length > 0) return late ? `was due ${day}, handed in late` : `was due ${day}`;
  return late ? `was due ${day}` : `due ${day}`;
}

export function dayWords(at: string): string {
  return new Date(at).toLocaleDateString(undefined, { weekday: "short", day: "numeric", month: "short" });
}

/** A class code in two groups of four, as it is read out. */
export function spaced(code: string): string {
  return `${code.slice(0, 4)} ${code.slice(4)}`;
}
