import { t } from "../words";
import "../stage/arrangement.css";
import "./sighting.css";
import { isReading, type Picture, type SheetFull } from "../api/types";
import { formsOf, sightingsOf } from "../sheet/edits";
import { FaceSwitch, facesOf } from "../sheet/FaceSwitch";
import { KeepDialogs } from "../sheet/KeepDialogs";
import type { Tabs } from "../sheet/stash";
import { ScreenTools } from "../ui/ScreenTools";
import { FirstWalk, useFirstWalk } from "./FirstWalk";
import { LevelRail } from "./LevelRail";
import { SheetTable } from "./SheetTable";
import { SheetTools } from "./SheetTools";
import { SlipsArea } from "./SlipsArea";
import { StageArea } from "./StageArea";
import { useSightingScreen } from "./useSightingScreen";

/** The screen that students spend their hours on. */
export function SightingScreen({ full, tabs }: { full: SheetFull & { picture: Picture }; tabs: Tabs }) {
  const easel = useSightingScreen(full, tabs);
  const walk = useFirstWalk();
  const {
    open,
    sheet,
    report,
    picture,
    sighting,
    look,
    lookUnasked,
    setLookUnasked,
    judgeFirst,
    setJudgeFirst,
    settled,
    resting,
    levelJudging,
    judgingRim,
    chosenRim,
    lit,
    litHeight,
    place,
    probeSaid,
    told,
  } = easel;
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
      <StageArea easel={easel} />
      <SlipsArea id={full.id} assignment={full.assignment} easel={easel} />
      <div className="area-table">
        <SheetTable
          picture={picture}
          report={told}
          lit={lit}
          formName={(form) => formsOf(sheet).find((f) => f.id === form)?.name ?? ""}
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
