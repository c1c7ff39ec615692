import { dateText } from "../ui/locale";
import { t } from "../words";
import "./class.css";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useEffect, useState } from "react";
import { Link, useNavigate } from "react-router";
import { call } from "../api/client";
import { logbookQuery, roomQuery, todayQuery } from "../api/queries";
import type { AssignmentOut, MyClass } from "../api/types";
import { Dialog } from "../ui/Dialog";
import { Fault } from "../ui/Fault";
import { useBeginSet } from "../ui/useBeginSet";
import { HandInList } from "./HandInList";
import { dueWords } from "./words";

/** The questions of the room that were opened by themselves. */
const opened = new Set<string>();

/** A student's first page: what is due, what came back, what to practise, and the notes for next time. */
export function StartPage({ classId, others }: { classId: string; others: MyClass[] }) {
  const { data, error } = useQuery(todayQuery(classId));
  const room = useQuery(roomQuery(classId, 4000));
  const [handing, setHanding] = useState<AssignmentOut | null>(null);
  const all = data?.assignments ?? [];
  const due = all.filter((one) => one.how_far === "not begun" || one.how_far === "begun");
  const back = all.filter((one) => one.how_far === "returned");
  const away = all.filter((one) => one.how_far === "handed in");
  const asked = room.data?.question && !room.data.told && !room.data.stopped && !room.data.mine;
  const question = asked ? room.data?.question?.id : undefined;
  const go = useNavigate();
  useEffect(() => {
    // opened by itself once; who leaves it unanswered finds it by the button
    if (!question || opened.has(question)) return;
    opened.add(question);
    void go(`/class/${classId}/answer`);
  }, [classId, go, question]);
  return (
    <div className="h-full overflow-y-auto">
      <div className="mx-auto grid max-w-5xl gap-8 px-6 py-6 md:grid-cols-[minmax(0,1fr)_19rem]">
        <section aria-labelledby="today-head">
          <h1 id="today-head" className="mb-4 text-xl font-bold">
            {data?.class_name ?? t("class.startPage.class")}
          </h1>
          {error && <Fault words={error.message} />}
          {asked && (
            <p role="status" className="asked-now">
              {t("class.startPage.roomAsked")}{" "}
              <Link className="btn btn-primary btn-sm" to={`/class/${classId}/answer`}>
                {t("class.startPage.answer")}
              </Link>
            </p>
          )}
          {data?.closed && <p className="mb-4">{t("class.startPage.closed")}</p>}
          <Part
            name={t("class.startPage.due")}
            none={t("class.startPage.nothingIsDue")}
            list={due}
            onHandIn={setHanding}
          />
          <Part name={t("class.startPage.cameBack")} none="" list={back} onHandIn={setHanding} />
          <Part name={t("class.startPage.withTheTutor")} none="" list={away} onHandIn={setHanding} />
        </section>
        <aside className="flex flex-col gap-6">
          <section aria-labelledby="room-head">
            <h2 id="room-head" className="part-head">
              {t("class.startPage.inTheLesson")}
            </h2>
            <Link className="btn btn-sm" to={`/class/${classId}/answer`}>
              {t("class.startPage.roomQuestions")}
            </Link>
            <p className="mt-2">
              <Link className="link" to="/worksheets">
                {t("class.startPage.bringWorksheet")}
              </Link>
            </p>
          </section>
          {others.length > 0 && (
            <nav aria-label={t("class.startPage.yourClasses")}>
              <h2 className="part-head">{t("class.startPage.yourClasses")}</h2>
              <ul>
                {others.map((one) => (
                  <li key={one.id}>
                    <Link className="link" to={`/class/${one.id}`}>
                      {one.name}
                    </Link>
                  </li>
                ))}
              </ul>
            </nav>
          )}
          <Practise words={data?.weakest ?? ""} />
          <section aria-labelledby="notes-head">
            <h2 id="notes-head" className="part-head">
              {t("class.startPage.nextTime")}
            </h2>
            {data?.notes.length === 0 && <p className="text-sm">{t("class.startPage.noNotesYet")}</p>}
            {data?.notes.map((note) => (
              <div key={note.at} className="mb-2 leading-snug">
                <p className="text-sm">
                  {note.title}, {dateText(note.at)}
                </p>
                {note.notes.map((words) => (
                  <p key={words} className="font-semibold">
                    {words}
                  </p>
                ))}
              </div>
            ))}
          </section>
        </aside>
      </div>
      {handing && <HandIn assignment={handing} onClose={() => setHanding(null)} />}
    </div>
  );
}

function Practise({ words }: { words: string }) {
  const begin = useBeginSet();
  const logbook = useQuery(logbookQuery);
  return (
    <section aria-labelledby="practise-head">
      <h2 id="practise-head" className="part-head">
        {t("class.startPage.toPractise")}
      </h2>
      <p className="mb-2 leading-snug">{words || t("class.startPage.firstSet")}</p>
      <button
        type="button"
        className="btn btn-sm"
        disabled={begin.isPending}
        onClick={() =>
          begin.mutate({ length: 10, ...(words && logbook.data?.weakest && { skill: logbook.data.weakest }) })
        }
      >
        {t("class.startPage.tenQuestions")}
      </button>
    </section>
  );
}

interface PartProps {
  name: string;
  none: string;
  list: AssignmentOut[];
  onHandIn: (one: AssignmentOut) => void;
}

