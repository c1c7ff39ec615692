import { useQueryClient } from "@tanstack/react-query";
import { Link, useNavigate } from "react-router";
import { drawingsQuery } from "../api/queries";
import type { DrawingFull } from "../api/types";
import { figure } from "../ui/locale";
import { StepButton } from "../ui/StepButton";
import { t } from "../words";
import type { Paper } from "./usePaper";

/** Under the drawing: which line is laid next, what was found for it, and the way to bring the drawing in again. */
export function Naming({ id, drawing, paper }: { id: string; drawing: DrawingFull; paper: Paper }) {
  const go = useNavigate();
  const queries = useQueryClient();
  const { called, laying } = paper;
  return (
    <div className="naming" data-testid="naming">
      {called ? (
        <>
          <StepButton
            by={-1}
            label={t("paper.paperScreen.previousNameHint")}
            title={t("paper.paperScreen.previousName")}
            onStep={laying.step}
          />
          <NameNow laying={laying} />
          <StepButton
            by={1}
            label={t("paper.paperScreen.nextNameHint")}
            title={t("paper.paperScreen.nextName")}
            onStep={laying.step}
          />
          <Accepting laying={laying} />
        </>
      ) : (
        <span className="naming-words">
          {t("paper.paperScreen.fromImagination")}{" "}
          <Link className="link" to={`/sheets/${id}`}>
            {t("paper.paperScreen.sightFirst")}
          </Link>
          {t("paper.paperScreen.ownTermsThen")}
        </span>
      )}
      <button
        type="button"
        className="btn btn-sm ml-auto"
        onClick={() => {
          void queries.invalidateQueries(drawingsQuery(drawing.subject_id ?? ""));
          void go(`/paper/new?before=${id}${drawing.subject_id ? `&subject=${drawing.subject_id}` : ""}`);
        }}
      >
        {t("paper.paperScreen.bringAgain")}
      </button>
    </div>
  );
}

/** The line that is named, and how sure what was found for it is. */
function NameNow({ laying }: { laying: Paper["laying"] }) {
  const { missing, name, names, laid, half, proposal } = laying;
  return (
    <span className="naming-words" aria-live="polite">
      {missing && name ? (
        <>
          {t("paper.paperScreen.lay")} <b>{name.name ?? name.id}</b> {t("paper.paperScreen.onTheDrawing")}
          {half.ends ? t("paper.paperScreen.nearArcNow") : ""}
          {proposal?.snapped && (
            <span className="naming-sure">
              {proposal.sd_deg !== null &&
                t("paper.paperScreen.knownTo", { degrees: figure(Math.max(proposal.sd_deg, 0.1), 1) })}
              {proposal.light && t("paper.paperScreen.aLightLine")}
              {proposal.others.length > 0 && t("paper.paperScreen.drawnTwice")}
            </span>
          )}
          {proposal?.doubtful && <span className="naming-doubt">{t("paper.paperScreen.stillItsLine")}</span>}
        </>
      ) : name ? (
        <b>{name.name ?? name.id}</b>
      ) : (
        t("paper.paperScreen.laidOf", {
          count: names.filter((s) => laid.has(s.id)).length,
          count2: names.length,
        })
      )}
    </span>
  );
}

/** What can be taken of what was found. */
function Accepting({ laying }: { laying: Paper["laying"] }) {
  const { put, proposal, proposals } = laying;
  return (
    <>
      {proposal && (
        <button type="button" className="btn btn-primary btn-sm" onClick={() => put([proposal.sighting])} title="A">
          {t("paper.paperScreen.accept")}
        </button>
      )}
      {proposal && proposal.others.length > 0 && (
        <button
          type="button"
          className="btn btn-sm"
          onClick={laying.acceptOther}
          title={t("paper.paperScreen.takeLighter")}
        >
          {t("paper.paperScreen.takeTheOther")}
        </button>
      )}
      {proposals.length > 1 && (
        <button
          type="button"
          className="btn btn-sm"
          onClick={() => put(proposals.map((p) => p.sighting))}
          title={t("paper.paperScreen.shiftA")}
        >
          {t("paper.paperScreen.acceptAll", { count: proposals.length })}
        </button>
      )}
    </>
  );
}
