import { isEdge, isMeasured, isRim, isStraight, looksStraight, type Picture, type Sighting } from "../../api/types";
import { FAMILIES, PLANES } from "../../ui/marks";
import { between, type Size, toScreen, type View } from "../geometry";
import type { Drawn, Laid } from "../laid";
import { placeTags, TAG, type Tagged } from "../tags";
import { EdgeAnswer, EdgeLine, SightingTag } from "./Edges";
import { JudgedLine, LevelLine, MeetingMark } from "./EyeLevel";
import { ConeOfVision, MeasureMark } from "./Measures";
import { RimLine, rimTagAt } from "./Rims";

interface SightingsProps {
  laid: Laid;
  picture: Picture;
  cone: Drawn["cone"];
  view: View;
  size: Size;
}

/** Eye level and where straight views meet, what was sighted, and its tags. */
export function Sightings({ laid, picture, cone, view, size }: SightingsProps) {
  const { sheet, report, chosen, findings, quiet } = laid;
  const sightings = sheet.sightings ?? [];
  return (
    <>
      <LevelLine
        picture={picture}
        report={report}
        given={looksStraight(sheet) ? null : sheet.eye_level}
        view={view}
        width={size.width}
      />
      {sheet.judged_eye_level && !quiet && <JudgedLine judged={sheet.judged_eye_level} picture={picture} view={view} />}
      {cone && <ConeOfVision report={report} view={view} />}
      {isStraight(report) && !quiet && <MeetingMark report={report} view={view} />}
      {chosen && isEdge(chosen) && !quiet && (
        <EdgeAnswer edge={chosen} finding={findings.get(chosen.id)} report={report} view={view} size={size} />
      )}
      {sightings.filter(isMeasured).map((s) => (
        <MeasureMark
          key={s.id}
          sighting={s}
          finding={findings.get(s.id)}
          view={view}
          chosen={s === chosen}
          quiet={quiet}
        />
      ))}
      {sightings.filter(isEdge).map((edge) => (
        <EdgeLine key={edge.id} edge={edge} view={view} chosen={edge === chosen} quiet={quiet} />
      ))}
      {sightings.filter(isRim).map((rim) => (
        <RimLine
          key={rim.id}
          rim={rim}
          finding={findings.get(rim.id)}
          view={view}
          chosen={rim === chosen}
          quiet={quiet}
        />
      ))}
      {!quiet && <Tags laid={laid} view={view} size={size} />}
    </>
  );
}

/** A tag by each sighting, none over another; a thin line leads to one that had to make way. */
function Tags({ laid, view, size }: { laid: Laid; view: View; size: Size }) {
  const sightings = laid.sheet.sightings ?? [];
  const tags = placeTags(
    [
      ...sightings.filter(isRim).flatMap((rim): Tagged[] => {
        const at = rimTagAt(laid.findings.get(rim.id), view);
        return at ? [{ id: rim.id, p: at, q: at }] : [];
      }),
      ...sightings
        .filter(isEdge)
        .filter((edge) => !edge.proposed)
        .map((edge) => ({ id: edge.id, p: toScreen(view, edge.p), q: toScreen(view, edge.q) })),
    ],
    size,
  );
  return (
    <>
      {[...tags].map(
        ([id, { at, leader }]) => leader && <line key={id} {...between(leader, at)} className="tag-leader" />,
      )}
      {sightings
        .filter((s) => !s.proposed)
        .map((s) => (
          <SightingTag
            key={s.id}
            letter={letterOf(s)}
            finding={laid.findings.get(s.id)}
            place={tags.get(s.id)}
            width={isRim(s) ? TAG.wide : TAG.width}
          />
        ))}
    </>
  );
}

function letterOf(s: Sighting): string {
  if (isEdge(s)) return FAMILIES[s.family].letter;
  return isRim(s) ? PLANES[s.plane ?? "level"].letter : "";
}
