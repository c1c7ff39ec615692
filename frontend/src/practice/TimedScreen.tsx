import { t } from "../words";
import "./practice.css";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { Link, useParams } from "react-router";
import { call } from "../api/client";
import { timedQuery } from "../api/queries";
import type { Timed } from "../api/types";
import { Fault } from "../ui/Fault";
import { useKeys } from "../ui/keys";
import { useAwake } from "../ui/useAwake";
import { type Clock, clockText, elapsed, STOPPED, turned } from "./clock";
import { CLOCK_KEYS } from "./keys";

const seconds = () => performance.now() / 1000;

/** A timed drawing: the clock while it lasts, its notes when it is over. */
export function TimedScreen() {
  const { id = "" } = useParams();
  const query = useQuery({
    queryKey: ["timed-one", id],
    queryFn: () => call("get", "/api/timed/{timed_id}", { path: { timed_id: id } }),
    gcTime: 0,
    staleTime: Number.POSITIVE_INFINITY,
  });
  const queries = useQueryClient();
  const take = (timed: Timed) => {
    queries.setQueryData(["timed-one", id], timed);
    void queries.invalidateQueries(timedQuery);
  };
  if (query.error) return <p className="p-8">{query.error.message}</p>;
  if (!query.data) return <p className="p-8">{t("practice.timedScreen.opening")}</p>;
  return query.data.finished_at ? (
    <AfterDrawing timed={query.data} onTimed={take} />
  ) : (
    <RunningClock timed={query.data} onTimed={take} />
  );
}

/** How often the clock is kept while it runs, so that a closed lid loses little. */
const KEEP_S = 10;

function RunningClock({ timed, onTimed }: { timed: Timed; onTimed: (timed: Timed) => void }) {
  useAwake();
  const [clock, setClock] = useState<Clock>(STOPPED);
  const [ended, setEnded] = useState<number[]>(timed.ended_s);
  const [now, setNow] = useState(seconds);
  const [fault, setFault] = useState<Error | null>(null);
  const kept = useRef(timed.drawn_s);
  const start = useRef<HTMLButtonElement>(null);
  // space and Enter start and stop the clock without a look at the screen
  useEffect(() => start.current?.focus(), []);
  useEffect(() => {
    const tick = setInterval(() => setNow(seconds()), 200);
    return () => clearInterval(tick);
  }, []);
  const { drawn, paused } = elapsed(clock, now);
  const drawing = timed.drawn_s + drawn;
  const phase = timed.phases[Math.min(ended.length, timed.phases.length - 1)];
  const last = ended.length >= timed.phases.length - 1;
  const keep = async (ended_s: number[], finished: boolean) => {
    try {
      const answer = await call("put", "/api/timed/{timed_id}", {
        path: { timed_id: timed.id },
        body: { ended_s, drawn_s: drawing, paused_s: timed.paused_s + paused, finished },
      });
      setFault(null);
      if (finished) onTimed(answer);
    } catch (error) {
      setFault(error as Error);
    }
  };
  const running = clock.running;
  useEffect(() => {
    if (running && drawing - kept.current >= KEEP_S) {
      kept.current = drawing;
      void keep(ended, false);
    }
  });
  const pause = () => setClock(turned(clock, seconds(), !clock.running));
  const next = () => {
    if (clock.since === null || last) return;
    const more = [...ended, drawing];
    setEnded(more);
    void keep(more, false);
  };
  const finish = () => {
    if (clock.since !== null) void keep([...ended, drawing], true);
  };
  useKeys(CLOCK_KEYS, { pause, next, finish });
  if (!phase) return null;
  const left = phase.ends_s - drawing;
  const state = clock.since === null ? "ready" : running ? "drawing" : "looking";
  return (
    <div className={`clock whole-screen ${left < 0 ? "clock-late" : ""}`} data-phase={phase.phase}>
      <p className="clock-title">{timed.title}</p>
      <h1 className="clock-phase" aria-live="polite">
        {phase.title} <span>{Math.round(phase.share * 100)} %</span>
      </h1>
      <p className="clock-time" role="timer" aria-label={t("practice.timedScreen.timeLeftFor", { title: phase.title })}>
        {left >= 0 ? clockText(left) : `+${clockText(-left)}`}
      </p>
      <p className="clock-words">
        {left < 0 ? t(last ? "practice.timedScreen.lastTimeOver" : "practice.timedScreen.timeOver") : phase.words}
      </p>
      <PhaseStrip timed={timed} ended={ended} drawing={drawing} />
      <div className="clock-tools">
        <button ref={start} type="button" className="btn btn-primary btn-lg" onClick={pause}>
          {state === "ready" && drawing === 0
            ? t("practice.timedScreen.startP")
            : state === "drawing"
              ? t("practice.timedScreen.stopToLook")
              : t("practice.timedScreen.goOnP")}
        </button>
        {!last && (
          <button type="button" className="btn btn-lg" disabled={state === "ready"} onClick={next}>
            {t("practice.timedScreen.phaseDoneN")}
          </button>
        )}
        <button type="button" className="btn btn-lg" disabled={state === "ready"} onClick={finish}>
          {t("practice.timedScreen.finishF")}
        </button>
      </div>
      <p className="clock-state" role="status">
        {state === "looking" && t("practice.timedScreen.looking", { clock: clockText(paused) })}
        {fault && t("practice.timedScreen.notKept", { message: fault.message })}
      </p>
    </div>
  );
}

