import { useQuery } from "@tanstack/react-query";
import { Link, Navigate, useParams } from "react-router";
import { drawingQuery, drawingsQuery, openedQuery, readSheet } from "../api/queries";
import { rollCall } from "../sheet/stash";
import { t } from "../words";
import { BringIn } from "./BringIn";
import { PaperScreen } from "./PaperScreen";

/** The paper face of a subject: its last drawing, or the way to bring one in. */
export function SubjectPaper() {
  const { id = "" } = useParams();
  const list = useQuery({ ...drawingsQuery(id), staleTime: 0 });
  if (list.isError) return <Trouble words={list.error.message} />;
  if (list.isPending) return <p className="p-8">{t("paper.paperPage.opening")}</p>;
  const last = list.data.drawings[0];
  if (last) return <Navigate to={`/paper/${last.sheet_id}`} replace />;
  return <BringIn subject={id} before={null} />;
}

/** A sheet read for this face alone: the other may hold it as it was before it was worked on. */
const afresh = (id: string) => openedQuery(["sheet-on-paper", id], () => readSheet(id));

/** One drawing, loaded afresh each time it is opened. */
export function PaperPage() {
  const { id = "" } = useParams();
  const drawing = useQuery(drawingQuery(id));
  const full = useQuery(afresh(id));
  const subject = useQuery({ ...afresh(drawing.data?.subject_id ?? ""), enabled: !!drawing.data?.subject_id });
  const tabs = useQuery({ queryKey: ["tabs", id], queryFn: rollCall, gcTime: 0, staleTime: Number.POSITIVE_INFINITY });
  const fault = drawing.error ?? full.error;
  if (fault) return <Trouble words={fault.message} />;
  if (!drawing.data || !full.data || !tabs.data || (drawing.data.subject_id && subject.isPending))
    return <p className="p-8">{t("paper.paperPage.openingTheDrawing")}</p>;
  return (
    <PaperScreen
      key={id}
      full={full.data}
      drawing={drawing.data}
      subjectReport={subject.data?.report ?? null}
      tabs={tabs.data}
    />
  );
}

/** Bring in a drawing: of a subject, of none, or one that was brought in before. */
export function NewPaper() {
  const asked = new URLSearchParams(window.location.search);
  return <BringIn subject={asked.get("subject")} before={asked.get("before")} />;
}

function Trouble({ words }: { words: string }) {
  return (
    <div role="alert" className="m-8 max-w-xl">
      <p className="mb-3">{words}</p>
      <Link to="/sheets" className="btn btn-sm">
        {t("paper.paperPage.allSheets")}
      </Link>
    </div>
  );
}
