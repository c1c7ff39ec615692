import { t } from "../words";
import "./sheet.css";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { remarksQuery } from "../api/queries";
import type { RemarksOn, Sheet, SheetAssignment } from "../api/types";
import { toScreen, type View } from "../stage/geometry";

interface FromTutorProps {
  id: string;
  sheet: Sheet;
  assignment?: SheetAssignment | null;
}

/** What a sheet is worked on for, and what the tutor said of it when it last came back. */
export function FromTutor({ id, sheet, assignment }: FromTutorProps) {
  const { data } = useQuery(remarksQuery(id));
  const back = data?.hand_in_id ? data : null;
  if (!back && !assignment) return null;
  const called = new Map((sheet.sightings ?? []).map((s) => [s.id, s.name || s.id]));
  return (
    <aside className="next-time" aria-label={t("sheet.fromTutor.fromTheTutor")}>
      {assignment && (
        <p className="text-sm">
          {t("sheet.fromTutor.for", { title: assignment.title })}{" "}
          <Link className="link" to={`/class/${assignment.class_id}`}>
            {t("sheet.fromTutor.handIn")}
          </Link>
        </p>
      )}
      {back && (
        <>
          <p className="inline text-sm">
            {t("sheet.fromTutor.onAssignment", { assignment: back.assignment })} {back.mark && <b>{back.mark}. </b>}
            {back.word}
          </p>
          <ol className="tutor-remarks">
            {back.remarks.map((remark) => (
              <li key={remark.number} value={remark.number}>
                {remark.sighting && `${called.get(remark.sighting) ?? t("sheet.fromTutor.aLine")}: `}
                {remark.words}
              </li>
            ))}
          </ol>
        </>
      )}
    </aside>
  );
}

/** The places on the picture that the tutor's remarks are pinned to, by their numbers. */
export function RemarkPins({ remarks, view }: { remarks: RemarksOn["remarks"]; view: View }) {
  return (
    <g pointerEvents="none" data-testid="remark-pins">
      {remarks.map(({ number, at }) => {
        if (!at) return null;
        const [x, y] = toScreen(view, at);
        return (
          <g key={number} transform={`translate(${x} ${y})`}>
            <circle r={13} className="pin-ground" />
            <text textAnchor="middle" dominantBaseline="central" className="pin-number">
              {number}
            </text>
          </g>
        );
      })}
    </g>
  );
}
