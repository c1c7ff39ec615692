import { t } from "../words";
import "./stage.css";
import { type ReactNode, useCallback, useEffect, useRef, useState } from "react";
import { pictureUrl } from "../api/client";
import {
  type ConstructAnswer,
  type EasedLine,
  type FanAnswer,
  type FigureAnswer,
  type GuideAnswer,
  isEdge,
  isMeasured,
  isRim,
  isStraight,
  looksStraight,
  type Picture,
  type Point,
  type ProbeAnswer,
  type Report,
  type Sheet,
} from "../api/types";
import { FAMILIES, PLANES } from "../ui/marks";
import { useSize } from "../ui/useSize";
import { between, ovalThrough, type Size, toScreen, type View } from "./geometry";
import { handlesOf } from "./handles";
import { LOUPE_RADIUS, Loupe } from "./Loupe";
import { FanLines, ProbeMarks } from "./layers/Aids";
import { EdgeAnswer, EdgeLine, SightingTag } from "./layers/Edges";
import { JudgedLine, LevelLine, MeetingMark } from "./layers/EyeLevel";
import { Handles } from "./layers/Handles";
import { LayLine, Opening, PickMark } from "./layers/Laying";
import {
  ConeOfVision,
  ConstructionLines,
  EasedLines,
  FigureMark,
  GuideLine,
  LaidCorners,
  MeasureMark,
  ThumbMarks,
} from "./layers/Measures";
import { RimAnswer, RimLine, RimsDue, rimTagAt } from "./layers/Rims";
import { placeTags, TAG, type Tagged } from "./tags";
import { isPlacing, isQuiet, stageLabel, type Task } from "./task";
import { type Deeds, useHands } from "./useHands";
import { useView } from "./useView";

/** What is drawn over the picture to measure by. `unit`: how long the unit is drawn, px. */
export interface Drawn {
  unit: number;
  construction: { answer: ConstructAnswer; shown: number } | null;
  guide: { along: "plumb" | "level"; answer: GuideAnswer } | null;
  figure: { foot: Point; answer: FigureAnswer | null } | null;
  eased: EasedLine[];
  cone: boolean;
}

interface Props extends Deeds {
  picture: Picture;
  sheet: Sheet;
  report: Report;
  selected: string | null;
  task: Task;
  rimsDue: { form: string | null } | null;
  probe: { at: Point; answer: ProbeAnswer } | null;
  fan: FanAnswer | null;
  drawn: Drawn;
  onView: (view: View, size: Size) => void;
  /** What a screen draws of its own: on the picture under the sightings, and over them. */
  under?: (view: View) => ReactNode;
  over?: (view: View) => ReactNode;
  name?: string;
  /** Only to be looked at: nothing on it can be moved. */
  still?: boolean;
}

