import { ZoomIn, ZoomOut } from "lucide-react";
import type { StandFile, StandView } from "../api/types";
import { IconButton } from "../ui/IconButton";
import { figure } from "../ui/locale";
import { Tick } from "../ui/Tick";
import { t } from "../words";
import { viewOf } from "./edits";
import { distanceTo, pitchTo, type Spot } from "./eye";
import { LENS, OBLIQUE, SUN, VIEW } from "./fields";
import { Measures } from "./Measures";
import { DAYLIGHT } from "./shading";

const PRESETS = {
  "bird's-eye": t("stand.eyePanel.birdsEye"),
  normal: t("stand.eyePanel.normal"),
  "worm's-eye": t("stand.eyePanel.wormsEye"),
  "straight up": t("stand.eyePanel.straightUp"),
  "straight down": t("stand.eyePanel.straightDown"),
  "one-point": t("stand.eyePanel.onePoint"),
  "two-point": t("stand.eyePanel.twoPoint"),
  "three-point": t("stand.eyePanel.threePoint"),
  isometric: t("stand.eyePanel.isometric"),
  oblique: t("stand.eyePanel.oblique"),
  square: t("stand.eyePanel.square"),
} as const;
export type PresetName = keyof typeof PRESETS;

interface EyePanelProps {
  file: StandFile;
  pivot: Spot;
  /** The view that this one is compared with. */
  before: StandView | null;
  same: boolean;
  onSame: (on: boolean) => void;
  onPreset: (preset: PresetName) => void;
  onStep: (share: number) => void;
  onView: (view: StandView) => void;
  onFile: (file: StandFile) => void;
}

/** Where the eye stands and how it looks. */
export function EyePanel({ file, pivot, before, same, onSame, onPreset, onStep, onView, onFile }: EyePanelProps) {
  const view = viewOf(file);
  const level = view.pitch_deg === 0;
  const sun = file.sun_deg ?? null;
  return (
    <section aria-label={t("stand.eyePanel.theEye")} className="eye-panel">
      <div className="flex items-center gap-1.5">
        <select
          className="select select-sm grow"
          aria-label={t("stand.eyePanel.takeView")}
          value=""
          onChange={(event) => onPreset(event.target.value as PresetName)}
        >
          <option value="" disabled>
            {t("stand.eyePanel.takeViewMore")}
          </option>
          {Object.entries(PRESETS).map(([value, words]) => (
            <option key={value} value={value}>
              {words}
            </option>
          ))}
        </select>
        <IconButton
          icon={ZoomIn}
          label={t("stand.eyePanel.stepNearer")}
          title={t("stand.eyePanel.stepNearerHint")}
          onClick={() => onStep(0.9)}
        />
        <IconButton
          icon={ZoomOut}
          label={t("stand.eyePanel.stepBack")}
          title={t("stand.eyePanel.stepBackHint")}
          onClick={() => onStep(1 / 0.9)}
        />
      </div>
      {!view.parallel && (
        <div className="flex flex-wrap gap-x-4 gap-y-1 text-sm">
          <Tick className="flex items-center gap-1.5" title="K" checked={same} onTick={onSame}>
            {t("stand.eyePanel.sameSize")}
          </Tick>
          <Tick
            className="flex items-center gap-1.5"
            checked={level}
            onTick={(on) => onView({ ...view, pitch_deg: on ? 0 : pitchTo(view, pivot) })}
          >
            {t("stand.eyePanel.lookLevel")}
          </Tick>
        </div>
      )}
      <details className="text-sm">
        <summary className="cursor-pointer tabular-nums">{viewWords(view, pivot)}</summary>
        <div className="mt-1 flex flex-col gap-1.5">
          <Measures
            record={view}
            measures={[...VIEW, ...(view.parallel ? [] : LENS), ...(view.parallel === "oblique" ? OBLIQUE : [])]}
            onRecord={onView}
          />
          <Tick
            className="thing-select"
            checked={sun !== null}
            onTick={(on) => onFile({ ...file, sun_deg: on ? DAYLIGHT : null })}
          >
            {t("stand.eyePanel.sunCastingShadows")}
          </Tick>
          {sun && <Measures record={file} measures={SUN} onRecord={onFile} />}
        </div>
      </details>
      {before && (
        <p className="text-sm tabular-nums" data-testid="compared">
          <b>{t("stand.eyePanel.kept")}</b> {viewWords(before, pivot)}
        </p>
      )}
    </section>
  );
}

function viewWords(view: StandView, pivot: Spot): string {
  if (view.parallel) return t("stand.eyePanel.parallelView", { kind: view.parallel, pixels: figure(view.px_per_m, 0) });
  const pitch =
    Math.abs(view.pitch_deg) < 0.05
      ? "level"
      : t(view.pitch_deg > 0 ? "stand.eyePanel.pitchUp" : "stand.eyePanel.pitchDown", {
          degrees: figure(Math.abs(view.pitch_deg), 0),
        });
  return t("stand.eyePanel.perspectiveView", {
    height: figure(view.eye_m[2], 2),
    distance: figure(distanceTo(view, pivot), 1),
    pitch,
    focal: figure(view.focal_35mm, 0),
  });
}
