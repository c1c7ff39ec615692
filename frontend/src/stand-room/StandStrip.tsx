import type { StandThing } from "../api/types";
import { Menu, MenuAction } from "../ui/Menu";
import { t } from "../words";
import { EyePanel } from "./EyePanel";
import { nameOf, thingsOf, viewOf } from "./edits";
import { KINDS } from "./fields";
import { ThingCard } from "./ThingCard";
import type { OpenStand } from "./useStandScreen";

/** Beside the stage: the eye, and the things on the stand with what can be typed of the chosen one. */
export function StandStrip({ stand }: { stand: OpenStand }) {
  const { file, drawing, pivot, compare, same, setSame, onPreset, onStep, onView, change, chosen, setChosen } = stand;
  const { add, remove, construct, openPanel, fault, steps } = stand;
  return (
    <div className="area-slips stand-strip">
      {(fault || steps.fault) && (
        <p role="alert" className="stand-fault">
          {fault || steps.fault}
        </p>
      )}
      <EyePanel
        file={file}
        pivot={pivot}
        before={compare.kept ? viewOf(compare.kept.file) : null}
        same={same}
        onSame={setSame}
        onPreset={(preset) => void onPreset(preset)}
        onStep={onStep}
        onView={(next) => onView(next, true)}
        onFile={change}
      />
      <div className="flex items-center gap-2">
        <h2 className="grow font-bold">{t("stand.standScreen.things")}</h2>
        <Menu name={t("stand.standScreen.addAThing")}>
          {Object.entries(KINDS).map(([kind, words]) => (
            <MenuAction key={kind} value={kind} onSelect={() => void add(kind as StandThing["kind"])}>
              {words}
            </MenuAction>
          ))}
        </Menu>
      </div>
      {thingsOf(file).length === 0 && <p className="text-sm">{t("stand.standScreen.empty")}</p>}
      <ul className="thing-list" aria-label={t("stand.standScreen.things")}>
        {thingsOf(file).map((one) => (
          <li key={one.id}>
            <button
              type="button"
              className={`thing-line ${one.id === chosen ? "thing-chosen" : ""}`}
              aria-pressed={one.id === chosen}
              onClick={() => setChosen(one.id === chosen ? null : one.id)}
            >
              <span className="grow truncate">{nameOf(one)}</span>
              <span className="text-sm">{showsWords(drawing.seen.find((seen) => seen.thing === one.id)?.shows)}</span>
            </button>
            {one.id === chosen && (
              <ThingCard
                file={file}
                thing={one}
                onFile={change}
                onRemove={remove}
                onCopy={() => void add(one.kind, one)}
              >
                {construct && (
                  <div className="flex flex-wrap gap-1.5">
                    <button type="button" className="btn btn-sm" title="E" onClick={() => openPanel("elevations")}>
                      {t("stand.standScreen.planAndElevations")}
                    </button>
                    <button type="button" className="btn btn-sm" title="S" onClick={() => openPanel("steps")}>
                      {t("stand.standScreen.drawnHow")}
                    </button>
                    <button type="button" className="btn btn-sm" title="T" onClick={() => openPanel("turning")}>
                      {t("stand.standScreen.turnInHand")}
                    </button>
                  </div>
                )}
              </ThingCard>
            )}
          </li>
        ))}
      </ul>
    </div>
  );
}

function showsWords(shows: "top" | "underside" | "neither" | undefined): string {
  return shows ? t(`stand.standScreen.shows.${shows}`) : "";
}