function Part({ name, none, list, onHandIn }: PartProps) {
  if (list.length === 0 && !none) return null;
  return (
    <section aria-label={name} className="mb-6">
      <h2 className="part-head">{name}</h2>
      {list.length === 0 && <p>{none}</p>}
      <ul className="flex flex-col">
        {list.map((one) => (
          <Line key={one.id} one={one} onHandIn={() => onHandIn(one)} />
        ))}
      </ul>
    </section>
  );
}

function Line({ one, onHandIn }: { one: AssignmentOut; onHandIn: () => void }) {
  const go = useNavigate();
  const queries = useQueryClient();
  const begin = useMutation({
    mutationFn: () => call("post", "/api/assignments/{assignment_id}/begin", { path: { assignment_id: one.id } }),
    onSuccess: async (found) => {
      await queries.invalidateQueries({ queryKey: ["sheets"] });
      await queries.invalidateQueries({ queryKey: ["today"] });
      await go(found.from_life ? `/sheets/${found.sheet_id}/card` : `/sheets/${found.sheet_id}`);
    },
  });
  const last = one.tries_made.at(-1);
  const left = one.tries - one.tries_made.length;
  const open = one.how_far !== "handed in" && left > 0;
  return (
    <li className="due-line">
      <div className="min-w-0">
        <p className="font-semibold">
          {one.title}{" "}
          <span className={`text-sm font-normal ${one.late && one.tries_made.length === 0 ? "text-error" : ""}`}>
            {dueWords(one)}
          </span>
        </p>
        {one.words && <p className="leading-snug">{one.words}</p>}
        <HandInList of={one} />
        <p className="text-sm">
          {one.minutes ? t("class.startPage.minutes", { minutes: one.minutes }) : ""}{" "}
          {t("class.startPage.triesLeft", { count: left })}
        </p>
        {last?.returned_at && (
          <p className="leading-snug">
            {last.mark && <b className="mark">{last.mark}</b>} {last.word}
          </p>
        )}
        {begin.isError && <Fault words={begin.error.message} />}
      </div>
      <div className="flex flex-wrap justify-end gap-2">
        {last && (
          <Link className="btn btn-sm" to={`/class/${one.class_id}/pieces/${last.hand_in_id}`}>
            {last.returned_at ? t("class.startPage.readTheRemarks") : t("class.startPage.asHandedIn")}
          </Link>
        )}
        {open && (
          <button type="button" className="btn btn-sm" disabled={begin.isPending} onClick={() => begin.mutate()}>
            {one.how_far === "not begun"
              ? t("class.startPage.begin")
              : last
                ? t("class.startPage.mendIt")
                : t("class.startPage.goOn")}
          </button>
        )}
        {open && one.my_sheet_id && one.minutes && (
          <Link className="btn btn-sm" to={`/practice/timed?sheet=${one.my_sheet_id}&minutes=${one.minutes}`}>
            {t("class.startPage.startTheClock")}
          </Link>
        )}
        {open && one.my_sheet_id && (
          <button type="button" className="btn btn-primary btn-sm" onClick={onHandIn}>
            {t("class.startPage.handInTitle")}
          </button>
        )}
      </div>
    </li>
  );
}

function HandIn({ assignment, onClose }: { assignment: AssignmentOut; onClose: () => void }) {
  const queries = useQueryClient();
  const [note, setNote] = useState("");
  // what was made since the page was opened is ticked off
  const { data: now = assignment } = useQuery({
    queryKey: ["assignment", assignment.id],
    queryFn: () => call("get", "/api/assignments/{assignment_id}", { path: { assignment_id: assignment.id } }),
    initialData: assignment,
    staleTime: 0,
  });
  const lacks = now.missing.some((part) => part !== "note");
  const wanted = assignment.hand_in.includes("note");
  const hand = useMutation({
    mutationFn: () =>
      call("post", "/api/assignments/{assignment_id}/hand-in", {
        path: { assignment_id: assignment.id },
        body: { note },
      }),
    onSuccess: async () => {
      await queries.invalidateQueries({ queryKey: ["today"] });
      onClose();
    },
  });
  const send = (event: FormEvent) => {
    event.preventDefault();
    hand.mutate();
  };
  return (
    <Dialog title={t("class.startPage.handInNamed", { title: assignment.title })} onClose={onClose} actions={null}>
      <form className="flex flex-col gap-3" onSubmit={send}>
        <p className="leading-snug">
          {assignment.hand_in.includes("drawing")
            ? t("class.startPage.copyWithDrawing")
            : t("class.startPage.copyGoes")}
        </p>
        <HandInList of={now} noted={note.trim() !== ""} />
        <label className="flex flex-col gap-1 font-semibold">
          {wanted ? t("class.startPage.watchNext") : t("class.startPage.noteToTutor")}
          <textarea
            className="textarea w-full font-normal"
            rows={3}
            maxLength={1000}
            value={note}
            required={wanted}
            onChange={(event) => setNote(event.target.value)}
          />
        </label>
        {hand.isError && <Fault words={hand.error.message} />}
        {lacks && <p role="status">{t("class.startPage.missing")}</p>}
        <div className="modal-action">
          <button type="button" className="btn btn-sm" onClick={onClose}>
            {t("class.startPage.notYet")}
          </button>
          <button type="submit" className="btn btn-sm btn-primary" disabled={hand.isPending || lacks}>
            {t("class.startPage.handInTitle")}
          </button>
        </div>
      </form>
    </Dialog>
  );
}
