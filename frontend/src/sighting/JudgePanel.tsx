import { useEffect, useRef } from "react";
import { NeedleDial } from "../stage/dials/NeedleDial";
import { RimDial } from "../stage/dials/RimDial";
import { StickDial } from "../stage/dials/StickDial";
import { CALLED, type Judged, type Task, type Thing } from "../stage/task";
import { figure } from "../ui/locale";
import { degreesText } from "../ui/marks";
import { t } from "../words";

const STEPS = [
  { kinds: ["pick"], words: t("sighting.judgePanel.pickOut") },
  { kinds: ["judge"], words: "2 judge" },
  { kinds: ["place", "seek", "near", "spot"], words: "3 sight" },
];

/** What is asked of the eye, and in what it is answered. */
const ASKED: Record<Judged, { look: string; field: string; unit: string; least: number; most: number; step: number }> =
  {
    edge: {
      look: t("sighting.judgePanel.judgeEdge"),
      field: t("sighting.judgePanel.tilt"),
      unit: "°",
      least: -90,
      most: 90,
      step: 0.5,
    },
    tilt: {
      look: t("sighting.judgePanel.judgeDiagonal"),
      field: t("sighting.judgePanel.tilt"),
      unit: "°",
      least: -90,
      most: 90,
      step: 0.5,
    },
    rim: {
      look: t("sighting.judgePanel.judgeRim"),
      field: t("sighting.judgePanel.degree"),
      unit: "°",
      least: 0,
      most: 90,
      step: 0.5,
    },
    length: {
      look: t("sighting.judgePanel.judgeLength"),
      field: t("sighting.judgePanel.unitsField"),
      unit: "",
      least: 0.01,
      most: 1000,
      step: 0.01,
    },
    part: {
      look: t("sighting.judgePanel.judgePart"),
      field: t("sighting.judgePanel.part"),
      unit: "",
      least: -1,
      most: 2,
      step: 0.01,
    },
    height: {
      look: t("sighting.judgePanel.judgeHeight"),
      field: t("sighting.judgePanel.height"),
      unit: "m",
      least: 0.01,
      most: 1000,
      step: 0.05,
    },
  };

/** How to lay each. */
const LAYING: Record<Exclude<Thing, "face" | "part">, string> = {
  edge: t("sighting.judgePanel.layEdge"),
  rim: t("sighting.judgePanel.layRim"),
  length: t("sighting.judgePanel.layLength"),
  tilt: t("sighting.judgePanel.layDiagonal"),
  height: t("sighting.judgePanel.layHeight"),
};

const CORNERS = [
  t("sighting.judgePanel.firstCorner"),
  t("sighting.judgePanel.secondCorner"),
  t("sighting.judgePanel.thirdCorner"),
  t("sighting.judgePanel.lastCorner"),
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
  onFind,
  canUndoPoint,
  unitNeeded,
}: {
  task: Task;
  needle: number;
  onNeedle: (tilt: number) => void;
  onCommit: () => void;
  onCancel: () => void;
  onUndoPoint: () => void;
  /** Have the edge found where it was, or is to be, pointed at. */
  onFind: () => void;
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
  if (kind === "level") return <LevelJudging onCommit={onCommit} onCancel={onCancel} />;
  const { thing } = task;
  const asked = thing === "face" ? null : ASKED[thing];
  const placed = kind === "place" || kind === "near" || kind === "spot";
  const judged = placed ? task.judged : null;
  const isUnit = thing === "length" && unitNeeded;
  const heading =
    kind === "arc"
      ? t("sighting.judgePanel.addPoints")
      : isUnit
        ? t("sighting.judgePanel.setTheUnit")
        : t(`sighting.judgePanel.add.${thing}`);
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
        {kind === "pick" && <p>{t("sighting.judgePanel.pointAt", { kind: CALLED[thing] })}</p>}
        {kind === "judge" && <p>{asked?.look}</p>}
        {judged !== null && asked && (
          <b className="tabular-nums">
            {t("sighting.judgePanel.judged")}{" "}
            {asked.unit === "°" ? degreesText(judged) : `${figure(judged, 2)}${asked.unit && ` ${asked.unit}`}`}.{" "}
          </b>
        )}
        {kind === "place" && (
          <span>
            {isUnit ? t("sighting.judgePanel.unitFirst") : ""}
            {LAYING[task.thing]}
          </span>
        )}
        {kind === "seek" && (
          <>
            {task.missed && <p>{task.missed}</p>}
            <span>{t("sighting.judgePanel.findHow")}</span>
          </>
        )}
        {kind === "spot" && <span>{t("sighting.judgePanel.layPart")}</span>}
        {kind === "corners" && task.before && <p>{t("sighting.judgePanel.partNeedsFace")}</p>}
        {kind === "corners" && <p>{CORNERS[task.laid.length]}</p>}
        {kind === "near" && <span>{t("sighting.judgePanel.nearArc")}</span>}
        {kind === "arc" && <p>{t("sighting.judgePanel.arcPoints")}</p>}
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
              label={t("sighting.judgePanel.whatYouJudge", { name: CALLED[thing] })}
              value={needle}
              most={thing === "part" ? 1 : 3}
              unit={
                thing === "height"
                  ? t("sighting.judgePanel.metres")
                  : thing === "part"
                    ? t("sighting.judgePanel.ofTheFace")
                    : t("sighting.judgePanel.units")
              }
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
              {t("sighting.judgePanel.commitEnter")}
            </button>
          </div>
        </form>
      )}
      <div className="mt-2 flex gap-2">
        {kind === "arc" && (
          <button type="button" className="btn btn-sm" disabled={!canUndoPoint} onClick={onUndoPoint}>
            {t("sighting.judgePanel.takeOneBack")}
          </button>
        )}
        {kind === "place" && thing === "edge" && (
          <button type="button" className="btn btn-sm" onClick={onFind} title={t("sighting.judgePanel.shiftA")}>
            {task.at ? t("sighting.judgePanel.foundHint") : t("sighting.judgePanel.find")}
          </button>
        )}
        <button type="button" className="btn btn-ghost btn-sm" onClick={onCancel}>
          {kind === "arc" ? t("sighting.judgePanel.doneEsc") : t("sighting.judgePanel.cancelEsc")}
        </button>
      </div>
    </section>
  );
}

/** Eye level itself is judged by a line that is dragged across the picture. */
function LevelJudging({ onCommit, onCancel }: { onCommit: () => void; onCancel: () => void }) {
  const done = useRef<HTMLButtonElement>(null);
  useEffect(() => done.current?.focus(), []);
  return (
    <section aria-label={t("sighting.judgePanel.judgeEyeLevel")} className="border-b border-base-300 bg-base-100 p-3">
      <p aria-live="polite">{t("sighting.judgePanel.levelHow")}</p>
      <div className="mt-2 flex gap-2">
        <button ref={done} type="button" className="btn btn-primary btn-sm grow" onClick={onCommit}>
          {t("sighting.judgePanel.commitEnter")}
        </button>
        <button type="button" className="btn btn-ghost btn-sm" onClick={onCancel}>
          {t("sighting.judgePanel.cancelEsc")}
        </button>
      </div>
    </section>
  );
}
