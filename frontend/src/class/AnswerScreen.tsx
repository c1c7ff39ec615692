import { t } from "../words";
import "./class.css";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { Link, useParams } from "react-router";
import { call } from "../api/client";
import { roomQuery } from "../api/queries";
import type { QuestionAsked, RoomState } from "../api/types";
import { AnswerResult } from "../drill/AnswerResult";
import { firstHand, given, type Hand, isReady } from "../drill/hand";
import { Instrument } from "../drill/Instrument";
import { QuestionPicture } from "../drill/QuestionPicture";
import { Fault } from "../ui/Fault";
import { useAwake } from "../ui/useAwake";

const LOOK_EVERY_MS = 1000;

/** A student's screen in the lesson: the question that runs appears by itself. */
export function AnswerScreen() {
  const { classId = "" } = useParams();
  useAwake();
  const room = useQuery(roomQuery(classId, LOOK_EVERY_MS));
  const { data, error } = room;
  const question = data?.question;
  if (!question)
    return (
      <div className="mx-auto max-w-xl px-6 py-8">
        <h1 className="mb-3 text-xl font-bold">{t("class.answerScreen.title")}</h1>
        {error && <Fault words={error.message} />}
        <p className="leading-snug">{t("class.answerScreen.nothingAsked")}</p>
        <Link className="btn btn-sm mt-4" to="/class">
          {t("class.answerScreen.toTheClass")}
        </Link>
      </div>
    );
  return (
    <Answering key={question.id} classId={classId} state={data} question={question} fault={error?.message ?? ""} />
  );
}

interface AnsweringProps {
  classId: string;
  state: RoomState;
  question: QuestionAsked;
  fault: string;
}

function Answering({ classId, state, question, fault }: AnsweringProps) {
  const queries = useQueryClient();
  const [hand, setHand] = useState<Hand>(() => firstHand(question));
  const shownAt = useRef(performance.now());
  const told = useRef<HTMLDivElement>(null);
  const send = useMutation({
    mutationFn: (held: Hand) =>
      call("post", "/api/room/{question_id}/answer", {
        path: { question_id: question.id },
        body: { ...given(question, held), seconds: Math.min(86_400, (performance.now() - shownAt.current) / 1000) },
      }),
    onSuccess: (next) => queries.setQueryData(roomQuery(classId, LOOK_EVERY_MS).queryKey, next),
  });
  const answered = !!question.answered;
  useEffect(() => {
    if (answered) told.current?.focus();
  }, [answered]);
  const open = !state.mine && !state.stopped;
  return (
    <div className="drill-grid whole-screen">
      <div className="drill-stage">
        <QuestionPicture question={open || answered ? question : shut(question)} hand={hand} onHand={setHand} />
      </div>
      <section className="drill-panel" aria-label={t("class.answerScreen.question")}>
        <h1 className="drill-title">{question.title ?? question.heading}</h1>
        <p className="leading-snug">{question.prompt}</p>
        {open && (
          <>
            <Instrument
              question={question}
              hand={hand}
              onHand={setHand}
              onChoose={(n) => send.mutate({ ...hand, value: n })}
            />
            <button
              type="button"
              className="btn btn-primary"
              disabled={send.isPending || !isReady(question, hand)}
              onClick={() => send.mutate(hand)}
            >
              {t("class.answerScreen.commit")}
            </button>
          </>
        )}
        {!open && !answered && (
          <p role="status" className="leading-snug font-semibold">
            {state.mine
              ? state.stopped
                ? t("class.answerScreen.answeredAndShown")
                : t("class.answerScreen.answeredWait")
              : state.told
                ? t("class.answerScreen.notAnswered")
                : t("class.answerScreen.stopped")}
          </p>
        )}
        {answered && (
          <div ref={told} tabIndex={-1}>
            <AnswerResult question={question} />
          </div>
        )}
        {(fault || send.error) && <Fault words={send.error?.message ?? fault} />}
      </section>
    </div>
  );
}

/** The question as it is looked at while nothing can be put on it. */
function shut(question: QuestionAsked): QuestionAsked {
  return { ...question, instrument: "needle" };
}
