import { dateText } from "../ui/locale";
import { t } from "../words";
import "./practice.css";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate, useSearchParams } from "react-router";
import { call } from "../api/client";
import { sheetsQuery, standsQuery, timedQuery } from "../api/queries";
import type { Timed, UsualPhase } from "../api/types";
import { notedWords } from "../sheet/NextTime";
import { Fault } from "../ui/Fault";
import { NumberInput } from "../ui/NumberInput";

/** Before a timed drawing: what is drawn, how long, and what to watch this time. */
export function TimedStart() {
  const go = useNavigate();
  const queries = useQueryClient();
  const timed = useQuery(timedQuery);
  const [asked] = useSearchParams();
  const [subject, setSubject] = useState(asked.has("sheet") ? `sheet:${asked.get("sheet")}` : "");
  const [title, setTitle] = useState("");
  const [minutes, setMinutes] = useState(Number(asked.get("minutes")) || 30);
  const [shares, setShares] = useState<number[] | null>(null);
  const usual = timed.data?.usual ?? [];
  const given = shares ?? usual.map((phase) => Math.round(phase.share * 100));
  const begin = useMutation({
    mutationFn: () => {
      const [kind, id] = subject.split(":");
      return call("post", "/api/timed", {
        body: {
          title: subject ? "" : title,
          minutes,
          ...(shares && { shares: shares.map((share) => share / 100) }),
          ...(kind === "sheet" && { sheet_id: id }),
          ...(kind === "stand" && { stand_id: id }),
        },
      });
    },
    onSuccess: async (made) => {
      await queries.invalidateQueries(timedQuery);
      await go(`/practice/timed/${made.id}`);
    },
  });
  const fault = timed.error ?? begin.error;
  return (
    <div className="h-full overflow-y-auto">
      <div className="mx-auto max-w-3xl px-6 py-6">
        <h1 className="mb-1 text-xl font-bold">{t("practice.timedStart.timedDrawing")}</h1>
        <p className="mb-4 leading-snug">{t("practice.timedStart.phasesAdvice")}</p>
        {timed.data?.watch && <Noted watch={timed.data.watch} />}
        <div className="flex flex-col gap-3">
          <SubjectChoice subject={subject} onSubject={setSubject} />
          {!subject && (
            <label className="flex flex-wrap items-center gap-2">
              {t("practice.timedStart.called")}
              <input
                className="input input-sm w-64"
                maxLength={200}
                value={title}
                onChange={(event) => setTitle(event.target.value)}
              />
            </label>
          )}
          <NumberInput
            label={t("practice.timedStart.minutes")}
            value={minutes}
            least={1}
            most={600}
            step={5}
            unit={t("practice.timedStart.min")}
            onValue={(value) => value !== null && setMinutes(value)}
          />
          <Phases usual={usual} given={given} onShares={setShares} />
          <Fault words={fault?.message} />
          <div>
            <button type="button" className="btn btn-primary" disabled={begin.isPending} onClick={() => begin.mutate()}>
              {t("practice.timedStart.toTheClock")}
            </button>
          </div>
        </div>
        {timed.data && timed.data.timed.length > 0 && <LastDrawings timed={timed.data.timed} />}
      </div>
    </div>
  );
}

/** What was noted after the last one. */
function Noted({ watch }: { watch: Timed }) {
  return (
    <aside className="drill-weakest" aria-label={t("practice.timedStart.noted")}>
      {notedWords(watch.title, watch.finished_at)}
      <ul className="list-disc pl-5">
        {watch.next_time.map((note) => (
          <li key={note}>{note}</li>
        ))}
      </ul>
    </aside>
  );
}

/** From life, or one of the sheets or set-ups. */
function SubjectChoice({ subject, onSubject }: { subject: string; onSubject: (subject: string) => void }) {
  const sheets = useQuery(sheetsQuery);
  const stands = useQuery(standsQuery);
  return (
    <label className="flex flex-wrap items-center gap-2">
      {t("practice.timedStart.whatIsDrawn")}
      <select className="select select-sm w-auto" value={subject} onChange={(event) => onSubject(event.target.value)}>
        <option value="">{t("practice.timedStart.fromLife")}</option>
        <optgroup label={t("practice.timedStart.sheets")}>
          {sheets.data?.sheets.map((sheet) => (
            <option key={sheet.id} value={`sheet:${sheet.id}`}>
              {sheet.title}
            </option>
          ))}
        </optgroup>
        <optgroup label={t("practice.timedStart.stand")}>
          {stands.data?.stands.map((stand) => (
            <option key={stand.id} value={`stand:${stand.id}`}>
              {stand.title}
            </option>
          ))}
        </optgroup>
      </select>
    </label>
  );
}

interface PhasesProps {
  usual: UsualPhase[];
  given: number[];
  onShares: (shares: number[]) => void;
}

/** How the time is shared out, in per cent. */
function Phases({ usual, given, onShares }: PhasesProps) {
  return (
    <fieldset>
      <legend className="mb-1 font-semibold">{t("practice.timedStart.phases")}</legend>
      {usual.map((phase, n) => (
        <div key={phase.phase} className="timed-phase">
          <NumberInput
            label={phase.title}
            value={given[n] ?? 0}
            least={0}
            most={100}
            step={5}
            unit="%"
            digits={0}
            onValue={(value) => value !== null && onShares(given.map((old, k) => (k === n ? value : old)))}
          />
          <span className="text-sm">{phase.words}</span>
        </div>
      ))}
    </fieldset>
  );
}

function LastDrawings({ timed }: { timed: Timed[] }) {
  return (
    <section className="mt-6" aria-labelledby="timed-last">
      <h2 id="timed-last" className="font-semibold">
        {t("practice.timedStart.lastDrawings")}
      </h2>
      <ul className="drill-list">
        {timed.map((one) => (
          <li key={one.id}>
            <Link to={`/practice/timed/${one.id}`}>{one.title}</Link>
            <span>
              {dateText(one.made_at)}, {one.minutes} {t("practice.timedStart.min")}
              {one.finished_at ? "" : t("practice.timedStart.notFinished")}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
