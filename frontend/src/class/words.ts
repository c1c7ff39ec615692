import type { AssignmentOut, Piece } from "../api/types";
import { dayText } from "../ui/locale";
import { t } from "../words";

/** When it is due, in words; a day to come is never told as past. */
export function dueWords(
  { due_at, late, tries_made }: Pick<AssignmentOut, "due_at" | "late" | "tries_made">,
  now = new Date(),
): string {
  if (!due_at) return "";
  const past = new Date(due_at) < now;
  const day = dayWords(due_at);
  if (tries_made.length > 0 && late) return t(past ? "class.due.pastLate" : "class.due.toComeLate", { day });
  return t(past ? "class.due.past" : "class.due.toCome", { day });
}

/** What a tutor said with a piece given back; a remark is never called no word. */
export function toldBackWords({ word, remarks }: Pick<Piece, "word" | "remarks">): string {
  if (word) return word;
  return t(remarks.length > 0 ? "class.reviewScreen.givenBackRemarks" : "class.reviewScreen.givenBackSilently");
}

/** The least whole weeks after which everything that has a day is still to come. */
export function weeksToCome(list: readonly Pick<AssignmentOut, "due_at">[], now = new Date()): number {
  const days = list.flatMap((one) => (one.due_at ? [new Date(one.due_at).getTime()] : []));
  const week = 7 * 24 * 3600 * 1000;
  return days.length === 0 ? 0 : Math.max(0, Math.ceil((now.getTime() - Math.min(...days)) / week));
}

export function dayWords(at: string): string {
  return dayText(at, "weekday");
}

/** A class code in two groups of four, as it is read out. */
export function spaced(code: string): string {
  return `${code.slice(0, 4)} ${code.slice(4)}`;
}
