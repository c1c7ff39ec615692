import { t } from "../words";
import "../stage/arrangement.css";
import "./sighting.css";
import { useCallback, useEffect, useMemo, useState } from "react";
import { call } from "../api/client";
import {
  formIdOf,
  isEdge,
  isFace,
  isReading,
  isRim,
  looksStraight,
  type Picture,
  pointOf,
  type Report,
  type SheetFull,
} from "../api/types";
import {
  formsOf,
  hasJudged,
  isLessSure,
  isProposed,
  moveHandle,
  renameForm,
  setFormKind,
  sightingsOf,
  unitOf,
  withoutProposals,
} from "../sheet/edits";
import { FaceSwitch, facesOf } from "../sheet/FaceSwitch";
import { FromTutor } from "../sheet/FromTutor";
import { KeepDialogs } from "../sheet/KeepDialogs";
import { NextTime } from "../sheet/NextTime";
import type { Tabs } from "../sheet/stash";
import { useJudgeFirst } from "../sheet/useJudgeFirst";
import { useSheet } from "../sheet/useSheet";
import { distance, middleOf, type Size, toScreen, type View } from "../stage/geometry";
import { Stage } from "../stage/Stage";
import { isQuiet } from "../stage/task";
import { ScreenTools } from "../ui/ScreenTools";
import { useStoredSwitch } from "../ui/settings";
import { AidCard } from "./AidCard";
import { ConstructRow } from "./ConstructRow";
import { FamilyBar } from "./FamilyBar";
import { FanRow } from "./FanRow";
import { FirstWalk, useFirstWalk } from "./FirstWalk";
import { FormBar } from "./FormBar";
import { FoundCard } from "./FoundCard";
import { JudgePanel } from "./JudgePanel";
import { LevelRail } from "./LevelRail";
import { MeasureMenu } from "./MeasureMenu";
import { ofForm, ProbeCard, probeWords } from "./ProbeCard";
import { SheetTable } from "./SheetTable";
import { SheetTools } from "./SheetTools";
import { Slips, Waiting } from "./Slips";
import { Notes, Standing } from "./Standing";
import { useFan } from "./useFan";
import { FINGER_SCREEN_PX } from "./useHandState";
import { useLook } from "./useLook";
import { useMeasuring } from "./useMeasuring";
import { useProbe } from "./useProbe";
import { useSighting } from "./useSighting";
import { useSightingKeys } from "./useSightingKeys";