/** The phases by their share of the time, and where the clock stands in them. */
function PhaseStrip({ timed, ended, drawing }: { timed: Timed; ended: number[]; drawing: number }) {
  const whole = timed.phases.at(-1)?.ends_s ?? 1;
  return (
    <svg
      viewBox="0 0 1000 44"
      className="clock-strip"
      role="img"
      aria-label={`${clockText(drawing)} of ${clockText(whole)}`}
    >
      {timed.phases.map((phase, n) => {
        const from = ((timed.phases[n - 1]?.ends_s ?? 0) / whole) * 1000;
        const to = (phase.ends_s / whole) * 1000;
        return (
          <g key={phase.phase}>
            <rect
              x={from + 1}
              y={10}
              width={to - from - 2}
              height={24}
              className={n === ended.length ? "strip-now" : "strip-phase"}
            />
            <text x={(from + to) / 2} y={27} textAnchor="middle" className="strip-name">
              {phase.title}
            </text>
          </g>
        );
      })}
      {ended.map((at) => (
        <line key={at} x1={(at / whole) * 1000} x2={(at / whole) * 1000} y1={4} y2={40} className="strip-ended" />
      ))}
      <path d={`M${Math.min(1000, (drawing / whole) * 1000)} 44l-7 -12h14z`} className="strip-hand" />
    </svg>
  );
}

/** When it is over: how the phases went, one thing that holds, and one or two for next time. */
function AfterDrawing({ timed, onTimed }: { timed: Timed; onTimed: (timed: Timed) => void }) {
  const [holds, setHolds] = useState(timed.holds);
  const [first, setFirst] = useState(timed.next_time[0] ?? "");
  const [second, setSecond] = useState(timed.next_time[1] ?? "");
  const save = useMutation({
    mutationFn: () =>
      call("put", "/api/timed/{timed_id}/notes", {
        path: { timed_id: timed.id },
        body: { holds, next_time: [first, second].filter((note) => note.trim()) },
      }),
    onSuccess: onTimed,
  });
  return (
    <div className="h-full overflow-y-auto">
      <form
        className="mx-auto flex max-w-3xl flex-col gap-3 px-6 py-6"
        onSubmit={(event) => {
          event.preventDefault();
          save.mutate();
        }}
      >
        <h1 className="text-xl font-bold">{timed.title}</h1>
        <ul className="list-disc pl-5">
          {timed.kept.map((phase) => (
            <li key={phase.phase}>{phase.words}</li>
          ))}
          {timed.paused_s >= 1 && <li>{t("practice.timedScreen.lookedFor", { clock: clockText(timed.paused_s) })}</li>}
        </ul>
        <NoteLine label={t("practice.timedScreen.holds")} most={1000} value={holds} onValue={setHolds} />
        <NoteLine label={t("practice.timedScreen.forNextTime")} most={300} value={first} onValue={setFirst} />
        <NoteLine label={t("practice.timedScreen.holdsToo")} most={300} value={second} onValue={setSecond} />
        <Fault words={save.error?.message} />
        <div className="flex flex-wrap items-center gap-2">
          <button type="submit" className="btn btn-primary" disabled={save.isPending}>
            {t("practice.timedScreen.keepTheNotes")}
          </button>
          <Link className="btn" to={timed.sheet_id ? `/sheets/${timed.sheet_id}/paper` : "/paper/new"}>
            {t("practice.timedScreen.bringIn")}
          </Link>
          <Link className="btn" to="/practice/timed">
            {t("practice.timedScreen.anotherDrawing")}
          </Link>
          <span role="status">{save.isSuccess && t("practice.timedScreen.notesKept")}</span>
        </div>
      </form>
    </div>
  );
}

interface NoteLineProps {
  label: string;
  most: number;
  value: string;
  onValue: (value: string) => void;
}

function NoteLine({ label, most, value, onValue }: NoteLineProps) {
  return (
    <label className="flex flex-col gap-1">
      {label}
      <input className="input w-full" maxLength={most} value={value} onChange={(e) => onValue(e.target.value)} />
    </label>
  );
}
