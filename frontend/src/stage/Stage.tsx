import "./stage.css";
import { type ReactNode, useCallback, useEffect, useRef } from "react";
import type { Picture, Report, Sheet } from "../api/types";
import { useSize } from "../ui/useSize";
import type { Size, View } from "./geometry";
import type { Deeds } from "./hands";
import type { Drawn, Laid } from "./laid";
import { Handles } from "./layers/Handles";
import { InHand } from "./layers/InHand";
import { type Asked, Instruments } from "./layers/Instruments";
import { Photograph } from "./layers/Photograph";
import { Sightings } from "./layers/Sightings";
import { isPlacing, isQuiet, stageLabel, type Task } from "./task";
import { useHands } from "./useHands";
import { useView } from "./useView";

interface Props extends Deeds, Asked {
  picture: Picture;
  sheet: Sheet;
  report: Report;
  selected: string | null;
  task: Task;
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
  const place = useView({ width: picture.width_px, height: picture.height_px }, size);
  const { view } = place;
  const standing = {
    figure: drawn.figure?.foot ?? null,
    guide: drawn.guide && { along: drawn.guide.along, at_px: drawn.guide.answer.at_px },
  };
  const hands = useHands({ box, size, place, sheet, task, standing, deeds });
  const settle = useCallback(
    (element: SVGSVGElement | null) => {
      box.current = element;
      ref(element);
    },
    [ref],
  );
  useEffect(() => onView(view, { width: size.width, height: size.height }), [onView, view, size.width, size.height]);

  const laid: Laid = {
    sheet,
    report,
    findings: new Map(report.findings.map((f) => [f.sighting, f])),
    chosen: (sheet.sightings ?? []).find((s) => s.id === selected) ?? null,
    quiet: isQuiet(task),
  };
  return (
    <svg
      ref={settle}
      className={`stage block h-full w-full touch-none select-none ${isPlacing(task) || task.kind === "pick" ? "cursor-crosshair" : "cursor-grab"}`}
      tabIndex={0}
      role="application"
      aria-label={stageLabel(task, hands.first !== null)}
      onKeyDown={hands.onKeyDown}
      data-testid={name}
    >
      <Photograph picture={picture} view={view} size={size} />
      {under?.(view)}
      <Sightings laid={laid} picture={picture} cone={drawn.cone} view={view} size={size} />
      <Instruments laid={laid} asked={{ fan, rimsDue, probe }} drawn={drawn} view={view} size={size} />
      {over?.(view)}
      {laid.chosen && !laid.quiet && !still && <Handles sighting={laid.chosen} view={view} />}
      <InHand
        hands={hands}
        task={task}
        chosen={laid.chosen}
        picture={picture}
        unit={drawn.unit}
        view={view}
        size={size}
      />
    </svg>
  );
}
