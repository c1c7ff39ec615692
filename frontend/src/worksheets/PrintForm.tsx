import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useId, useRef, useState } from "react";
import { call, worksheetsUrl } from "../api/client";
import { classQuery, meQuery, sheetsQuery, worksheetsQuery } from "../api/queries";
import type { SetOfWorksheets, WantedSet } from "../api/types";
import { NumberInput } from "../ui/NumberInput";
import { anySeed, type Choice, GRADES, pagesWords, words } from "./words";

const say = words.printForm;

/** How the chosen exercises are printed; the set is made copy by copy, and can be stopped. */
export function PrintForm({
  chosen,
  ofPicture,
  choice,
  papers,
  most,
  onChoice,
}: {
  chosen: WantedSet["exercises"];
  /** Whether one of them asks about a picture. */
  ofPicture: boolean;
  choice: Choice;
  papers: string[];
  most: number;
  onChoice: (changed: Partial<Choice>) => void;
}) {
  const id = useId();
  const queries = useQueryClient();
  const { data: me } = useQuery(meQuery);
  const led = me?.classes.filter((one) => one.role === "tutor") ?? [];
  const { data: taught } = useQuery({ ...classQuery(choice.classId ?? ""), enabled: choice.classId !== null });
  const sheets = useQuery({ ...sheetsQuery, enabled: ofPicture });
  const names =
    taught?.members.filter((one) => one.role === "student" && one.removed_at === null).map((one) => one.name) ?? [];
  const [done, setDone] = useState<SetOfWorksheets | null>(null);
  const stopped = useRef(false);
  const make = useMutation({
    mutationFn: async () => {
      stopped.current = false;
      const body: WantedSet = {
        exercises: chosen,
        grade: choice.grade,
        paper: choice.paper,
        copies: choice.copies,
        title: "Worksheets",
        class_line: choice.classLine,
        names: choice.classId === null ? [] : names,
        seed: choice.seed,
        sheet_id: ofPicture ? choice.sheetId : null,
      };
      let set = await call("post", "/api/worksheets", { body });
      setDone(set);
      while (set.made < set.copies && !stopped.current) {
        set = await call("post", "/api/worksheets/{set_id}/copies", { path: { set_id: set.id } });
        setDone(set);
      }
      if (stopped.current) {
        await call("delete", "/api/worksheets/{set_id}", { path: { set_id: set.id } });
        setDone(null);
      }
    },
    onSettled: () => queries.invalidateQueries(worksheetsQuery),
  });
  const send = (event: FormEvent) => {
    event.preventDefault();
    setDone(null);
    make.mutate();
  };
  const copies = choice.classId === null ? choice.copies : names.length;
  return (
    <form noValidate onSubmit={send} aria-labelledby={`${id}-head`} className="print-form">
      <h2 id={`${id}-head`} className="part-head">
        {say.print}
      </h2>
      <label className="print-line">
        <span>{say.howHard}</span>
        <select
          className="select select-sm"
          value={choice.grade}
          onChange={(event) => onChoice({ grade: event.target.value as WantedSet["grade"] })}
        >
          {Object.entries(GRADES).map(([grade, words]) => (
            <option key={grade} value={grade}>
              {words}
            </option>
          ))}
        </select>
      </label>
      <label className="print-line">
        <span>{say.paper}</span>
        <select
          className="select select-sm"
          value={choice.paper}
          onChange={(event) => onChoice({ paper: event.target.value })}
        >
          {papers.map((paper) => (
            <option key={paper}>{paper}</option>
          ))}
        </select>
      </label>
      {led.length > 0 && (
        <label className="print-line">
          <span>{say.forWord}</span>
          <select
            className="select select-sm"
            value={choice.classId ?? ""}
            onChange={(event) => {
              const one = led.find((each) => each.id === event.target.value);
              onChoice({ classId: one?.id ?? null, classLine: one?.name ?? choice.classLine });
            }}
          >
            <option value="">{say.anybodyWithoutNames}</option>
            {led.map((one) => (
              <option key={one.id} value={one.id}>
                {say.eachOf(one.name)}
              </option>
            ))}
          </select>
        </label>
      )}
      {choice.classId === null && (
        <NumberInput
          label={say.copies}
          value={choice.copies}
          least={1}
          most={most}
          step={1}
          unit=""
          digits={0}
          onValue={(copies) => onChoice({ copies: Math.round(copies ?? 1) })}
        />
      )}
      <label className="print-line">
        <span>{say.classLine}</span>
        <input
          className="input input-sm"
          value={choice.classLine}
          maxLength={200}
          onChange={(event) => onChoice({ classLine: event.target.value })}
        />
      </label>
      {ofPicture && (
        <label className="print-line">
          <span>{say.picture}</span>
          <select
            className="select select-sm"
            value={choice.sheetId ?? ""}
            onChange={(event) => onChoice({ sheetId: event.target.value || null })}
          >
            <option value="">{say.boxesDrawnForIt}</option>
            {sheets.data?.sheets
              .filter((sheet) => sheet.picture && !sheet.drawing)
              .map((sheet) => (
                <option key={sheet.id} value={sheet.id}>
                  {say.photoOf(sheet.title)}
                </option>
              ))}
          </select>
        </label>
      )}
      <div className="flex flex-wrap gap-2">
        <button type="button" className="btn btn-sm" onClick={() => onChoice({ seed: anySeed() })}>
          {say.othersOfTheKind}
        </button>
        <button
          type="submit"
          className="btn btn-primary btn-sm"
          disabled={chosen.length === 0 || copies === 0 || make.isPending}
        >
          {say.makeTheSet}
        </button>
      </div>
      <p className="text-sm leading-snug">
        {chosen.length === 0 ? say.noExerciseIsChosenYet : pagesWords(chosen.length, copies)}
      </p>
      <div role="status">
        {make.isPending && done && (
          <p className="flex items-center gap-2">
            <progress className="progress grow" value={done.made} max={done.copies} aria-label={say.copiesMade} />
            <span className="tabular-nums">{say.ofWord(done.made, done.copies)}</span>
            <button
              type="button"
              className="btn btn-xs"
              onClick={() => {
                stopped.current = true;
              }}
            >
              {say.stop}
            </button>
          </p>
        )}
        {!make.isPending && done && (
          <p className="flex flex-wrap items-center gap-x-3 gap-y-1">
            <b>{say.theSetIsMade}</b>
            <a className="link" href={worksheetsUrl(done.id, "sheets")}>
              {say.sheetsPdf}
            </a>
            <a className="link" href={worksheetsUrl(done.id, "answers")}>
              {say.answersPdf}
            </a>
          </p>
        )}
      </div>
      {make.error && (
        <p role="alert" className="alert alert-error">
          {make.error.message}
        </p>
      )}
      <p className="text-sm leading-snug">{say.printAt100NotFit}</p>
    </form>
  );
}
