import { t } from "../words";
import "./class.css";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useParams } from "react-router";
import { assignmentsQuery, meQuery, templatesQuery } from "../api/queries";
import type { AssignmentIn, AssignmentOut } from "../api/types";
import { Fault } from "../ui/Fault";
import { AssignmentEditor } from "./AssignmentEditor";
import { ClassHead } from "./ClassHead";
import { CopyAssignments } from "./CopyAssignments";
import { dueWords } from "./words";

/** What is set in a class; each to be changed, and new ones made from the usual exercises. */
export function AssignmentsScreen() {
  const { classId = "" } = useParams();
  const list = useQuery(assignmentsQuery(classId));
  const templates = useQuery(templatesQuery);
  const [open, setOpen] = useState<{ id: string | null; draft: AssignmentIn } | null>(null);
  const { data: me } = useQuery(meQuery);
  const others = me?.classes.filter((one) => one.role === "tutor" && one.id !== classId) ?? [];
  const [copying, setCopying] = useState(false);
  const fault = list.error ?? templates.error;
  return (
    <div className="flex h-full flex-col">
      <ClassHead classId={classId} />
      <div className="min-h-0 grow overflow-y-auto">
        <div className="mx-auto grid max-w-6xl gap-8 px-6 py-5 md:grid-cols-[minmax(0,1fr)_minmax(0,30rem)]">
          <div>
            <section aria-labelledby="set-head">
              <h1 id="set-head" className="mb-2 text-xl font-bold">
                {t("class.assignmentsScreen.assignments")}
              </h1>
              {fault && <Fault words={fault.message} />}
              {list.data?.assignments.length === 0 && <p className="mb-3">{t("class.assignmentsScreen.none")}</p>}
              <ul className="mb-6">
                {list.data?.assignments.map((one) => (
                  <li key={one.id}>
                    <button
                      type="button"
                      className="assignment-line"
                      aria-pressed={open?.id === one.id}
                      onClick={() => setOpen({ id: one.id, draft: draftOf(one) })}
                    >
                      <b>{one.title}</b> <span>{dueWords(one)}</span>
                    </button>
                  </li>
                ))}
              </ul>
            </section>
            <section aria-labelledby="kinds-head">
              <h2 id="kinds-head" className="part-head">
                {t("class.assignmentsScreen.setAnother")}
              </h2>
              {others.length > 0 && (
                <button type="button" className="btn btn-sm mb-2" onClick={() => setCopying(true)}>
                  {t("class.copyAssignments.title")}
                </button>
              )}
              <ul>
                {templates.data?.templates.map(({ assignment }) => (
                  <li key={assignment.kind}>
                    <button
                      type="button"
                      className="assignment-line"
                      aria-pressed={open?.id === null && open.draft.kind === assignment.kind}
                      onClick={() => setOpen({ id: null, draft: assignment })}
                    >
                      <b>{assignment.title}</b> <span>{t(`class.subject.${assignment.subject}`)}</span>
                    </button>
                  </li>
                ))}
              </ul>
            </section>
          </div>
          {open ? (
            <AssignmentEditor
              key={`${open.id} ${open.draft.kind}`}
              classId={classId}
              id={open.id}
              first={open.draft}
              ownSetUp={!!templates.data?.templates.find((t) => t.assignment.kind === open.draft.kind)?.has_set_up}
              onDone={() => setOpen(null)}
            />
          ) : (
            <p className="leading-snug">{t("class.assignmentsScreen.choose")}</p>
          )}
        </div>
      </div>
      {copying && <CopyAssignments classId={classId} others={others} onClose={() => setCopying(false)} />}
    </div>
  );
}

function draftOf(one: AssignmentOut): AssignmentIn {
  const { kind, title, words, subject, sheet_id, stand_id, hand_in, tolerance } = one;
  const { judge_first, found, minutes, tries, due_at } = one;
  return {
    ...{ kind, title, words, subject, sheet_id, stand_id, hand_in, tolerance },
    ...{ judge_first, found, minutes, tries, due_at },
  };
}
