import { worksheetPreviewUrl } from "../api/client";
import type { ExerciseLine } from "../api/types";
import type { Choice } from "./words";

interface ExerciseSheetProps {
  line: ExerciseLine;
  choice: Choice;
  answer: boolean;
  /** Its place in the set, 0 where it is not chosen. */
  place: number;
  onChoose: () => void;
}

/** An exercise as a small sheet on the table; chosen, it shows its place in the set. */
export function ExerciseSheet({ line, choice, answer, place, onChoose }: ExerciseSheetProps) {
  const { grade, paper, seed } = choice;
  const sheet_id = line.of_picture ? choice.sheetId : null;
  return (
    <button type="button" className="exercise-sheet" aria-pressed={place > 0} onClick={onChoose}>
      <span className="exercise-paper">
        <img
          src={worksheetPreviewUrl({ kind: line.kind, grade, paper, seed, answer, sheet_id })}
          alt=""
          width={594}
          height={310}
          loading="lazy"
        />
        {place > 0 && <span className="exercise-place">{place}</span>}
      </span>
      <b>{line.title}</b>
      <span className="exercise-sentence">{line.sentences[grade]}</span>
    </button>
  );
}
