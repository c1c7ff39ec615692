import { t } from "../words";
import "../stage/arrangement.css";
import "./stand.css";
import type { StandFile, StandFull } from "../api/types";
import { Keeping } from "../sheet/KeepDialogs";
import type { Tabs } from "../sheet/stash";
import { Elevations } from "./Elevations";
import { EyeRail } from "./EyeRail";
import { thingsOf } from "./edits";
import { Footprints } from "./Footprints";
import { KeptView } from "./KeptView";
import { StandStage } from "./StandStage";
import { StandStrip } from "./StandStrip";
import { StandTable } from "./StandTable";
import { StandTools } from "./StandTools";
import { StepLines, StepWords } from "./StepShow";
import { TurningDialog } from "./TurningDialog";
import { type OpenStand, useStandScreen } from "./useStandScreen";

/** The model stand: a set-up, and the eye that walks round it. */
export function StandScreen({ full, tabs }: { full: StandFull; tabs: Tabs }) {
  const stand = useStandScreen(full, tabs);
  const { open, file, drawing, view, pivot, place, onView, chosen, construct, compare, panel, setPanel, said } = stand;
  return (
    <div className="whole-screen easel-grid stand-grid">
      <h1 className="sr-only">{file.title || t("stand.standScreen.setUp")}</h1>
      <StandTools id={full.id} stand={stand} />
      <div className="area-rail">
        <EyeRail
          drawing={drawing}
          view={view}
          pivot={pivot}
          place={place?.view ?? null}
          height={place?.size.height ?? 400}
          onView={onView}
        />
      </div>
      <Stages id={full.id} stand={stand} />
      <StandStrip stand={stand} />
      <div className="area-table">
        <StandTable file={file} drawing={drawing} before={compare.kept} chosen={chosen} />
      </div>
      {panel === "turning" && construct && (
        <TurningDialog stand={full.id} file={file} thing={construct} onClose={() => setPanel(null)} />
      )}
      <p className="sr-only" role="status" aria-live="polite">
        {said}
      </p>
      <Keeping
        open={open}
        kind={{ noun: "setUp", address: (id) => `/stand/${id}`, differs: (other) => differing(file, other) }}
      />
    </div>
  );
}

/** The set-up in the eye's view, the kept one beside it, and the elevations of the chosen thing. */
function Stages({ id, stand }: { id: string; stand: OpenStand }) {
  const { open, file, drawing, solids, shading, pivot, chosen, setChosen, construct, lines, hidden, compare } = stand;
  const { panel, setPanel, setStep, shownSteps, stepNumber, onView, onThing, onStep, onPlace, put } = stand;
  const beside = compare.kept && compare.beside;
  return (
    <div className={`area-stage stand-stages ${panel === "elevations" || beside ? "stand-parted" : ""}`}>
      {beside && compare.kept && <KeptView kept={compare.kept} lines={lines} />}
      <StandStage
        file={file}
        solids={solids}
        drawing={drawing}
        moving={open.moving}
        pivot={pivot}
        chosen={chosen}
        lines={lines}
        hidden={hidden}
        ghost={compare.kept && !compare.beside ? compare.kept.drawing : null}
        shading={shading}
        onView={onView}
        onStep={onStep}
        onChoose={setChosen}
        onPlace={onPlace}
        laid={shownSteps && <StepLines steps={shownSteps} number={stepNumber} />}
        below={
          shownSteps && (
            <StepWords
              stand={id}
              steps={shownSteps}
              number={stepNumber}
              onNumber={setStep}
              onClose={() => setPanel(null)}
            />
          )
        }
      >
        {solids && !shownSteps && (
          <Footprints file={file} solids={solids} chosen={chosen} onChoose={setChosen} onFile={put} />
        )}
      </StandStage>
      {panel === "elevations" && construct && (
        <Elevations key={construct.id} thing={construct} onThing={onThing} onClose={() => setPanel(null)} />
      )}
    </div>
  );
}

function differing(shown: StandFile, other: StandFile): string {
  const ids = new Set([...thingsOf(shown), ...thingsOf(other)].map((thing) => thing.id));
  const of = (file: StandFile, id: string) => JSON.stringify(thingsOf(file).find((thing) => thing.id === id));
  const count = [...ids].filter((id) => of(shown, id) !== of(other, id)).length;
  if (count === 0) return t("stand.standScreen.theViewDiffers");
  return t("stand.standScreen.thingsDiffer", { count });
}
