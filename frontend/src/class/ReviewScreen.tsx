import { t } from "../words";
import "./class.css";
import "../sheet/sheet.css";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { boardQuery, meQuery, phrasesQuery, pieceQuery } from "../api/queries";
import type { Piece, Point } from "../api/types";
import { Fault } from "../ui/Fault";
import { useKeys } from "../ui/keys";
import { ScreenTools } from "../ui/ScreenTools";
import { Counts } from "./Counts";
import { Found } from "./Found";
import { REVIEW_KEYS } from "./keys";
import { PhrasesDialog } from "./PhrasesDialog";
import { PieceStage } from "./PieceStage";
import { Remarks } from "./Remarks";
import { type OpenReview, useReview } from "./useReview";
import { dayWords, toldBackWords } from "./words";

/** A piece as it was handed in: looked at by its maker, and by the tutor, who marks it and gives it back. */
export function ReviewScreen() {
  const { pieceId = "", classId = "" } = useParams();
  const { data: me } = useQuery(meQuery);
  const piece = useQuery(pieceQuery(pieceId));
  const tutor = me?.classes.some((one) => one.id === classId && one.role === "tutor") ?? false;
  if (piece.error)
    return (
      <div className="p-6">
        <Fault words={piece.error.message} />
        <Link className="btn mt-3" to="/class">
          {t("class.reviewScreen.toTheClass")}
        </Link>
      </div>
    );
  if (!piece.data) return <p className="p-8">{t("class.reviewScreen.opening")}</p>;
  return <OpenPiece key={pieceId} classId={classId} first={piece.data} tutor={tutor} />;
}

/** The pieces of the same assignment, one student's after another's. */
function useNeighbours(classId: string, piece: Piece, tutor: boolean, flush: () => void) {
  const go = useNavigate();
  const queries = useQueryClient();
  const board = useQuery({ ...boardQuery(classId), enabled: tutor });
  const all = (board.data?.cells ?? []).filter((cell) => cell.assignment_id === piece.assignment_id && cell.piece);
  const place = all.findIndex((cell) => cell.person_id === piece.person_id);
  const step = (by: number) => {
    const next = all[place + by]?.piece;
    if (!next) return;
    flush();
    void queries.invalidateQueries(boardQuery(classId));
    void go(`/class/${classId}/pieces/${next.hand_in_id}`);
  };
  return { several: all.length > 1, first: place <= 0, last: place < 0 || place >= all.length - 1, step };
}

/** Which remark is chosen and which is being written, and a new one where the hand is. */
function useRemarks(review: OpenReview, selected: string | null, shownDrawing: boolean) {
  const { piece } = review;
  const [chosen, setChosen] = useState<number | null>(null);
  const [writing, setWriting] = useState<number | null>(null);
  const words = useRef<HTMLDivElement>(null);
  useEffect(() => {
    // a pin that is only moved must not bring up a tablet's keyboard
    if (writing === null) return;
    words.current?.querySelector<HTMLTextAreaElement>(`[data-remark="${writing}"]`)?.focus();
    setWriting(null);
  }, [writing]);
  const add = () => {
    const picture = shownDrawing ? piece.drawing_picture : piece.picture;
    const at: Point | null =
      selected === null && picture && shownDrawing === (piece.drawing !== null)
        ? [picture.width_px / 2, picture.height_px / 2]
        : null;
    review.setRemarks([...review.remarks, { words: "", sighting: selected, at }]);
    setChosen(review.remarks.length);
    setWriting(review.remarks.length);
  };
  const move = (n: number, at: Point) =>
    review.setRemarks(review.remarks.map((one, k) => (k === n ? { ...one, at } : one)));
  return { chosen, setChosen, words, add, move };
}

