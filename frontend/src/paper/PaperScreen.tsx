import { t } from "../words";
import "./paper.css";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useMemo, useState } from "react";
import { Link, useNavigate } from "react-router";
import { critiqueUrl, pictureUrl } from "../api/client";
import { drawingsQuery, remarksQuery } from "../api/queries";
import {
  type DrawingFull,
  isReading,
  type Point,
  type Report,
  type Sheet,
  type SheetFull,
  type Steadiness,
} from "../api/types";
import { moveHandle } from "../sheet/edits";
import { FaceSwitch, facesOf } from "../sheet/FaceSwitch";
import { FromTutor, RemarkPins } from "../sheet/FromTutor";
import { type Against, judgedReport } from "../sheet/judged";
import { KeepDialogs } from "../sheet/KeepDialogs";
import { NextTime } from "../sheet/NextTime";
import { UndoRedo } from "../sheet/SheetHead";
import type { Tabs } from "../sheet/stash";
import { useSheet } from "../sheet/useSheet";
import { toScreen, type View } from "../stage/geometry";
import { Stage } from "../stage/Stage";
import { STILL } from "../stage/still";
import { useKeys } from "../ui/keys";
import { figure } from "../ui/locale";
import { Menu, MenuCheck, MenuDownload, MenuGroup } from "../ui/Menu";
import { ScreenTools } from "../ui/ScreenTools";
import { useStoredSwitch } from "../ui/settings";
import { PAPER_KEYS } from "./keys";
import { Ghosts, LitLines, Proposed } from "./Lines";
import { Strip } from "./Strip";
import { useCritique, useSince } from "./useCritique";
import { useLaying } from "./useLaying";

const AGAINST: Record<Against, string> = {
  subject: t("paper.paperScreen.theSubject"),
  own: t("paper.paperScreen.ownVanishingPoints"),
  both: "both",
};
const HANDS: Record<Steadiness, string> = {
  steady: t("paper.paperScreen.steadyHand"),
  usual: t("paper.paperScreen.usualHand"),
  unsteady: t("paper.paperScreen.unsteadyHand"),
};
const SCHOOLS = { freehand: t("paper.paperScreen.toleranceFreehand"), ruled: t("paper.paperScreen.toleranceRuled") };
const LAST = ["pdf", "png", "json"] as const;

