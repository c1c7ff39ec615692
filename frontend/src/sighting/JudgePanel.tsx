import { useEffect, useRef } from "react";
import { NeedleDial } from "../stage/NeedleDial";
import type { Task } from "../stage/Stage";
import { degreesText } from "./families";

/** What to do next while an edge is being added; the free needle lives here, beside the picture. */
export function JudgePanel({
  task,
  needle,
  onNeedle,
  onCommit,
  onCancel,
}: {
  task: Task;
  needle: number;
  onNeedle: (tilt: number) => void;
  onCommit: () => void;
  onCancel: () => void;
}) {
  const panel = useRef<HTMLElement>(null);
  const kind = task.kind;
  useEffect(() => {
    if (kind === "judge") panel.current?.querySelector<SVGElement>("[role=slider]")?.focus();
  }, [kind]);
  if (kind === "look") return null;
  const steps = ["pick", "judge", "place"] as const;
  return (
    <section ref={panel} aria-label="Add an edge" className="border-b border-base-300 bg-base-100 p-3">
      {!(kind === "place" && task.judged === null) && (
        <ol className="mb-2 flex gap-1 text-xs" aria-hidden="true">
          {steps.map((step) => (
            <li key={step} className={`step-name ${step === kind ? "step-now" : ""}`}>
              {{ pick: "1 pick out", judge: "2 judge", place: "3 sight" }[step]}
            </li>
          ))}
        </ol>
      )}
      <div aria-live="polite">
        {kind === "pick" && <p>Point at the edge on the picture that you will judge.</p>}
        {kind === "judge" && <p>Look at the edge. Turn the needle to the tilt you see, then commit.</p>}
        {kind === "place" && (
          <p>
            {task.judged !== null && <b className="tabular-nums">Judged {degreesText(task.judged)}. </b>}
            Press at one end of the edge, drag along it, let go at the other end.
          </p>
        )}
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
          <NeedleDial tilt={needle} onTurn={onNeedle} />
          <div className="mt-2 flex items-center gap-2">
            <label className="flex items-center gap-1.5 text-sm">
              Tilt
              <input
                type="number"
                className="input input-sm w-20 tabular-nums"
                min={-90}
                max={90}
                step={0.5}
                value={needle}
                onChange={(event) => {
                  const value = Number(event.target.value);
                  if (Number.isFinite(value) && Math.abs(value) <= 90) onNeedle(value);
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
      <button type="button" className="btn btn-ghost btn-sm mt-2" onClick={onCancel}>
        Cancel (Esc)
      </button>
    </section>
  );
}
