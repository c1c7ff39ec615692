import { isFace, type SheetFull, type Sighting } from "../api/types";
import { formsOf, isProposed, renameForm, setFormKind, sightingsOf } from "../sheet/edits";
import { FromTutor } from "../sheet/FromTutor";
import { NextTime } from "../sheet/NextTime";
import { Tick } from "../ui/Tick";
import { t } from "../words";
import { ConstructRow } from "./ConstructRow";
import { FanRow } from "./FanRow";
import { FormBar } from "./FormBar";
import { FoundCard } from "./FoundCard";
import { JudgePanel } from "./JudgePanel";
import { MeasureMenu } from "./MeasureMenu";
import { Slips, Waiting } from "./Slips";
import { Notes, Standing } from "./Standing";
import type { OpenSighting } from "./useSightingScreen";

interface SlipsAreaProps {
  id: string;
  assignment: SheetFull["assignment"];
  easel: OpenSighting;
}

/** What is added and judged, and the slips of what was. */
export function SlipsArea({ id, assignment, easel }: SlipsAreaProps) {
  const {
    open,
    sheet,
    report,
    picture,
    sighting,
    mayLook,
    found,
    offer,
    judgeFirst,
    resting,
    unjudged,
    levelJudging,
    levelIsSet,
    unit,
    truthShown,
    turnTruth,
  } = easel;
  const { task, form, sheetNow, setForm } = sighting;
  return (
    <div className="area-slips flex min-h-0 flex-col border-l border-base-300 bg-base-200 pt-2">
      <AddBar easel={easel} />
      <NextTime sheet={id} />
      <FromTutor id={id} sheet={sheet} assignment={assignment} />
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
        <Tick className="flex items-center gap-2 px-3 pt-2 text-sm" title="Z" checked={truthShown} onTick={turnTruth}>
          {t("sighting.sightingScreen.showTruth")}
        </Tick>
      )}
      <SlipList easel={easel} />
    </div>
  );
}

/** The ways to begin a sighting. */
function AddBar({ easel }: { easel: OpenSighting }) {
  const { sighting, measuring, rimsShown, turnRims } = easel;
  return (
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
  );
}

/** The slips themselves, with what is noted about all of them. */
function SlipList({ easel }: { easel: OpenSighting }) {
  const {
    sheet,
    report,
    measuring,
    mayLook,
    judgeFirst,
    resting,
    levelJudging,
    chosen,
    selected,
    truthShown,
    shown,
    unsureShown,
    setUnsureShown,
    sighting,
  } = easel;
  const { actions } = sighting;
  return (
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
        aid={chosen && !isProposed(chosen) && <Aid chosen={chosen} easel={easel} />}
        actions={actions}
        measuring={measuring}
      />
    </div>
  );
}

function AddButton({ words, letter, onAdd }: { words: string; letter: string; onAdd: () => void }) {
  return (
    <button type="button" className="btn btn-primary btn-sm" onClick={onAdd} title={`${words} (${letter})`}>
      {words}
    </button>
  );
}

/** What helps with the chosen sighting: constructions on a face, the fan of an edge's family. */
function Aid({ chosen, easel }: { chosen: Sighting; easel: OpenSighting }) {
  return isFace(chosen) ? (
    <ConstructRow key={chosen.id} face={chosen.id} measuring={easel.measuring} />
  ) : (
    <FanRow key={chosen.id} first={chosen.id} fan={easel.fan} />
  );
}
