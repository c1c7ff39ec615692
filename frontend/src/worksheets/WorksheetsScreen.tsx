import { t } from "../words";
import "./worksheets.css";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { exercisesQuery } from "../api/queries";
import type { ExerciseLine } from "../api/types";
import { Fault } from "../ui/Fault";
import { Tick } from "../ui/Tick";
import { BringBack } from "./BringBack";
import { ExerciseSheet } from "./ExerciseSheet";
import { PrintedSets } from "./PrintedSets";
import { PrintForm } from "./PrintForm";
import { anySeed, type Choice, FIRST } from "./words";

/** The tutor's paper: exercises chosen from small sheets, printed with their answers, and brought back as photos. */
export function WorksheetsScreen() {
  const exercises = useQuery(exercisesQuery);
  const [chosen, setChosen] = useState<ExerciseLine["kind"][]>([]);
  const [choice, setChoice] = useState<Choice>(() => ({ ...FIRST, seed: anySeed() }));
  const [answers, setAnswers] = useState(false);
  const put = (changed: Partial<Choice>) => setChoice((old) => ({ ...old, ...changed }));
  const choose = (kind: ExerciseLine["kind"]) =>
    setChosen((old) => (old.includes(kind) ? old.filter((one) => one !== kind) : [...old, kind]));
  const lines = exercises.data?.exercises ?? [];
  return (
    <div className="h-full overflow-y-auto">
      <div className="worksheets">
        <div className="min-w-0">
          <div className="mb-3 flex flex-wrap items-baseline gap-x-4 gap-y-1">
            <h1 className="text-xl font-bold">{t("worksheets.worksheetsScreen.worksheets")}</h1>
            <p className="grow leading-snug">{t("worksheets.worksheetsScreen.how")}</p>
            <Tick className="flex items-center gap-2 text-sm" checked={answers} onTick={setAnswers}>
              {t("worksheets.worksheetsScreen.showTheAnswers")}
            </Tick>
          </div>
          <Fault words={exercises.error?.message} className="mb-3" />
          <ExerciseList lines={lines} chosen={chosen} choice={choice} answers={answers} onChoose={choose} />
        </div>
        <div className="worksheets-side">
          <BringBack />
          <PrintForm
            chosen={chosen}
            ofPicture={lines.some((line) => line.of_picture && chosen.includes(line.kind))}
            choice={choice}
            papers={exercises.data?.papers ?? []}
            most={exercises.data?.most_copies ?? 1}
            onChoice={put}
          />
          <PrintedSets />
        </div>
      </div>
    </div>
  );
}

interface ExerciseListProps {
  lines: ExerciseLine[];
  chosen: ExerciseLine["kind"][];
  choice: Choice;
  answers: boolean;
  onChoose: (kind: ExerciseLine["kind"]) => void;
}

function ExerciseList({ lines, chosen, choice, answers, onChoose }: ExerciseListProps) {
  return (
    <ul className="exercise-table" aria-label={t("worksheets.worksheetsScreen.exercises")}>
      {lines.map((line) => (
        <li key={line.kind}>
          <ExerciseSheet
            line={line}
            choice={choice}
            answer={answers}
            place={chosen.indexOf(line.kind) + 1}
            onChoose={() => onChoose(line.kind)}
          />
        </li>
      ))}
    </ul>
  );
}
