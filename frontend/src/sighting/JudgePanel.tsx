import { useEffect, useRef } from "react";
import { NeedleDial } from "../stage/dials/NeedleDial";
import { RimDial } from "../stage/dials/RimDial";
import type { Task } from "../stage/task";
import { degreesText } from "../ui/marks";

const STEPS = [
  { kinds: ["pick"], words: "1 pick out" },
  { kinds: ["judge"], words: "2 judge" },
  { kinds: ["place", "near"], words: "3 sight" },
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
}: {
  task: Task;
  needle: number;
  onNeedle: (tilt: number) => void;
  onCommit: () => void;
  onCancel: () => void;
  onUndoPoint: () => void;
  /** Whether the rim in hand can spare the point laid last. */
  canUndoPoint: boolean;
}) {
  const panel = useRef<HTMLElement>(null);
  const kind = task.kind;
  useEffect(() => {
    if (kind === "judge") panel.current?.querySelector<SVGElement>("[role=slider]")?.focus();
  }, [kind]);
  if (kind === "look") return null;
  const rim = task.thing === "rim";
  const judged = kind === "place" || kind === "near" ? task.judged : null;
  const heading = kind === "arc" ? "Add points" : rim ? "Add a rim" : "Add an edge";
  return (
    <section ref={panel} aria-label={heading} className="border-b border-base-300 bg-base-100 p-3">
      {kind !== "arc" && !((kind === "place" || kind === "near") && judged === null) && (
        <ol className="mb-2 flex gap-1 text-xs" aria-hidden="true">
          {STEPS.map((step) => (
            <li key={step.words} className={`step-name ${step.kinds.includes(kind) ? "step-now" : ""}`}>
              {step.words}
            </li>
          ))}
        </ol>
      )}
      <div aria-live="polite">
        {kind === "pick" && <p>Point at the {task.thing} on the picture that you will judge.</p>}
        {kind === "judge" &&
          (rim ? (
            <p>Look at the rim. Open the ellipse from a line as far as you see it open, then commit.</p>
          ) : (
            <p>Look at the edge. Turn the needle to the tilt you see, then commit.</p>
          ))}
        {judged !== null && <b className="tabular-nums">Judged {degreesText(judged)}. </b>}
        {kind === "place" &&
          (rim ? (
            <span>Press at one end of the rim’s widest line, drag across, let go at the other end.</span>
          ) : (
            <span>Press at one end of the edge, drag along it, let go at the other end.</span>
          ))}
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
          {rim ? <RimDial degree={needle} onOpen={onNeedle} /> : <NeedleDial tilt={needle} onTurn={onNeedle} />}
          <div className="mt-2 flex items-center gap-2">
            <label className="flex items-center gap-1.5 text-sm">
              {rim ? "Degree" : "Tilt"}
              <input
                type="number"
                className="input input-sm w-20 tabular-nums"
                min={rim ? 0 : -90}
                max={90}
                step={0.5}
                value={needle}
                onChange={(event) => {
                  const value = Number(event.target.value);
                  if (Number.isFinite(value) && value >= (rim ? 0 : -90) && value <= 90) onNeedle(value);
                }}
              />
              °
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