function OpenPiece({ classId, first, tutor }: { classId: string; first: Piece; tutor: boolean }) {
  const review = useReview(first, tutor);
  const piece = review.piece;
  const phrases = useQuery({ ...phrasesQuery, enabled: tutor }).data?.phrases ?? [];
  const neighbours = useNeighbours(classId, piece, tutor, review.flush);
  const [drawn, setDrawn] = useState(piece.drawing !== null);
  const [selected, setSelected] = useState<string | null>(null);
  const [editing, setEditing] = useState(false);
  const shownDrawing = drawn && piece.drawing !== null;
  const remarks = useRemarks(review, selected, shownDrawing);
  const giveBack = () => tutor && review.giveBack();
  useKeys(REVIEW_KEYS, {
    next: () => neighbours.step(1),
    previous: () => neighbours.step(-1),
    remark: () => tutor && remarks.add(),
    back: giveBack,
    other: () => piece.drawing !== null && setDrawn(!drawn),
  });
  return (
    <div className="review-grid whole-screen">
      <ReviewTools classId={classId} piece={piece} tutor={tutor} neighbours={neighbours} />
      <section
        className="review-stage"
        aria-label={shownDrawing ? t("class.reviewScreen.drawing") : t("class.reviewScreen.sheet")}
      >
        <PieceStage
          piece={piece}
          drawn={shownDrawing}
          selected={selected}
          onSelect={setSelected}
          remarks={review.remarks}
          chosen={remarks.chosen}
          onChoose={remarks.setChosen}
          onMove={tutor ? remarks.move : null}
        />
        {piece.drawing && (
          <button
            type="button"
            className="btn btn-sm review-turn"
            title={t("class.reviewScreen.drawingOrSubject")}
            onClick={() => setDrawn(!drawn)}
          >
            {shownDrawing ? t("class.reviewScreen.showTheSubject") : t("class.reviewScreen.showTheDrawing")}
          </button>
        )}
      </section>
      <section className="review-panel" aria-label={t("class.reviewScreen.review")} ref={remarks.words}>
        <Tries piece={piece} classId={classId} />
        {tutor ? (
          <Marking review={review} phrases={phrases} onPhrases={() => setEditing(true)} onBack={giveBack} />
        ) : (
          <ToldBack piece={piece} />
        )}
        <Remarks
          piece={piece}
          remarks={review.remarks}
          chosen={remarks.chosen}
          onChoose={(n, remark) => {
            remarks.setChosen(n);
            if (remark.sighting) setSelected(remark.sighting);
          }}
          phrases={phrases}
          onRemarks={tutor ? review.setRemarks : null}
          onAdd={tutor ? remarks.add : null}
          selected={selected}
        />
        {piece.note && (
          <div>
            <h2 className="part-head">{t("class.reviewScreen.theStudentsNote")}</h2>
            <p className="leading-snug">{piece.note}</p>
          </div>
        )}
        <Found piece={piece} selected={selected} onSelect={setSelected} />
      </section>
      {editing && <PhrasesDialog phrases={phrases} onClose={() => setEditing(false)} />}
    </div>
  );
}

interface ReviewToolsProps {
  classId: string;
  piece: Piece;
  tutor: boolean;
  neighbours: ReturnType<typeof useNeighbours>;
}

function ReviewTools({ classId, piece, tutor, neighbours }: ReviewToolsProps) {
  return (
    <ScreenTools>
      <h1 className="truncate font-semibold">
        {piece.name}: {piece.assignment}
      </h1>
      <span className="text-sm whitespace-nowrap">
        {t("class.reviewScreen.tryNumber", { number: piece.number, day: dayWords(piece.at) })}
      </span>
      <span className="grow" />
      {tutor && neighbours.several && (
        <>
          <button
            type="button"
            className="btn btn-sm"
            disabled={neighbours.first}
            title={t("class.reviewScreen.previousStudent")}
            onClick={() => neighbours.step(-1)}
          >
            {t("class.reviewScreen.previous")}
          </button>
          <button
            type="button"
            className="btn btn-sm"
            disabled={neighbours.last}
            title={t("class.reviewScreen.nextStudent")}
            onClick={() => neighbours.step(1)}
          >
            {t("class.reviewScreen.next")}
          </button>
        </>
      )}
      <Link className="btn btn-sm" to={tutor ? `/class/${classId}/board` : "/class"}>
        {tutor ? t("class.reviewScreen.board") : t("class.reviewScreen.class")}
      </Link>
    </ScreenTools>
  );
}

