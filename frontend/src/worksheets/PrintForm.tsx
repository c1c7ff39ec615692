import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useId, useRef, useState } from "react";
import { call, worksheetsUrl } from "../api/client";
import { classQuery, meQuery, sheetsQuery, worksheetsQuery } from "../api/queries";
import type { MyClass, SetOfWorksheets, WantedSet } from "../api/types";
import { Fault } from "../ui/Fault";
import { NumberInput } from "../ui/NumberInput";
import { t } from "../words";
import { anySeed, type Choice, GRADES, pagesWords } from "./words";

/** The set is made copy by copy, and can be stopped. */
function useMaking(chosen: WantedSet["exercises"], choice: Choice, ofPicture: boolean, names: string[]) {
  const queries = useQueryClient();
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
        title: t("worksheets.printForm.worksheets"),
        class_line: choice.classLine,
        names,
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
  const start = () => {
    setDone(null);
    make.mutate();
  };
  const stop = () => {
    stopped.current = true;
  };
  return { make, done, start, stop };
}

interface Line {
  choice: Choice;
  onChoice: (changed: Partial<Choice>) => void;
}

interface PrintFormProps {
  chosen: WantedSet["exercises"];
  /** Whether one of them asks about a picture. */
  ofPicture: boolean;
  choice: Choice;
  papers: string[];
  most: number;
  onChoice: (changed: Partial<Choice>) => void;
}

/** How the chosen exercises are printed. */
export function PrintForm({ chosen, ofPicture, choice, papers, most, onChoice }: PrintFormProps) {
  const id = useId();
  const { data: me } = useQuery(meQuery);
  const led = me?.classes.filter((one) => one.role === "tutor") ?? [];
  const { data: taught } = useQuery({ ...classQuery(choice.classId ?? ""), enabled: choice.classId !== null });
  const names =
    taught?.members.filter((one) => one.role === "student" && one.removed_at === null).map((one) => one.name) ?? [];
  const { make, done, start, stop } = useMaking(chosen, choice, ofPicture, choice.classId === null ? [] : names);
  const send = (event: FormEvent) => {
    event.preventDefault();
    start();
  };
  const copies = choice.classId === null ? choice.copies : names.length;
  return (
    <form noValidate onSubmit={send} aria-labelledby={`${id}-head`} className="print-form">
      <h2 id={`${id}-head`} className="part-head">
        {t("worksheets.printForm.print")}
      </h2>
      <GradeLine choice={choice} onChoice={onChoice} />
      <PaperLine choice={choice} onChoice={onChoice} papers={papers} />
      {led.length > 0 && <ForLine choice={choice} onChoice={onChoice} led={led} />}
      {choice.classId === null && (
        <NumberInput
          label={t("worksheets.printForm.copies")}
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
        <span>{t("worksheets.printForm.classLine")}</span>
        <input
          className="input input-sm"
          value={choice.classLine}
          maxLength={200}
          onChange={(event) => onChoice({ classLine: event.target.value })}
        />
      </label>
      {ofPicture && <PictureLine choice={choice} onChoice={onChoice} />}
      <div className="flex flex-wrap gap-2">
        <button type="button" className="btn btn-sm" onClick={() => onChoice({ seed: anySeed() })}>
          {t("worksheets.printForm.others")}
        </button>
        <button
          type="submit"
          className="btn btn-primary btn-sm"
          disabled={chosen.length === 0 || copies === 0 || make.isPending}
        >
          {t("worksheets.printForm.makeTheSet")}
        </button>
      </div>
      <p className="text-sm leading-snug">
        {chosen.length === 0 ? t("worksheets.printForm.noneChosen") : pagesWords(chosen.length, copies)}
      </p>
      <MadeSoFar done={done} making={make.isPending} onStop={stop} />
      <Fault words={make.error?.message} />
      <p className="text-sm leading-snug">{t("worksheets.printForm.printHint")}</p>
    </form>
  );
}

function GradeLine({ choice, onChoice }: Line) {
  return (
    <label className="print-line">
      <span>{t("worksheets.printForm.howHard")}</span>
      <select
        className="select select-sm"
        value={choice.grade}
        onChange={(event) => onChoice({ grade: event.target.value as WantedSet["grade"] })}
      >
        {GRADES.map((grade) => (
          <option key={grade} value={grade}>
            {t(`worksheets.grade.${grade}`)}
          </option>
        ))}
      </select>
    </label>
  );
}

function PaperLine({ choice, onChoice, papers }: Line & { papers: string[] }) {
  return (
    <label className="print-line">
      <span>{t("worksheets.printForm.paper")}</span>
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
  );
}

/** For anybody, or a sheet with the name of each of a class. */
function ForLine({ choice, onChoice, led }: Line & { led: MyClass[] }) {
  return (
    <label className="print-line">
      <span>{t("worksheets.printForm.for")}</span>
      <select
        className="select select-sm"
        value={choice.classId ?? ""}
        onChange={(event) => {
          const one = led.find((each) => each.id === event.target.value);
          onChoice({ classId: one?.id ?? null, classLine: one?.name ?? choice.classLine });
        }}
      >
        <option value="">{t("worksheets.printForm.anybodyWithoutNames")}</option>
        {led.map((one) => (
          <option key={one.id} value={one.id}>
            {t("worksheets.printForm.eachOf", { name: one.name })}
          </option>
        ))}
      </select>
    </label>
  );
}

function PictureLine({ choice, onChoice }: Line) {
  const sheets = useQuery(sheetsQuery);
  return (
    <label className="print-line">
      <span>{t("worksheets.printForm.picture")}</span>
      <select
        className="select select-sm"
        value={choice.sheetId ?? ""}
        onChange={(event) => onChoice({ sheetId: event.target.value || null })}
      >
        <option value="">{t("worksheets.printForm.boxes")}</option>
        {sheets.data?.sheets
          .filter((sheet) => sheet.picture && !sheet.drawing)
          .map((sheet) => (
            <option key={sheet.id} value={sheet.id}>
              {t("worksheets.printForm.photoOf", { title: sheet.title })}
            </option>
          ))}
      </select>
    </label>
  );
}

/** How far the set is, and then where it is. */
function MadeSoFar({ done, making, onStop }: { done: SetOfWorksheets | null; making: boolean; onStop: () => void }) {
  return (
    <div role="status">
      {making && done && (
        <p className="flex items-center gap-2">
          <progress
            className="progress grow"
            value={done.made}
            max={done.copies}
            aria-label={t("worksheets.printForm.copiesMade")}
          />
          <span className="tabular-nums">{t("worksheets.printForm.of", { made: done.made, copies: done.copies })}</span>
          <button type="button" className="btn btn-xs" onClick={onStop}>
            {t("worksheets.printForm.stop")}
          </button>
        </p>
      )}
      {!making && done && (
        <p className="flex flex-wrap items-center gap-x-3 gap-y-1">
          <b>{t("worksheets.printForm.made")}</b>
          <a className="link" href={worksheetsUrl(done.id, "sheets")}>
            {t("worksheets.printForm.sheetsPdf")}
          </a>
          <a className="link" href={worksheetsUrl(done.id, "answers")}>
            {t("worksheets.printForm.answersPdf")}
          </a>
        </p>
      )}
    </div>
  );
}
