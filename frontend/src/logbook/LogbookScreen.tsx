import { dateText } from "../ui/locale";
import { t } from "../words";
import "./logbook.css";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { Link } from "react-router";
import { logbookUrl } from "../api/client";
import { sendLogbook } from "../api/files";
import { logbookQuery } from "../api/queries";
import type { Logbook, LoggedSkill, Skill } from "../api/types";
import { Fault } from "../ui/Fault";
import { FileField } from "../ui/FileField";
import { amount } from "../ui/figures";
import { useBeginSet } from "../ui/useBeginSet";
import { ReadingTable } from "./ReadingTable";
import { SkillChart } from "./SkillChart";
import { SkillNeedle } from "./SkillNeedle";

/** How every skill stands, and where its readings come from. */
export function LogbookScreen() {
  const queries = useQueryClient();
  const { data, error } = useQuery(logbookQuery);
  const [chosen, setChosen] = useState<Skill | null>(null);
  const bring = useMutation({
    mutationFn: sendLogbook,
    onSuccess: () => queries.invalidateQueries({ queryKey: ["logbook"] }),
  });
  const row = data?.skills.find((one) => one.skill === (chosen ?? data.weakest)) ?? data?.skills[0];
  return (
    <div className="logbook whole-screen">
      <div className="logbook-head">
        <h1 className="text-xl font-bold">{t("logbook.logbookScreen.logbook")}</h1>
        {data && <p className="text-sm">{t("logbook.logbookScreen.readings", { readings: data.readings })}</p>}
        <span className="grow" />
        <LogbookFiles onBring={(file) => bring.mutate(file)} />
      </div>
      <Fault words={(error ?? bring.error)?.message} className="mx-4" />
      {bring.data && (
        <p role="status" className="mx-4">
          {bring.data.added} {t("logbook.logbookScreen.readingsAdded")}
          {bring.data.there > 0 && t("logbook.logbookScreen.wereThereAlready", { there: bring.data.there })}.
        </p>
      )}
      {data && data.skills.length === 0 && <Empty />}
      {data && row && (
        <div className="logbook-body">
          <Rows data={data} row={row} onChoose={setChosen} />
          <Detail key={row.skill} row={row} notes={data.notes} />
        </div>
      )}
    </div>
  );
}

function Empty() {
  return (
    <p className="mx-4 max-w-2xl">
      {t("logbook.logbookScreen.empty")}{" "}
      <Link className="link" to="/practice">
        {t("logbook.logbookScreen.practice")}
      </Link>{" "}
      {t("logbook.logbookScreen.emptyKept")}
    </p>
  );
}

function Rows({ data, row, onChoose }: { data: Logbook; row: LoggedSkill; onChoose: (skill: Skill) => void }) {
  const groups = [...new Set(data.skills.map((one) => one.group_title))];
  return (
    <nav className="skill-rows" aria-label={t("logbook.logbookScreen.skills")}>
      {groups.map((group) => (
        <section key={group} aria-label={group}>
          <h2>{group}</h2>
          <ul>
            {data.skills
              .filter((one) => one.group_title === group)
              .map((one) => (
                <li key={one.skill}>
                  <button
                    type="button"
                    className="skill-row"
                    aria-pressed={one.skill === row.skill}
                    onClick={() => onChoose(one.skill)}
                  >
                    <SkillNeedle row={one} />
                    <span className="skill-words">
                      <b>{one.title}</b>
                      <Figures row={one} />
                    </span>
                    <Strip row={one} />
                  </button>
                </li>
              ))}
          </ul>
        </section>
      ))}
    </nav>
  );
}

function Figures({ row }: { row: LoggedSkill }) {
  const { whole, unit, trend } = row;
  if (!whole.bias || !whole.spread) return <span>{t("logbook.logbookScreen.tooFew", { n: whole.n })}</span>;
  const trending = trend?.sure
    ? trend.better
      ? t("logbook.logbookScreen.gettingBetter")
      : t("logbook.logbookScreen.gettingWorse")
    : "";
  return (
    <span>
      {t("logbook.logbookScreen.biasSpreadN", {
        bias: amount(whole.bias.value, unit, true),
        spread: amount(whole.spread.value, unit),
        n: whole.n,
        trending,
      })}
    </span>
  );
}

