import { t } from "../words";
import "./class.css";
import "../drill/drill.css";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useParams } from "react-router";
import { call, pictureUrl, standSeenUrl } from "../api/client";
import { answersQuery, roomQuery, sheetsQuery, standsQuery } from "../api/queries";
import type { Point, RoomAnswers } from "../api/types";
import { Shown } from "../drill/QuestionPicture";
import { distance, middleOf } from "../stage/geometry";
import { Fault } from "../ui/Fault";
import { amount } from "../ui/figures";
import { useKeys } from "../ui/keys";
import { useAwake } from "../ui/useAwake";
import { ClassHead } from "./ClassHead";
import { ROOM_KEYS } from "./keys";

const LOOK_EVERY_MS = 700;
/** Of the picture's width, that a needle is long at the least. */
const NEEDLE_SHARE = 0.24;

/** The tutor's screen on the projector: a question over a picture, the answers as they come, everybody's needles, the truth. */
export function RoomScreen() {
  const { classId = "" } = useParams();
  useAwake();
  const room = useQuery(roomQuery(classId, false));
  const [choosing, setChoosing] = useState(false);
  const running = room.data?.question && !choosing ? room.data.question.id : null;
  return (
    <div className="flex h-full flex-col">
      <ClassHead classId={classId} />
      <div className="min-h-0 grow">
        {running ? (
          <Running key={running} classId={classId} id={running} onAnother={() => setChoosing(true)} />
        ) : (
          room.isSuccess && <Choosing classId={classId} onAsked={() => setChoosing(false)} />
        )}
        {room.error && <Fault words={room.error.message} />}
      </div>
    </div>
  );
}

type Over = { over: "sheet" | "stand"; id: string };

function Choosing({ classId, onAsked }: { classId: string; onAsked: () => void }) {
  const queries = useQueryClient();
  const sheets = useQuery(sheetsQuery);
  const stands = useQuery(standsQuery);
  const [over, setOver] = useState<Over | null>(null);
  const askable = useQuery({
    queryKey: ["askable", classId, over],
    queryFn: () =>
      call("get", "/api/classes/{class_id}/room/askable", {
        path: { class_id: classId },
        query: over ?? { over: "sheet", id: "" },
      }),
    enabled: over !== null,
  });
  const ask = useMutation({
    mutationFn: (about: string) =>
      call("post", "/api/classes/{class_id}/room", {
        path: { class_id: classId },
        body: { over: over?.over ?? "sheet", id: over?.id ?? "", about },
      }),
    onSuccess: async (asked) => {
      queries.setQueryData(answersQuery(asked.question.id, false, LOOK_EVERY_MS).queryKey, asked);
      await queries.invalidateQueries({ queryKey: ["room", classId] });
      onAsked();
    },
  });
  const photos = (sheets.data?.sheets ?? []).filter((sheet) => sheet.picture);
  const fault = sheets.error ?? stands.error ?? askable.error ?? ask.error;
  return (
    <div className="h-full overflow-y-auto px-6 py-4">
      <h1 className="mb-1 text-xl font-bold">{t("class.roomScreen.askTheRoom")}</h1>
      <p className="mb-4 leading-snug">{t("class.roomScreen.how")}</p>
      {fault && <Fault words={fault.message} />}
      <div className="grid gap-6 md:grid-cols-[minmax(0,1fr)_22rem]">
        <ul className="room-pictures" aria-label={t("class.roomScreen.pictures")}>
          {photos.map((sheet) => (
            <li key={sheet.id}>
              <button
                type="button"
                aria-pressed={over?.id === sheet.id}
                onClick={() => setOver({ over: "sheet", id: sheet.id })}
              >
                {sheet.picture && <img src={pictureUrl(sheet.picture.id, "thumb")} alt="" />}
                {sheet.title}
              </button>
            </li>
          ))}
          {stands.data?.stands.map((stand) => (
            <li key={stand.id}>
              <button
                type="button"
                aria-pressed={over?.id === stand.id}
                onClick={() => setOver({ over: "stand", id: stand.id })}
              >
                <img src={standSeenUrl(stand.id, stand.revision)} alt="" className="bg-base-200" />
                {stand.title}
              </button>
            </li>
          ))}
          {photos.length === 0 && stands.data?.stands.length === 0 && <li>{t("class.roomScreen.nothingToAsk")}</li>}
        </ul>
        <section aria-label={t("class.roomScreen.whatToAsk")}>
          {!over && <p>{t("class.roomScreen.firstAPicture")}</p>}
          {askable.data && askable.data.askable.length === 0 && (
            <p className="leading-snug">{t("class.roomScreen.nothingKnown")}</p>
          )}
          <ul>
            {askable.data?.askable.map((one) => (
              <li key={one.about}>
                <button
                  type="button"
                  className="assignment-line"
                  disabled={ask.isPending}
                  onClick={() => ask.mutate(one.about)}
                >
                  {one.words}
                </button>
              </li>
            ))}
          </ul>
        </section>
      </div>
    </div>
  );
}

