import { ZoomIn, ZoomOut } from "lucide-react";
import type { StandFile, StandView } from "../api/types";
import { IconButton } from "../ui/IconButton";
import { NumberInput } from "../ui/NumberInput";
import { viewOf } from "./edits";
import { distanceTo, looking, type Spot, wrapHeading } from "./eye";

const PRESETS = {
  "bird's-eye": "Bird’s-eye",
  normal: "Normal",
  "worm's-eye": "Worm’s-eye",
  "straight up": "Straight up",
  "straight down": "Straight down",
  "one-point": "One-point",
  "two-point": "Two-point",
  "three-point": "Three-point",
  isometric: "Isometric",
  oblique: "Oblique",
  square: "Square to its front",
} as const;
export type PresetName = keyof typeof PRESETS;

/** Where the eye stands and how it looks. */
export function EyePanel({
  file,
  pivot,
  before,
  same,
  onSame,
  onPreset,
  onStep,
  onView,
  onFile,
}: {
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
}) {
  const view = viewOf(file);
  const level = view.pitch_deg === 0;
  const sun = file.sun_deg ?? null;
  return (
    <section aria-label="The eye" className="eye-panel">
      <div className="flex items-center gap-1.5">
        <select
          className="select select-sm grow"
          aria-label="Take up a view"
          value=""
          onChange={(event) => onPreset(event.target.value as PresetName)}
        >
          <option value="" disabled>
            Take up a view…
          </option>
          {Object.entries(PRESETS).map(([value, words]) => (
            <option key={value} value={value}>
              {words}
            </option>
          ))}
        </select>
        <IconButton icon={ZoomIn} label="Step nearer" title="Step nearer (+)" onClick={() => onStep(0.9)} />
        <IconButton icon={ZoomOut} label="Step back" title="Step back (−)" onClick={() => onStep(1 / 0.9)} />
      </div>
      {!view.parallel && (
        <div className="flex flex-wrap gap-x-4 gap-y-1 text-sm">
          <label className="flex items-center gap-1.5" title="K">
            <input
              type="checkbox"
              className="checkbox checkbox-sm"
              checked={same}
              onChange={(event) => onSame(event.target.checked)}
            />
            same size on the sheet
          </label>
          <label className="flex items-center gap-1.5">
            <input
              type="checkbox"
              className="checkbox checkbox-sm"
              checked={level}
              onChange={(event) => onView({ ...view, pitch_deg: event.target.checked ? 0 : tiltTo(view, pivot) })}
            />
            look level
          </label>
        </div>
      )}
      <details className="text-sm">
        <summary className="cursor-pointer tabular-nums">{viewWords(view, pivot)}</summary>
        <div className="thing-fields mt-1">
          <NumberInput
            label="eye above ground"
            value={view.eye_m[2]}
            least={-10_000}
            most={10_000}
            step={0.1}
            unit="m"
            onValue={(z) => z !== null && onView({ ...view, eye_m: [view.eye_m[0], view.eye_m[1], z] })}
          />
          <NumberInput
            label="heading"
            value={view.heading_deg}
            digits={1}
            least={-360}
            most={360}
            step={5}
            unit="°"
            onValue={(heading) => heading !== null && onView({ ...view, heading_deg: wrapHeading(heading) })}
          />
          {!view.parallel && (
            <>
              <NumberInput
                label="looks up"
                value={view.pitch_deg}
                digits={1}
                least={-90}
                most={90}
                step={1}
                unit="°"
                onValue={(pitch) => pitch !== null && onView(looking(view, 0, pitch - view.pitch_deg))}
              />
              <NumberInput
                label="rolled"
                value={view.roll_deg}
                digits={1}
                least={-180}
                most={180}
                step={1}
                unit="°"
                onValue={(roll_deg) => roll_deg !== null && onView({ ...view, roll_deg })}
              />
              <NumberInput
                label="lens"
                value={view.focal_35mm}
                digits={1}
                least={2}
                most={2000}
                step={1}
                unit="mm"
                onValue={(focal_35mm) => focal_35mm !== null && onView({ ...view, focal_35mm })}
              />
            </>
          )}
          {view.parallel === "oblique" && (
            <>
              <NumberInput
                label="depths run at"
                value={view.oblique_deg}
                digits={1}
                least={1}
                most={89}
                step={5}
                unit="°"
                onValue={(oblique_deg) => oblique_deg !== null && onView({ ...view, oblique_deg })}
              />
              <NumberInput
                label="depth scale"
                value={view.depth_scale}
                digits={2}
                least={0.05}
                most={1}
                step={0.1}
                unit=""
                onValue={(depth_scale) => depth_scale !== null && onView({ ...view, depth_scale })}
              />
            </>
          )}
          <label className="thing-select">
            <input
              type="checkbox"
              className="checkbox checkbox-sm"
              checked={sun !== null}
              onChange={(event) => onFile({ ...file, sun_deg: event.target.checked ? [-130, 42] : null })}
            />
            sun, casting shadows
          </label>
          {sun && (
            <>
              <NumberInput
                label="sun stands at"
                value={sun[0]}
                digits={0}
                least={-360}
                most={360}
                step={5}
                unit="°"
                onValue={(v) => v !== null && onFile({ ...file, sun_deg: [v, sun[1]] })}
              />
              <NumberInput
                label="sun’s height"
                value={sun[1]}
                digits={0}
                least={2}
                most={90}
                step={5}
                unit="°"
                onValue={(v) => v !== null && onFile({ ...file, sun_deg: [sun[0], v] })}
              />
            </>
          )}
        </div>
      </details>
      {before && (
        <p className="text-sm tabular-nums" data-testid="compared">
          <b>Kept:</b> {viewWords(before, pivot)}
        </p>
      )}
    </section>
  );
}

/** The pitch at which the middle of the set-up comes to the middle of the picture. */
function tiltTo(view: StandView, pivot: Spot): number {
  const away = Math.hypot(pivot[0] - view.eye_m[0], pivot[1] - view.eye_m[1]);
  return (Math.atan2(pivot[2] - view.eye_m[2], away) * 180) / Math.PI;
}

function viewWords(view: StandView, pivot: Spot): string {
  if (view.parallel) return `${view.parallel} view, ${view.px_per_m.toFixed(0)} px a metre`;
  const pitch =
    Math.abs(view.pitch_deg) < 0.05
      ? "level"
      : `${Math.abs(view.pitch_deg).toFixed(0)}° ${view.pitch_deg > 0 ? "up" : "down"}`;
  return `eye ${view.eye_m[2].toFixed(2)} m, ${distanceTo(view, pivot).toFixed(1)} m away, looking ${pitch}, ${view.focal_35mm.toFixed(0)} mm`;
}
