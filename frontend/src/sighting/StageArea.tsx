import { isEdge } from "../api/types";
import { isProposed, moveHandle } from "../sheet/edits";
import { distance, middleOf, toScreen } from "../stage/geometry";
import { Stage } from "../stage/Stage";
import { AidCard } from "./AidCard";
import { FamilyBar } from "./FamilyBar";
import { ProbeCard } from "./ProbeCard";
import type { OpenSighting } from "./useSightingScreen";

/** The picture with its sightings, and the cards that stand over it. */
export function StageArea({ easel }: { easel: OpenSighting }) {
  const {
    open,
    sheet,
    picture,
    sighting,
    measuring,
    resting,
    levelJudging,
    chosen,
    chosenRim,
    selected,
    unit,
    fan,
    rimsShown,
    place,
    onView,
    shownProbe,
    onProbe,
    onHover,
    drawnSheet,
    told,
  } = easel;
  const { task, actions, sheetNow } = sighting;
  const { construction, constructed, guide, held, figure, stood, eased } = measuring;
  return (
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
  );
}
