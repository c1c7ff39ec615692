import { useEffect, useRef } from "react";
import { NeedleDial } from "../stage/dials/NeedleDial";
import { RimDial } from "../stage/dials/RimDial";
import { StickDial } from "../stage/dials/StickDial";
import { CALLED, type Judged, type Task, type Thing } from "../stage/task";
import { degreesText } from "../ui/marks";

const STEPS = [
  { kinds: ["pick"], words: "1 pick out" },
  { kinds: ["judge"], words: "2 judge" },
  { kinds: ["place", "near", "spot"], words: "3 sight" },
];

/** What is asked of the eye, and in what it is answered. */
const ASKED: Record<Judged, { look: string; field: string; unit: string; least: number; most: number; step: number }> =
  {
    edge: {
      look: "Look at the edge. Turn the needle to the tilt you see, then commit.",
      field: "Tilt",
      unit: "°",
      least: -90,
      most: 90,
      step: 0.5,
    },
    tilt: {
      look: "Look from corner to corner. Turn the needle to the tilt you see, then commit.",
      field: "Tilt",
      unit: "°",
      least: -90,
      most: 90,
      step: 0.5,
    },
    rim: {
      look: "Look at the rim. Open the ellipse from a line as far as you see it open, then commit.",
      field: "Degree",
      unit: "°",
      least: 0,
      most: 90,
      step: 0.5,
    },
    length: {
      look: "Compare with the unit: how many times does it go in, or what part is it? Slide the thumb, then commit.",
      field: "Units",
      unit: "",
      least: 0.01,
      most: 1000,
      step: 0.01,
    },
    part: {
      look: "How far along the face does it truly stand, whatever it looks like? Slide the thumb, then commit.",
      field: "Part",
      unit: "",
      least: -1,
      most: 2,
      step: 0.01,
    },
    height: {
      look: "How tall is it? Compare with eye level, then commit.",
      field: "Height",
      unit: "m",
      least: 0.01,
      most: 1000,
      step: 0.05,
    },
  };

/** How to lay each. */
const LAYING: Record<Exclude<Thing, "face" | "part">, string> = {
  edge: "Press at one end of the edge, drag along it, let go at the other end.",
  rim: "Press at one end of the rim’s widest line, drag across, let go at the other end.",
  length: "Press at one end of the length and stretch the stick to the other; the thumb marks carry the unit along.",
  tilt: "Press at one corner, drag to the other, let go.",
  height: "Press at its foot, drag up to its top, let go.",
};

const CORNERS = [
  "Point at the face’s first corner: of a wall the bottom left, of a lid the nearest.",
  "Second corner: anticlockwise round the face, along its foot.",
  "Third corner.",
  "Last corner.",
];

/** What to do next while a sighting is being added; the free needle, or rim, lives here, beside the
 * picture. */
export function JudgePanel({
  task,
  needle,
  onNeedle,
  onCommit,
  onCancel,
  onUndoPoint,
  canUndoPoint,
  unitNeeded,
}: {
  task: Task;
  needle: number;
  onNeedle: (tilt: number) => void;
  onCommit: () => void;
  onCancel: () => void;
  onUndoPoint: () => void;
  /** Whether the rim in hand can spare the point laid last. */
  canUndoPoint: boolean;
  /** Whether the length being laid is the unit, as there is none yet. */
  unitNeeded: boolean;
}) {
  const panel = useRef<HTMLElement>(null);
  const kind = task.kind;
  useEffect(() => {
    if (kind === "judge") panel.current?.querySelector<SVGElement>("[role=slider]")?.focus();
  }, [kind]);
  if (kind === "look") return null;
  const { thing } = task;
  const asked = thing === "face" ? null : ASKED[thing];
  const placed = kind === "place" || kind === "near" || kind === "spot";
  const judged = placed ? task.judged : null;
  const isUnit = thing === "length" && unitNeeded;
  const heading =
    kind === "arc" ? "Add points" : isUnit ? "Set the unit" : `Add ${thing === "edge" ? "an" : "a"} ${CALLED[thing]}`;
  return (
    <section ref={panel} aria-label={heading} className="border-b border-base-300 bg-base-100 p-3">
      {kind !== "arc" && kind !== "corners" && !(placed && judged === null) && (
        <ol className="mb-2 flex gap-1 text-xs" aria-hidden="true">
          {STEPS.map((step) => (
            <li key={step.words} className={`step-name ${step.kinds.includes(kind) ? "step-now" : ""}`}>
              {step.words}
            </li>
          ))}
        </ol>
      )}
      <div aria-live="polite">
        {kind === "pick" && <p>Point at the {CALLED[thing]} on the picture that you will judge.</p>}
        {kind === "judge" && <p>{asked?.look}</p>}
        {judged !== null && asked && (
          <b className="tabular-nums">
            Judged {asked.unit === "°" ? degreesText(judged) : `${judged.toFixed(2)}${asked.unit && ` ${asked.unit}`}`}.{" "}
          </b>
        )}
        {kind === "place" && (
          <span>
            {isUnit ? "First the unit, most often the near upright. " : ""}
            {LAYING[task.thing]}
          </span>
        )}
        {kind === "spot" && <span>Point at the place on the face.</span>}
        {kind === "corners" && <p>{CORNERS[task.laid.length]}</p>}
        {kind === "near" && <span>Now point at the rim’s near arc, about the middle.</span>}
        {kind === "arc" && <p>Point along the arc that you see. Each point steadies the rim.</p>}
      </div>
      {kind === "judge" && (
        <form
          className="mt-2"
          onSubmit={(event) => {
            event.preventDefault();
            onCommit();
          }}
          onKeyDown={(event) => {
            if (event.key === "Enter" && !(event.target instanceof HTMLButtonElement)) {
              event.preventDefault();
              onCommit();
            }
          }}
        >
          {thing === "rim" && <RimDial degree={needle} onOpen={onNeedle} />}
          {(thing === "edge" || thing === "tilt") && <NeedleDial tilt={needle} onTurn={onNeedle} />}
          {(thing === "length" || thing === "part" || thing === "height") && (
            <StickDial
              label={`${CALLED[thing]}: what you judge`}
              value={needle}
              most={thing === "part" ? 1 : 3}
              unit={thing === "height" ? "metres" : thing === "part" ? "of the face" : "units"}
              onSlide={onNeedle}
            />
          )}
          <div className="mt-2 flex items-center gap-2">
            <label className="flex items-center gap-1.5 text-sm">
              {asked?.field}
              <input
                type="number"
                className="input input-sm w-20 tabular-nums"
                min={asked?.least}
                max={asked?.most}
                step={asked?.step}
                value={needle}
                onChange={(event) => {
                  const value = Number(event.target.value);
                  if (asked && Number.isFinite(value) && value >= asked.least && value <= asked.most) onNeedle(value);
                }}
              />
              {asked?.unit}
            </label>
            <button type="submit" className="btn btn-primary btn-sm grow">
              Commit (Enter)
            </button>
          </div>
        </form>
      )}
      <div className="mt-2 flex gap-2">
        {kind === "arc" && (
          <button type="button" className="btn btn-sm" disabled={!canUndoPoint} onClick={onUndoPoint}>
            Take one back
          </button>
        )}
        <button type="button" className="btn btn-ghost btn-sm" onClick={onCancel}>
          {kind === "arc" ? "Done (Esc)" : "Cancel (Esc)"}
        </button>
      </div>
    </section>
  );
}