function Running({ classId, id, onAnother }: { classId: string; id: string; onAnother: () => void }) {
  const queries = useQueryClient();
  const [who, setWho] = useState(false);
  const found = useQuery(answersQuery(id, who, LOOK_EVERY_MS));
  const turn = useMutation({
    mutationFn: (to: "stop" | "tell") =>
      to === "stop"
        ? call("post", "/api/room/{question_id}/stop", { path: { question_id: id } })
        : call("post", "/api/room/{question_id}/tell", { path: { question_id: id } }),
    onSuccess: (answers) => {
      queries.setQueryData(answersQuery(id, false, LOOK_EVERY_MS).queryKey, answers);
      void queries.invalidateQueries({ queryKey: ["answers", id] });
      void queries.invalidateQueries({ queryKey: ["room", classId] });
    },
  });
  const data = found.data;
  const on = () => {
    if (!data || turn.isPending) return;
    if (!data.stopped) turn.mutate("stop");
    else if (!data.told) turn.mutate("tell");
    else onAnother();
  };
  useKeys(ROOM_KEYS, {
    on: (event) => {
      if (event.target instanceof Element && event.target.closest("a, button")) return false;
      on();
    },
    who: () => setWho(!who),
    another: onAnother,
  });
  if (!data)
    return found.error ? <Fault words={found.error.message} /> : <p className="p-6">{t("class.roomScreen.opening")}</p>;
  return (
    <div className="room-grid">
      <Projected data={data} />
      <section className="room-panel" aria-label={t("class.roomScreen.answers")}>
        <h1 className="room-prompt">{data.question.prompt}</h1>
        <p role="status" className="room-count">
          <b>{data.count}</b> {t("class.roomScreen.ofAnswered", { present: data.present })}
        </p>
        {!data.stopped && (
          <button type="button" className="btn btn-primary btn-lg" disabled={turn.isPending} onClick={on}>
            {t("class.roomScreen.stopEnter")}
          </button>
        )}
        {data.stopped && !data.told && (
          <button type="button" className="btn btn-primary btn-lg" disabled={turn.isPending} onClick={on}>
            {t("class.roomScreen.theTruthEnter")}
          </button>
        )}
        {data.told && (
          <>
            <p className="text-lg leading-snug font-semibold">{data.words || t("class.roomScreen.nobodyAnswered")}</p>
            <p className="leading-snug">{data.rule}</p>
          </>
        )}
        <div className="flex flex-wrap gap-2">
          <button type="button" className="btn btn-sm" aria-pressed={who} onClick={() => setWho(!who)}>
            {who ? t("class.roomScreen.hideWhoW") : t("class.roomScreen.showWhoW")}
          </button>
          <button type="button" className="btn btn-sm" onClick={onAnother}>
            {data.told ? t("class.roomScreen.askAnotherA") : t("class.roomScreen.askAnother")}
          </button>
        </div>
        {who && (
          <ul className="room-names">
            {data.names.map((name, n) => {
              const needle = data.needles[n];
              const error = needle?.error ?? null;
              return (
                <li key={name}>
                  {name} {error !== null && `${amount(error, data.unit, true)} ${needle?.right ? "✓" : "✗"}`}
                </li>
              );
            })}
          </ul>
        )}
        {turn.error && <Fault words={turn.error.message} />}
        {found.error && <Fault words={found.error.message} />}
      </section>
    </div>
  );
}

/** The picture with what is asked, and on it, once it is stopped, everybody's answer, and then the truth. */
function Projected({ data }: { data: RoomAnswers }) {
  const { question } = data;
  const { width_px: wide, height_px: high } = question;
  return (
    <div className="drill-stage">
      <svg viewBox={`0 0 ${wide} ${high}`} className="drill-picture" role="img" aria-label={question.prompt}>
        <image href={question.picture} width={wide} height={high} preserveAspectRatio="none" />
        {data.needles.map((needle, n) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: answers keep the order they came in
          <g key={n} data-testid="needle">
            {needle.drawn.map((mark) => (
              <polyline
                key={String(mark.points)}
                points={longEnough(mark.points, question)
                  .map((p) => p.join(","))
                  .join(" ")}
                className={`room-needle ${needle.right === false ? "room-off" : ""}`}
              />
            ))}
          </g>
        ))}
        {data.truth.map((mark) => (
          <Shown key={String(mark.points)} mark={mark} look="drill-truth" />
        ))}
      </svg>
    </div>
  );
}

/** A needle over a short edge, drawn on past its ends so that the back row sees it. */
function longEnough(
  points: readonly Point[],
  { instrument, width_px: wide }: RoomAnswers["question"],
): readonly Point[] {
  const [p, q] = points;
  if (instrument !== "needle" || !p || !q) return points;
  const long = distance(p, q);
  const by = Math.max(1, (NEEDLE_SHARE * wide) / (long || 1));
  const [x, y] = middleOf(p, q);
  return [p, q].map(([px, py]): Point => [x + by * (px - x), y + by * (py - y)]);
}