/** The picture with its sightings: pan, zoom, lay edges and rims, drag their points. */
export function Stage({
  picture,
  sheet,
  report,
  selected,
  task,
  rimsDue,
  probe,
  fan,
  drawn,
  onView,
  under,
  over,
  name = "stage",
  still = false,
  ...deeds
}: Props) {
  const box = useRef<SVGSVGElement>(null);
  const { ref, ...size } = useSize({ width: 800, height: 600 });
  const [missing, setMissing] = useState("");
  const place = useView({ width: picture.width_px, height: picture.height_px }, size);
  const hands = useHands({
    box,
    size,
    place,
    sheet,
    task,
    standing: {
      figure: drawn.figure?.foot ?? null,
      guide: drawn.guide && { along: drawn.guide.along, at_px: drawn.guide.answer.at_px },
    },
    deeds,
  });
  const { view } = place;
  const { first, cursor, gripped } = hands;
  const settle = useCallback(
    (element: SVGSVGElement | null) => {
      box.current = element;
      ref(element);
    },
    [ref],
  );
  useEffect(() => onView(view, { width: size.width, height: size.height }), [onView, view, size.width, size.height]);

  const sightings = sheet.sightings ?? [];
  const rims = sightings.filter(isRim);
  const chosen = sightings.find((s) => s.id === selected) ?? null;
  const findings = new Map(report.findings.map((f) => [f.sighting, f]));
  const finding = chosen ? findings.get(chosen.id) : undefined;
  const quiet = isQuiet(task);
  const placing = isPlacing(task);

  const tags = placeTags(
    [
      ...rims.flatMap((rim): Tagged[] => {
        const at = rimTagAt(findings.get(rim.id), view);
        return at ? [{ id: rim.id, p: at, q: at }] : [];
      }),
      ...sightings
        .filter(isEdge)
        .filter((edge) => !edge.proposed)
        .map((edge) => ({ id: edge.id, p: toScreen(view, edge.p), q: toScreen(view, edge.q) })),
    ],
    size,
  );

  const inHand = hands.hand ?? cursor;
  const held = gripped && chosen ? handlesOf(chosen).find((h) => h.key === gripped.key) : null;
  const looking: Point | null = held?.at ?? hands.hand ?? (placing ? cursor : null);
  const laying: [Point, Point] | null = first && inHand ? [first, inHand] : null;
  const opening = task.kind === "near" && inHand ? ovalThrough(...task.ends, inHand) : null;
  const origin = toScreen(view, [0, 0]);
  return (
    <svg
      ref={settle}
      className={`stage block h-full w-full touch-none select-none ${placing || task.kind === "pick" ? "cursor-crosshair" : "cursor-grab"}`}
      tabIndex={0}
      role="application"
      aria-label={stageLabel(task, first !== null)}
      onKeyDown={hands.onKeyDown}
      data-testid={name}
    >
      <image
        href={pictureUrl(picture.id, "view")}
        x={origin[0]}
        y={origin[1]}
        width={picture.width_px * view.k}
        height={picture.height_px * view.k}
        preserveAspectRatio="none"
        onError={() => setMissing(picture.id)}
        onLoad={() => setMissing("")}
      />
      {missing === picture.id && (
        <text textAnchor="end" className="stage-missing" aria-live="polite">
          {[t("stage.stage.noPhoto"), t("stage.stage.noPhotoWhy"), t("stage.stage.noPhotoKept")].map((line, n) => (
            <tspan key={line} x={size.width - 16} y={size.height - 68 + 26 * n}>
              {line}
            </tspan>
          ))}
        </text>
      )}
      {under?.(view)}
      <LevelLine
        picture={picture}
        report={report}
        given={looksStraight(sheet) ? null : sheet.eye_level}
        view={view}
        width={size.width}
      />
      {sheet.judged_eye_level && !quiet && <JudgedLine judged={sheet.judged_eye_level} picture={picture} view={view} />}
      {drawn.cone && <ConeOfVision report={report} view={view} />}
      {isStraight(report) && !quiet && <MeetingMark report={report} view={view} />}
      {chosen && isEdge(chosen) && !quiet && (
        <EdgeAnswer edge={chosen} finding={finding} report={report} view={view} size={size} />
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
      {rims.map((rim) => (
        <RimLine
          key={rim.id}
          rim={rim}
          finding={findings.get(rim.id)}
          view={view}
          chosen={rim === chosen}
          quiet={quiet}
        />
      ))}
      {!quiet &&
        [...tags].map(
          ([id, { at, leader }]) => leader && <line key={id} {...between(leader, at)} className="tag-leader" />,
        )}
      {!quiet &&
        sightings
          .filter((s) => !s.proposed)
          .map((s) => (
            <SightingTag
              key={s.id}
              letter={s.kind === "edge" ? FAMILIES[s.family].letter : isRim(s) ? PLANES[s.plane ?? "level"].letter : ""}
              finding={findings.get(s.id)}
              place={tags.get(s.id)}
              width={isRim(s) ? TAG.wide : TAG.width}
            />
          ))}
      {fan && !quiet && <FanLines fan={fan} view={view} />}
      {rimsDue && !quiet && <RimsDue report={report} sheetRims={rims} form={rimsDue.form} view={view} />}
      {chosen && isRim(chosen) && finding && !quiet && (
        <RimAnswer finding={finding} report={report} view={view} far={size.width + size.height} />
      )}
      {probe && !quiet && <ProbeMarks at={probe.at} answer={probe.answer} view={view} />}
      {!quiet && drawn.construction && <ConstructionLines {...drawn.construction} view={view} />}
      {!quiet && <EasedLines lines={drawn.eased} view={view} />}
      {!quiet && drawn.figure && <FigureMark {...drawn.figure} view={view} />}
      {drawn.guide && <GuideLine {...drawn.guide} view={view} size={size} />}
      {over?.(view)}
      {chosen && !quiet && !still && <Handles sighting={chosen} view={view} />}
      {task.kind === "corners" && <LaidCorners corners={task.laid} hand={inHand} view={view} />}
      {(task.kind === "judge" || task.kind === "place" || task.kind === "near" || task.kind === "spot") && task.at && (
        <PickMark at={toScreen(view, task.at)} />
      )}
      {task.kind === "near" && <LayLine from={toScreen(view, task.ends[0])} to={toScreen(view, task.ends[1])} />}
      {opening && <Opening oval={opening} view={view} />}
      {laying && <LayLine from={toScreen(view, laying[0])} to={toScreen(view, laying[1])} />}
      {laying && task.kind === "place" && task.thing === "length" && (
        <ThumbMarks from={toScreen(view, laying[0])} to={toScreen(view, laying[1])} unit={drawn.unit * view.k} />
      )}
      {!laying && first && (
        <circle cx={toScreen(view, first)[0]} cy={toScreen(view, first)[1]} r={5} className="handle" />
      )}
      {cursor && (placing || task.kind === "pick") && <PickMark at={toScreen(view, cursor)} />}
      {looking && (
        <Loupe
          picture={picture}
          at={looking}
          corner={cornerAway(toScreen(view, looking), size)}
          scale={view.k}
          line={laying ?? (held && chosen && isEdge(chosen) ? [chosen.p, chosen.q] : null)}
        />
      )}
    </svg>
  );
}

/** The stage's corner that lies away from the hand. */
function cornerAway([x, y]: Point, size: { width: number; height: number }): Point {
  const margin = LOUPE_RADIUS + 14;
  return [x > size.width / 2 ? margin : size.width - margin, y > size.height / 2 ? margin : size.height - margin];
}