/** All tries beside one another, with what changed since the one before. */
function Tries({ piece, classId }: { piece: Piece; classId: string }) {
  if (piece.tries.length < 2)
    return (
      <p className="flex flex-wrap items-center gap-2">
        <Counts found={piece.found} />
        <span className="text-sm">
          {piece.found.of === "drawing"
            ? t("class.reviewScreen.ofTheDrawing")
            : t("class.reviewScreen.ofJudgedFirst", { judged: piece.found.judged, sightings: piece.found.sightings })}
        </span>
      </p>
    );
  return (
    <div>
      <ul className="flex flex-col gap-1" aria-label={t("class.reviewScreen.tries")}>
        {piece.tries.map((one) => (
          <li key={one.hand_in_id} className="flex items-center gap-2">
            <Link
              className={one.number === piece.number ? "font-semibold" : "link"}
              aria-current={one.number === piece.number ? "page" : undefined}
              to={`/class/${classId}/pieces/${one.hand_in_id}`}
            >
              {t("class.reviewScreen.tryTitle", { number: one.number })}
            </Link>
            <Counts found={one.found} />
            <span className="text-sm">{dayWords(one.at)}</span>
          </li>
        ))}
      </ul>
      {piece.compared.length > 0 && (
        <div className="since">
          <h2 className="part-head">{t("class.reviewScreen.sinceTryBefore")}</h2>
          {piece.compared.map((words) => (
            <p key={words} className="text-sm leading-snug">
              {words}
            </p>
          ))}
        </div>
      )}
    </div>
  );
}

interface MarkingProps {
  review: OpenReview;
  phrases: string[];
  onPhrases: () => void;
  onBack: () => void;
}

function Marking({ review, phrases, onPhrases, onBack }: MarkingProps) {
  const { piece } = review;
  return (
    <div className="flex flex-col gap-2">
      <div className="flex items-end gap-3">
        <label className="flex w-24 flex-col font-semibold">
          {t("class.reviewScreen.mark")}
          <input
            className="input input-sm"
            maxLength={20}
            value={review.mark}
            onChange={(event) => review.setMark(event.target.value)}
          />
        </label>
        <span className="grow" />
        <span className="text-sm" role="status">
          {review.fault
            ? t("class.reviewScreen.notKept", { fault: review.fault })
            : review.busy
              ? t("class.reviewScreen.keeping")
              : t("class.reviewScreen.kept")}
        </span>
      </div>
      <label className="flex flex-col font-semibold">
        {t("class.reviewScreen.a")}
        <textarea
          className="textarea w-full font-normal"
          rows={2}
          maxLength={2000}
          value={review.word}
          onChange={(event) => review.setWord(event.target.value)}
        />
      </label>
      <GivingBack returned={piece.returned_at} phrases={phrases} onPhrases={onPhrases} onBack={onBack} />
    </div>
  );
}

function ToldBack({ piece }: { piece: Piece }) {
  if (!piece.returned_at) return <p className="leading-snug">{t("class.reviewScreen.withTutor")}</p>;
  return (
    <p className="leading-snug">
      {piece.mark && <b className="mark">{piece.mark}</b>} {toldBackWords(piece)}
    </p>
  );
}

interface GivingBackProps extends Pick<MarkingProps, "phrases" | "onPhrases" | "onBack"> {
  returned: Piece["returned_at"];
}

function GivingBack({ returned, phrases, onPhrases, onBack }: GivingBackProps) {
  return (
    <div className="flex flex-wrap items-center gap-2">
      <button
        type="button"
        className="btn btn-primary btn-sm"
        title={t("class.reviewScreen.giveBackHint")}
        disabled={returned !== null}
        onClick={onBack}
      >
        {returned ? t("class.reviewScreen.givenBack") : t("class.reviewScreen.giveBack")}
      </button>
      <button type="button" className="btn btn-sm" onClick={onPhrases}>
        {t("class.reviewScreen.myPhrases", { count: phrases.length })}
      </button>
      {returned && <span className="text-sm">{t("class.reviewScreen.since", { day: dayWords(returned) })}</span>}
    </div>
  );
}