/** The screen that students spend their hours on. */
export function SightingScreen({ full, tabs }: { full: SheetFull & { picture: Picture }; tabs: Tabs }) {
  const open = useSheet(full, tabs);
  const { sheet, report } = open;
  const { picture } = full;
  const { judgeFirst, setJudgeFirst, settled } = useJudgeFirst(full.assignment);
  const mayLook = full.assignment?.found_shown !== false;
  const [lookUnasked, setLookUnasked] = useStoredSwitch("look-unasked", true);
  const isNew = !sheet.stand && !sheet.found && sightingsOf(sheet).length === 0;
  const found = useLook(picture, lookUnasked && isNew && mayLook);
  const look = mayLook ? found.look : null;
  const sighting = useSighting(
    open,
    judgeFirst,
    picture.id,
    found.looking.kind === "looked" ? found.looking.look.found : null,
  );
  const { selected, task, form, actions, sheetNow } = sighting;
  const [place, setPlace] = useState<{ view: View; size: Size } | null>(null);
  const [rimsShown, setRimsShown] = useState(false);
  const [truthShown, setTruthShown] = useState(false);
  const walk = useFirstWalk();
  const levelIsSet = !!sheet.eye_level && !looksStraight(sheet);
  const resting = judgeFirst && isQuiet(task);
  const levelJudging = task.kind === "level" ? task : null;
  // what was found in the picture is an answer like any other
  const unjudged = judgeFirst && !hasJudged(sheet);
  const [unsureShown, setUnsureShown] = useState(false);
  const shown = useMemo(
    () => (resting || unjudged || levelJudging || !mayLook ? withoutProposals(sheet) : sheet),
    [resting, unjudged, levelJudging, mayLook, sheet],
  );
  const drawnSheet = useMemo(() => {
    const sure = unsureShown ? shown : { ...shown, sightings: sightingsOf(shown).filter((s) => !isLessSure(s)) };
    if (!levelJudging) return sure;
    const { left_y_px, right_y_px } = levelJudging;
    return { ...sure, eye_level: { left_y_px, right_y_px } };
  }, [shown, unsureShown, levelJudging]);
  // while eye level is judged nothing on the screen says where it lies
  const told = useMemo(() => (levelJudging ? withoutLevel(report) : report), [levelJudging, report]);
  const turnRims = useCallback(() => setRimsShown((old) => !old), []);
  const turnTruth = useCallback(() => setTruthShown((old) => !old), []);
  const { setSaid, reach } = sighting;
  if (place) reach.current = FINGER_SCREEN_PX / place.view.k;
  const offer = useCallback(
    async (form: string | null) => {
      try {
        const body = { document: sheetNow.current, form };
        const path = { picture_id: picture.id };
        const answer = await call("post", "/api/pictures/{picture_id}/offer", { path, body, again: true });
        if (answer.added > 0) open.change(answer.document);
        setSaid(t("sighting.foundCard.offered", { count: answer.added }));
      } catch (error) {
        setSaid((error as Error).message);
      }
    },
    [open.change, picture.id, setSaid, sheetNow],
  );
  const turnJudging = useCallback(() => {
    if (settled) {
      setSaid(t("sighting.sightingScreen.judgedFirstSet"));
      return;
    }
    setJudgeFirst(!judgeFirst);
    setSaid(judgeFirst ? t("sighting.sightingScreen.judgeFirstOff") : t("sighting.sightingScreen.judgeFirstOn"));
  }, [judgeFirst, setJudgeFirst, settled, setSaid]);

  const chosen = sightingsOf(sheet).find((s) => s.id === selected) ?? null;
  const chosenForm = chosen && formIdOf(sheet, chosen);
  const { setForm } = sighting;
  useEffect(() => {
    // what is added next most often belongs to the form in hand
    if (chosenForm) setForm(chosenForm);
  }, [chosenForm, setForm]);
  const chosenRim = chosen && isRim(chosen) ? chosen : null;
  const { probe, onProbe, onHover, holdKey } = useProbe(sheet, task.kind === "look");
  const startProbe = useCallback(() => {
    const { width_px = 0, height_px = 0 } = sheetNow.current.picture ?? {};
    holdKey([width_px / 2, height_px / 2]);
  }, [holdKey, sheetNow]);
  const measuring = useMeasuring(sheet);
  const { construction, constructed, guide, held, figure, stood, eased } = measuring;
  useSightingKeys(open, sighting, measuring, turnRims, startProbe, turnJudging, turnTruth, look);
  const shownProbe = probe && { ...probe, answer: ofForm(probe.answer, form) };
  const probeSaid = shownProbe ? probeWords(shownProbe.answer) : "";
  const unit = unitOf(sheet);
  const fan = useFan(sheet, report, chosen);
  const finding = chosen ? report.findings.find((f) => f.sighting === chosen.id) : null;
  const lit = pointOf(report, finding);
  const litHeight = chosen && isEdge(chosen) ? middleOf(chosen.p, chosen.q)[1] : (finding?.centre_px?.[1] ?? null);
  const judgingRim = "thing" in task && task.kind !== "arc" && task.thing === "rim";
  const onView = useCallback((view: View, size: Size) => setPlace({ view, size }), []);
  const formName = (id: string | null) => formsOf(sheet).find((f) => f.id === id)?.name ?? "";

  return (
    <div className="whole-screen easel-grid">
      <h1 className="sr-only">{sheet.title || t("sighting.sightingScreen.sightingSheet")}</h1>
      <ScreenTools>
        <FaceSwitch
          faces={
            full.drawing
              ? { subject: `/sheets/${full.id}`, paper: `/paper/${full.id}` }
              : facesOf(full.id, { picture: true, life: sightingsOf(sheet).some(isReading) })
          }
          here="subject"
        />
        <SheetTools
          open={open}
          sheetId={full.id}
          judgeFirst={judgeFirst}
          settled={settled}
          onJudgeFirst={setJudgeFirst}
          onLook={look && (() => void look())}
          lookUnasked={lookUnasked}
          onLookUnasked={setLookUnasked}
          onWalk={walk.start}
        />
      </ScreenTools>
      <div className="area-rail">
        <LevelRail
          report={told}
          view={place?.view ?? null}
          height={place?.size.height ?? 400}
          litHeight={litHeight}
          ladder={report.ladders.find((l) => l.form === chosenRim?.form) ?? null}
          hidden={judgingRim && judgeFirst}
        />
      </div>
      <div className="area-stage relative min-h-0 min-w-0 bg-base-300">
        <Stage
          picture={picture}
          sheet={drawnSheet}
          report={told}
          selected={selected}
          task={task}
          rimsDue={rimsShown && !resting ? { form: chosenRim?.form ?? null } : null}
          probe={shownProbe}
          fan={fan.answer}
          drawn={{
            unit: unit?.p && unit.q ? distance(unit.p, unit.q) : 0,
            construction:
              constructed.answer && construction ? { answer: constructed.answer, shown: construction.shown } : null,
            guide: guide && held.answer ? { along: guide.along, answer: held.answer } : null,
            figure: figure && { foot: figure.foot, answer: stood.answer },
            eased: (measuring.easing?.times ?? 1) > 1 ? (eased.answer?.lines ?? []) : [],
            cone: measuring.cone,
          }}
          onMoveFigure={(foot) => figure && measuring.setFigure({ ...figure, foot })}
          onMoveGuide={(at_px) => guide && measuring.setGuide({ ...guide, at_px })}
          onHover={onHover}
          onProbe={onProbe}
          onSelect={sighting.setSelected}
          onPoint={sighting.point}
          onPlace={(p, q) => void sighting.lay(p, q)}
          onMoveHandle={(id, key, to, done) =>
            (done ? open.change : open.show)(moveHandle(sheetNow.current, id, key, to))
          }
          onMoveLevel={sighting.moveLevel}
          onView={onView}
        />
        <AidCard
          sheet={sheet}
          measuring={measuring}
          tall={("thing" in task && task.thing === "height") || chosen?.kind === "height"}
          onChange={({ sheet: next, id }) => {
            open.change(next);
            if (id) sighting.setSelected(id);
          }}
        />
        {chosen && isEdge(chosen) && !isProposed(chosen) && !resting && !levelJudging && (
          <FamilyBar
            name={chosen.name ?? chosen.id}
            family={chosen.family}
            proposed={sighting.asked === chosen.id}
            above={!!place && toScreen(place.view, middleOf(chosen.p, chosen.q))[1] > place.size.height * 0.6}
            onFamily={(family) => actions.family(chosen.id, family)}
          />
        )}
        {shownProbe && place && <ProbeCard probe={shownProbe} sheet={sheet} view={place.view} stage={place.size} />}
      </div>
      <div className="area-slips flex min-h-0 flex-col border-l border-base-300 bg-base-200 pt-2">
        <div className="flex items-center gap-1.5 px-2 pb-2">
          <AddButton words={t("sighting.sightingScreen.addAnEdge")} letter="A" onAdd={() => sighting.begin("edge")} />
          <AddButton words={t("sighting.sightingScreen.addARim")} letter="C" onAdd={() => sighting.begin("rim")} />
          <MeasureMenu begin={sighting.begin} measuring={measuring} />
          <button
            type="button"
            className={`btn btn-sm ml-auto ${rimsShown ? "btn-primary" : ""}`}
            aria-pressed={rimsShown}
            onClick={turnRims}
            title={t("sighting.sightingScreen.allRimsHint")}
          >
            {t("sighting.sightingScreen.allRims")}
          </button>
        </div>
        <NextTime sheet={full.id} />
        <FromTutor id={full.id} sheet={sheet} assignment={full.assignment} />
        {!resting && !levelJudging && mayLook && (
          <FoundCard
            found={found}
            sheet={sheet}
            hidden={unjudged}
            levelHidden={judgeFirst && !sheet.judged_eye_level}
            onOffer={(form) => void offer(form)}
            onJudgeLevel={sighting.judgeLevel}
          />
        )}
        <FormBar
          forms={formsOf(sheet)}
          chosen={form}
          onChoose={setForm}
          onNew={sighting.newForm}
          onRename={(name) => open.change(renameForm(sheetNow.current, form, name))}
          onKind={(kind) => open.change(setFormKind(sheetNow.current, form, kind))}
        />
        <JudgePanel
          task={task}
          needle={sighting.needle}
          onNeedle={sighting.setNeedle}
          onCommit={sighting.commit}
          onCancel={sighting.leave}
          onUndoPoint={sighting.undoPoint}
          onFind={sighting.findEdge}
          canUndoPoint={sighting.canUndoPoint}
          unitNeeded={unit === null}
        />
        {!levelJudging && (
          <Standing
            report={report}
            levelIsSet={levelIsSet}
            high={picture.height_px}
            resting={resting}
            onTurnLevel={sighting.turnLevel}
            onJudgeLevel={sighting.judgeLevel}
          />
        )}
        {sheet.stand && (
          <label className="flex items-center gap-2 px-3 pt-2 text-sm" title="Z">
            <input type="checkbox" className="checkbox checkbox-sm" checked={truthShown} onChange={turnTruth} />
            {t("sighting.sightingScreen.showTruth")}
          </label>
        )}
        <div className="min-h-0 grow overflow-y-auto" data-testid="slips">
          {!resting && !levelJudging && <Notes report={report} count={sightingsOf(sheet).length} />}
          {!resting && !levelJudging && mayLook && (
            <Waiting count={sightingsOf(sheet).length - sightingsOf(shown).length} />
          )}
          <Slips
            sheet={shown}
            report={report}
            selected={selected}
            resting={resting || levelJudging !== null}
            judgeFirst={judgeFirst}
            unsureShown={unsureShown}
            onUnsure={() => setUnsureShown(!unsureShown)}
            truth={truthShown ? (judgeFirst ? "once judged" : "at once") : null}
            aid={
              chosen &&
              !isProposed(chosen) &&
              (isFace(chosen) ? (
                <ConstructRow key={chosen.id} face={chosen.id} measuring={measuring} />
              ) : (
                <FanRow key={chosen.id} first={chosen.id} fan={fan} />
              ))
            }
            actions={actions}
            measuring={measuring}
          />
        </div>
      </div>
      <div className="area-table">
        <SheetTable
          picture={picture}
          report={told}
          lit={lit}
          formName={formName}
          resting={resting || levelJudging !== null}
        />
      </div>
      <p className="sr-only" role="status" aria-live="polite">
        {probeSaid || sighting.said}
      </p>
      <KeepDialogs open={open} />
      {walk.step !== null && <FirstWalk walk={walk} />}
    </div>
  );
}

/** A report that says nothing of eye level. */
function withoutLevel(report: Report): Report {
  const eye_level = { ...report.eye_level, left_y_px: null, right_y_px: null, middle_y_px: null, sd_px: null };
  return { ...report, eye_level: { ...eye_level, found: null }, level_rail: [], vanishing_points: [] };
}

function AddButton({ words, letter, onAdd }: { words: string; letter: string; onAdd: () => void }) {
  return (
    <button type="button" className="btn btn-primary btn-sm" onClick={onAdd} title={`${words} (${letter})`}>
      {words}
    </button>
  );
}