const MOST = 3;

/** The bias with its interval on a strip of three tolerances to either side. */
function Strip({ row }: { row: LoggedSkill }) {
  const at = (value: number) => 60 + (Math.max(-MOST, Math.min(MOST, value / row.tolerance)) / MOST) * 54;
  const { bias } = row.whole;
  return (
    <svg viewBox="0 0 120 16" className="bias-strip" aria-hidden="true">
      <rect
        x={at(-row.tolerance)}
        width={at(row.tolerance) - at(-row.tolerance)}
        y={3}
        height={10}
        className="strip-band"
      />
      <line x1={4} x2={116} y1={8} y2={8} className="strip-axis" />
      <line x1={60} x2={60} y1={2} y2={14} className="strip-axis" />
      {bias && (
        <>
          <line x1={at(bias.low)} x2={at(bias.high)} y1={8} y2={8} className="strip-interval" />
          <circle cx={at(bias.value)} cy={8} r={4} className="strip-mean" />
        </>
      )}
    </svg>
  );
}

function Detail({ row, notes }: { row: LoggedSkill; notes: Logbook["notes"] }) {
  const practise = useBeginSet();
  const { unit } = row;
  return (
    <section className="skill-detail" aria-labelledby="skill-title">
      <div className="flex flex-wrap items-center gap-3">
        <h2 id="skill-title" className="text-lg font-bold">
          {row.title}
        </h2>
        <button type="button" className="btn btn-sm btn-primary" onClick={() => practise.mutate({ skill: row.skill })}>
          {t("logbook.logbookScreen.practiseTen")}
        </button>
      </div>
      <p className="text-lg leading-snug" data-testid="skill-words">
        {row.words || t("logbook.logbookScreen.tooFewOfFive", { n: row.whole.n })} {row.trend_words}
      </p>
      {row.recent.bias && row.recent.spread && (
        <p className="text-sm">
          {t("logbook.logbookScreen.fourWeeks", {
            bias: amount(row.recent.bias.value, unit, true),
            low: amount(row.recent.bias.low, unit, true),
            high: amount(row.recent.bias.high, unit, true),
            spread: amount(row.recent.spread.value, unit),
            n: row.recent.n,
          })}
        </p>
      )}
      <SkillChart row={row} />
      <h3 className="font-semibold">{t("logbook.logbookScreen.readingsTitle")}</h3>
      <div className="overflow-x-auto">
        <ReadingTable row={row} />
      </div>
      {notes.length > 0 && <NextTimes notes={notes} />}
    </section>
  );
}

function LogbookFiles({ onBring }: { onBring: (file: File) => void }) {
  const file = useRef<HTMLInputElement>(null);
  return (
    <>
      <a className="btn btn-sm" href={logbookUrl("csv")} download>
        {t("logbook.logbookScreen.readingsAsCsv")}
      </a>
      <a className="btn btn-sm" href={logbookUrl("pdf")} download>
        {t("logbook.logbookScreen.pageForTutor")}
      </a>
      <button type="button" className="btn btn-sm" onClick={() => file.current?.click()}>
        {t("logbook.logbookScreen.bringReadingsIn")}
      </button>
      <FileField field={file} label={t("logbook.logbookScreen.fileToBring")} accept=".csv,text/csv" onFile={onBring} />
    </>
  );
}

function NextTimes({ notes }: Pick<Logbook, "notes">) {
  return (
    <>
      <h3 className="font-semibold">{t("logbook.logbookScreen.forNextTime")}</h3>
      <ul className="flex flex-col gap-1">
        {notes.map((note) => (
          <li key={`${note.title}${note.at}`} className="logbook-note">
            <span className="text-sm">
              {note.sheet_id ? (
                <Link className="link" to={`/paper/${note.sheet_id}`}>
                  {note.title}
                </Link>
              ) : (
                note.title
              )}
              , {dateText(note.at)}
            </span>{" "}
            {note.notes.join(" ")}
          </li>
        ))}
      </ul>
    </>
  );
}
