import { t } from "../words";
import "./practice.css";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { ArrowLeftRight, Volume2, VolumeX } from "lucide-react";
import { useEffect, useRef } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { call } from "../api/client";
import type { QuestionAsked } from "../api/types";
import { AnswerResult } from "../drill/AnswerResult";
import { firstHand, isReady } from "../drill/hand";
import { Instrument } from "../drill/Instrument";
import { QuestionPicture } from "../drill/QuestionPicture";
import { IconButton } from "../ui/IconButton";
import { useKeys } from "../ui/keys";
import { ScreenTools } from "../ui/ScreenTools";
import { useStoredSwitch } from "../ui/settings";
import { tone } from "../ui/tone";
import { AfterSet } from "./AfterSet";
import { PRACTICE_KEYS } from "./keys";
import { type OpenSet, useSet } from "./useSet";

/** One set, a question at a time. */
export function SetScreen() {
  const { id = "" } = useParams();
  return <OpenedSet key={id} id={id} />;
}

function OpenedSet({ id }: { id: string }) {
  const open = useSet(id);
  const [mirrored, setMirrored] = useStoredSwitch("practice-mirrored", false);
  const [sound, setSound] = useStoredSwitch("practice-sound", false);
  const queries = useQueryClient();
  const go = useNavigate();
  const { question, hand, setHand, on } = open;
  const answered = question?.answered ?? null;
  const sounded = useRef<string | null>(null);
  useEffect(() => {
    if (!answered || !question || sounded.current === question.id) return;
    sounded.current = question.id;
    void queries.invalidateQueries({ queryKey: ["logbook"] });
    if (sound) tone(answered.right);
  }, [answered, question, sound, queries]);
  const choose = (n: number) => {
    if (question && !answered && n < question.choices.length) on({ ...hand, value: n });
  };
  useKeys(PRACTICE_KEYS, {
    on: (event) => {
      // a focused button or link has its own use for Enter
      if (event.target instanceof Element && event.target.closest("a, button:not([data-commit])")) return false;
      on();
    },
    a: () => choose(0),
    b: () => choose(1),
    c: () => choose(2),
    d: () => choose(3),
    mirror: () => setMirrored(!mirrored),
    sound: () => setSound(!sound),
    leave: () => void go("/practice"),
  });
  if (open.over) return <AfterSet id={id} />;
  return (
    <div className={`drill-grid whole-screen ${mirrored ? "drill-mirrored" : ""}`}>
      <ScreenTools>
        {question && (
          <p className="text-sm whitespace-nowrap tabular-nums">
            {t("practice.setScreen.questionOf", { number: question.number, count: question.length })}
          </p>
        )}
        <span className="grow" />
        <IconButton
          icon={ArrowLeftRight}
          label={t("practice.setScreen.otherHand")}
          title={t("practice.setScreen.otherHandM")}
          onClick={() => setMirrored(!mirrored)}
        />
        <IconButton
          icon={sound ? Volume2 : VolumeX}
          label={sound ? t("practice.setScreen.soundOff") : t("practice.setScreen.soundOn")}
          title={sound ? t("practice.setScreen.soundOffS") : t("practice.setScreen.soundOnS")}
          onClick={() => setSound(!sound)}
        />
      </ScreenTools>
      <div className="drill-stage">
        {question && <QuestionPicture key={question.id} question={question} hand={hand} onHand={setHand} />}
      </div>
      <section className="drill-panel" aria-label={t("practice.setScreen.question")}>
        {question && <Asked open={open} question={question} onChoose={choose} />}
        {open.fault && (
          <div role="alert" className="alert alert-error">
            <span>{open.fault.message}</span>
            {!question || answered ? (
              <button type="button" className="btn btn-sm" onClick={open.again}>
                {t("practice.setScreen.tryAgain")}
              </button>
            ) : null}
          </div>
        )}
        {!question && !open.fault && <p>{t("practice.setScreen.settingUp")}</p>}
      </section>
    </div>
  );
}

interface AskedProps {
  open: OpenSet;
  question: QuestionAsked;
  onChoose: (n: number) => void;
}

function Asked({ open, question, onChoose }: AskedProps) {
  const { hand, setHand, on, busy } = open;
  const answered = !!question.answered;
  const onwards = useRef<HTMLButtonElement>(null);
  useEffect(() => {
    if (answered) onwards.current?.focus({ preventScroll: true });
  }, [answered]);
  return (
    <>
      <h1 className="drill-title">{question.title ?? question.heading}</h1>
      <p className="leading-snug" aria-live="polite">
        {question.prompt}
      </p>
      {question.sheet_id && <p className="text-sm">{t("practice.setScreen.ownSheet")}</p>}
      {answered ? (
        <AnswerResult question={question} />
      ) : (
        <Instrument question={question} hand={hand} onHand={setHand} onChoose={onChoose} />
      )}
      {(answered || question.instrument !== "choice") && (
        <button
          ref={onwards}
          type="button"
          data-commit
          className="btn btn-primary"
          disabled={busy || (!answered && !isReady(question, hand))}
          onClick={() => on()}
        >
          {answered
            ? question.number < question.length
              ? t("practice.setScreen.nextEnter")
              : t("practice.setScreen.doneEnter")
            : t("practice.setScreen.commitEnter")}
        </button>
      )}
    </>
  );
}

/** A question opened again, from the logbook or after a set. */
export function QuestionScreen() {
  const { id = "" } = useParams();
  const { data: question, error } = useQuery({
    queryKey: ["question", id],
    queryFn: () => call("get", "/api/practice/questions/{question_id}", { path: { question_id: id } }),
  });
  if (error) return <p className="p-8">{error.message}</p>;
  if (!question) return <p className="p-8">{t("practice.setScreen.opening")}</p>;
  return (
    <div className="drill-grid whole-screen">
      <div className="drill-stage">
        <QuestionPicture question={question} hand={firstHand(question)} onHand={() => undefined} />
      </div>
      <section className="drill-panel" aria-label={t("practice.setScreen.question")}>
        <h1 className="drill-title">{question.title ?? question.heading}</h1>
        <p className="leading-snug">{question.prompt}</p>
        {question.answered ? (
          <AnswerResult question={question} />
        ) : (
          <Link className="btn btn-primary" to={`/practice/sets/${question.set_id}`}>
            {t("practice.setScreen.answerInSet")}
          </Link>
        )}
        <Link className="btn" to={question.sheet_id ? `/sheets/${question.sheet_id}` : "/logbook"}>
          {question.sheet_id ? t("practice.setScreen.openItsSheet") : t("practice.setScreen.toTheLogbook")}
        </Link>
      </section>
    </div>
  );
}