/** A drawing on paper beside its subject: two leaves of an open portfolio, the fader their hinge, the critique beneath. */
export function PaperScreen({
  full,
  drawing,
  subjectReport,
  tabs,
}: {
  full: SheetFull;
  drawing: DrawingFull;
  subjectReport: Report | null;
  tabs: Tabs;
}) {
  const open = useSheet(full, tabs);
  const { sheet, report, picture } = open;
  const go = useNavigate();
  const queries = useQueryClient();
  const subject = drawing.subject;
  /** What its lines are called: as on its subject, or from imagination as they were before. */
  const called = subject ?? drawing.before;
  const remarks = useQuery(remarksQuery(full.id));
  const laying = useLaying(open, full.id, called, drawing.before !== null);
  const { names, laid, name, missing, half, proposals, proposal, selected, choose, put, step, drop, sheetNow } = laying;
  const [lit, setLit] = useState<number | null>(null);
  const [ghosts, setGhosts] = useStoredSwitch("paper-ghosts", false);
  const [over, setOver] = useState(false);
  const [fade, setFade] = useState(0.45);
  const [against, setAgainst] = useState<Against>(subject ? "subject" : "own");
  const [hand, setHand] = useState<Steadiness>("usual");

  const { answer: critique, fault } = useCritique(subject, sheet, hand);
  const [partly, setPartly] = useState(false);
  const since = useSince(full.id, sheet, drawing.before_id, partly);
  const cause = lit === null ? null : (critique?.causes[lit] ?? null);

  useKeys(PAPER_KEYS, {
    previous: () => step(-1),
    next: () => step(1),
    accept: () => (proposal ? put([proposal.sighting]) : false),
    other: laying.acceptOther,
    all: () => (proposals.length > 0 ? put(proposals.map((p) => p.sighting)) : false),
    ghosts: () => setGhosts(!ghosts),
    over: () => setOver((old) => !old && subject !== null),
    leave: () => {
      choose(null);
      setLit(null);
      return false;
    },
    delete: drop,
    back: drop,
    undo: open.undo,
    redo: open.redo,
  });
  useEffect(() => {
    // a cause that is gone is not shown mended
    if (lit !== null && !critique?.causes[lit]) setLit(null);
  }, [critique, lit]);

  const shown = useMemo(() => judgedReport(report, critique, against), [report, critique, against]);
  const laidOver = over ? (critique?.laid_over ?? null) : null;
  return (
    <div className="whole-screen paper-grid">
      <h1 className="sr-only">{sheet.title || t("paper.paperScreen.drawingOnPaper")}</h1>
      <ScreenTools>
        <FaceSwitch
          faces={
            drawing.subject_id
              ? facesOf(drawing.subject_id, { picture: true, life: !!subject?.sightings?.some(isReading) })
              : { subject: `/sheets/${full.id}`, paper: `/paper/${full.id}` }
          }
          here="paper"
        />
        <span className="paper-title">{sheet.title || t("paper.paperScreen.untitled")}</span>
        <span className="grow" />
        {subject && (
          <label className="flex items-center gap-1.5 text-sm whitespace-nowrap">
            {t("paper.paperScreen.against")}
            <select
              className="select select-sm against"
              value={against}
              onChange={(event) => setAgainst(event.target.value as Against)}
            >
              {Object.entries(AGAINST).map(([value, words]) => (
                <option key={value} value={value}>
                  {words}
                </option>
              ))}
            </select>
          </label>
        )}
        {subject && (
          <select
            className="select select-sm steadiness"
            aria-label={t("paper.paperScreen.hand")}
            title={t("paper.paperScreen.handHint")}
            value={hand}
            onChange={(event) => setHand(event.target.value as Steadiness)}
          >
            {Object.entries(HANDS).map(([value, words]) => (
              <option key={value} value={value}>
                {words}
              </option>
            ))}
          </select>
        )}
        <UndoRedo open={open} />
        <Menu name={t("paper.paperScreen.critique")}>
          <MenuGroup name={t("paper.paperScreen.tolerances")}>
            {Object.entries(SCHOOLS).map(([school, words]) => (
              <MenuCheck
                key={school}
                value={school}
                checked={(sheet.tolerance ?? "freehand") === school}
                onChecked={() => open.change({ ...sheet, tolerance: school as Sheet["tolerance"] })}
              >
                {words}
              </MenuCheck>
            ))}
          </MenuGroup>
          <MenuGroup name={t("paper.paperScreen.onOnePage")}>
            {LAST.map((kind) => (
              <MenuDownload key={kind} href={critiqueUrl(full.id, kind)}>
                {kind === "json"
                  ? t("paper.paperScreen.critiqueJson")
                  : kind === "pdf"
                    ? t("paper.paperScreen.toPrintPdf")
                    : t("paper.paperScreen.toSendPng")}
              </MenuDownload>
            ))}
          </MenuGroup>
        </Menu>
      </ScreenTools>
      {subject && drawing.subject_picture && subjectReport && !over && (
        <section className="leaf leaf-subject" aria-label={t("paper.paperScreen.subject")}>
          <Stage
            {...STILL}
            name="subject-leaf"
            still
            picture={drawing.subject_picture}
            sheet={subject}
            report={subjectReport}
            selected={selected}
            onSelect={(id) => id && choose(id)}
            under={(view) => cause && <LitLines cause={cause} sheet={subject} view={view} mended={false} />}
          />
        </section>
      )}
      {subject && (
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
      )}
      <section
        className={`leaf leaf-drawing ${over || !subject ? "leaf-wide" : ""}`}
        aria-label={t("paper.paperScreen.drawing")}
      >
        {picture && (
          <Stage
            {...STILL}
            picture={picture}
            sheet={sheet}
            report={shown}
            selected={missing ? null : selected}
            task={laying.task}
            onSelect={choose}
            onPoint={laying.point}
            onPlace={laying.placed}
            onMoveHandle={(id, key, to, done) =>
              (done ? open.change : open.show)(moveHandle(sheetNow.current, id, key, to))
            }
            under={(view) =>
              laidOver &&
              drawing.subject_picture && (
                <image
                  href={pictureUrl(drawing.subject_picture.id, "view")}
                  {...placedBy(laidOver.at as Point, view)}
                  width={drawing.subject_picture.width_px * laidOver.scale * view.k}
                  height={drawing.subject_picture.height_px * laidOver.scale * view.k}
                  opacity={fade}
                  preserveAspectRatio="none"
                  data-testid="laid-over"
                />
              )
            }
            over={(view) => (
              <>
                {ghosts && critique && <Ghosts critique={critique} drawing={sheet} view={view} />}
                {cause && <LitLines cause={cause} sheet={sheet} view={view} mended />}
                {remarks.data && <RemarkPins remarks={remarks.data.remarks} view={view} />}
                <Proposed proposals={proposals.filter((p) => !laid.has(p.sighting.id))} now={selected} view={view} />
              </>
            )}
          />
        )}
        <div className="naming" data-testid="naming">
          {called ? (
            <>
              <button
                type="button"
                className="btn btn-sm"
                onClick={() => step(-1)}
                title={t("paper.paperScreen.previousName")}
                aria-label={t("paper.paperScreen.previousNameHint")}
              >
                ‹
              </button>
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
              <button
                type="button"
                className="btn btn-sm"
                onClick={() => step(1)}
                title={t("paper.paperScreen.nextName")}
                aria-label={t("paper.paperScreen.nextNameHint")}
              >
                ›
              </button>
              {proposal && (
                <button
                  type="button"
                  className="btn btn-primary btn-sm"
                  onClick={() => put([proposal.sighting])}
                  title="A"
                >
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
          ) : (
            <span className="naming-words">
              {t("paper.paperScreen.fromImagination")}{" "}
              <Link className="link" to={`/sheets/${full.id}`}>
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
              void go(`/paper/new?before=${full.id}${drawing.subject_id ? `&subject=${drawing.subject_id}` : ""}`);
            }}
          >
            {t("paper.paperScreen.bringAgain")}
          </button>
        </div>
      </section>
      <div className="paper-foot">
        <NextTime sheet={full.id} />
        <FromTutor id={full.id} sheet={sheet} />
        <Strip
          critique={critique}
          fault={fault}
          since={since}
          onCompare={() => setPartly(true)}
          drawing={drawing}
          names={subject ?? sheet}
          report={report}
          against={against}
          lit={lit}
          onLit={setLit}
          selected={selected}
          onSelect={choose}
        />
      </div>
      <p className="sr-only" role="status" aria-live="polite">
        {laying.said}
      </p>
      <KeepDialogs open={open} />
    </div>
  );
}

function placedBy(at: Point, view: View): { x: number; y: number } {
  const [x, y] = toScreen(view, at);
  return { x, y };
}
