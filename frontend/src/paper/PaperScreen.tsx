import { t } from "../words";
import "./paper.css";
import { pictureUrl } from "../api/client";
import type { DrawingFull, Point, Report, SheetFull } from "../api/types";
import { moveHandle } from "../sheet/edits";
import { FromTutor, RemarkPins } from "../sheet/FromTutor";
import { KeepDialogs } from "../sheet/KeepDialogs";
import { NextTime } from "../sheet/NextTime";
import type { Tabs } from "../sheet/stash";
import { toScreen, type View } from "../stage/geometry";
import { Stage } from "../stage/Stage";
import { STILL } from "../stage/still";
import { Ghosts, LitLines, Proposed } from "./Lines";
import { Naming } from "./Naming";
import { PaperTools } from "./PaperTools";
import { Strip } from "./Strip";
import { type Paper, usePaper } from "./usePaper";

interface PaperScreenProps {
  full: SheetFull;
  drawing: DrawingFull;
  subjectReport: Report | null;
  tabs: Tabs;
}

/** A drawing on paper beside its subject: two leaves of an open portfolio, the fader their hinge, the critique beneath. */
export function PaperScreen({ full, drawing, subjectReport, tabs }: PaperScreenProps) {
  const paper = usePaper(full, drawing, tabs);
  const { open, subject, laying, look } = paper;
  const { sheet, report } = open;
  return (
    <div className="whole-screen paper-grid">
      <h1 className="sr-only">{sheet.title || t("paper.paperScreen.drawingOnPaper")}</h1>
      <PaperTools id={full.id} drawing={drawing} paper={paper} />
      {subjectReport && !look.over && <SubjectLeaf drawing={drawing} report={subjectReport} paper={paper} />}
      {subject && <Hinge look={look} />}
      <section
        className={`leaf leaf-drawing ${look.over || !subject ? "leaf-wide" : ""}`}
        aria-label={t("paper.paperScreen.drawing")}
      >
        <DrawingStage drawing={drawing} paper={paper} />
        <Naming id={full.id} drawing={drawing} paper={paper} />
      </section>
      <div className="paper-foot">
        <NextTime sheet={full.id} />
        <FromTutor id={full.id} sheet={sheet} />
        <Strip
          critique={paper.critique}
          fault={paper.fault}
          since={paper.since}
          onCompare={paper.compare}
          drawing={drawing}
          names={subject ?? sheet}
          report={report}
          against={look.against}
          lit={look.lit}
          onLit={look.setLit}
          selected={laying.selected}
          onSelect={laying.choose}
        />
      </div>
      <p className="sr-only" role="status" aria-live="polite">
        {laying.said}
      </p>
      <KeepDialogs open={open} />
    </div>
  );
}

/** The subject, still, with the lines of the chosen cause. */
function SubjectLeaf({ drawing, report, paper }: { drawing: DrawingFull; report: Report; paper: Paper }) {
  const { subject, cause, laying } = paper;
  if (!subject || !drawing.subject_picture) return null;
  return (
    <section className="leaf leaf-subject" aria-label={t("paper.paperScreen.subject")}>
      <Stage
        {...STILL}
        name="subject-leaf"
        still
        picture={drawing.subject_picture}
        sheet={subject}
        report={report}
        selected={laying.selected}
        onSelect={(id) => id && laying.choose(id)}
        under={(view) => cause && <LitLines cause={cause} sheet={subject} view={view} mended={false} />}
      />
    </section>
  );
}

/** Between the leaves: lay one over the other, and show where each line would run. */
function Hinge({ look }: { look: Paper["look"] }) {
  const { over, setOver, fade, setFade, ghosts, setGhosts } = look;
  return (
    <div className="hinge">
      <button
        type="button"
        className={`btn btn-sm hinge-turn ${over ? "btn-primary" : ""}`}
        aria-pressed={over}
        onClick={() => setOver(!over)}
        title={t("paper.paperScreen.overlay")}
      >
        {over ? t("paper.paperScreen.open") : t("paper.paperScreen.layOver")}
      </button>
      {over && (
        <input
          type="range"
          className="hinge-fader"
          aria-label={t("paper.paperScreen.fader")}
          min={0}
          max={1}
          step={0.05}
          value={fade}
          onChange={(event) => setFade(Number(event.target.value))}
        />
      )}
      <button
        type="button"
        className={`btn btn-sm hinge-turn ${ghosts ? "btn-primary" : ""}`}
        aria-pressed={ghosts}
        onClick={() => setGhosts(!ghosts)}
        title={t("paper.paperScreen.showTruth")}
      >
        {t("paper.paperScreen.ghosts")}
      </button>
    </div>
  );
}

/** The drawing, with what is laid on it, found on it and said of it. */
function DrawingStage({ drawing, paper }: { drawing: DrawingFull; paper: Paper }) {
  const { open, laying, look, critique, cause, remarks } = paper;
  const { sheet, picture } = open;
  const { missing, selected, proposals, laid } = laying;
  const laidOver = look.over ? (critique?.laid_over ?? null) : null;
  if (!picture) return null;
  return (
    <Stage
      {...STILL}
      picture={picture}
      sheet={sheet}
      report={paper.shown}
      selected={missing ? null : selected}
      task={laying.task}
      onSelect={laying.choose}
      onPoint={laying.point}
      onPlace={laying.placed}
      onMoveHandle={(id, key, to, done) =>
        (done ? open.change : open.show)(moveHandle(laying.sheetNow.current, id, key, to))
      }
      under={(view) =>
        laidOver &&
        drawing.subject_picture && (
          <image
            href={pictureUrl(drawing.subject_picture.id, "view")}
            {...placedBy(laidOver.at as Point, view)}
            width={drawing.subject_picture.width_px * laidOver.scale * view.k}
            height={drawing.subject_picture.height_px * laidOver.scale * view.k}
            opacity={look.fade}
            preserveAspectRatio="none"
            data-testid="laid-over"
          />
        )
      }
      over={(view) => (
        <>
          {look.ghosts && critique && <Ghosts critique={critique} drawing={sheet} view={view} />}
          {cause && <LitLines cause={cause} sheet={sheet} view={view} mended />}
          {remarks && <RemarkPins remarks={remarks} view={view} />}
          <Proposed proposals={proposals.filter((p) => !laid.has(p.sighting.id))} now={selected} view={view} />
        </>
      )}
    />
  );
}

function placedBy(at: Point, view: View): { x: number; y: number } {
  const [x, y] = toScreen(view, at);
  return { x, y };
}
