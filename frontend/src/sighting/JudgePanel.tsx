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
  { kinds: ["judge"], words: t("sighting.judgePanel.judgeStep") },
  { kinds: ["place", "seek", "near", "spot"], words: t("sighting.judgePanel.sightStep") },
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

type Adding = Exclude<Task, { kind: "look" } | { kind: "level" }>;

interface Props {
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
}

/** What to do next while a sighting is being added; the free needle, or rim, lives here, beside the
 * picture. */
export function JudgePanel(props: Props) {
  const { task, needle, onNeedle, onCommit, onCancel } = props;
  const panel = useRef<HTMLElement>(null);
  const kind = task.kind;
  useEffect(() => {
    if (kind === "judge") panel.current?.querySelector<SVGElement>("[role=slider]")?.focus();
  }, [kind]);
  if (kind === "look") return null;
  if (kind === "level") return <LevelJudging onCommit={onCommit} onCancel={onCancel} />;
  const { thing } = task;
  const isUnit = thing === "length" && props.unitNeeded;
  const inSteps = kind !== "arc" && kind !== "corners" && !(isPlaced(task) && task.judged === null);
  return (
    <section ref={panel} aria-label={headingOf(task, isUnit)} className="border-b border-base-300 bg-base-100 p-3">
      {inSteps && (
        <ol className="mb-2 flex gap-1 text-xs" aria-hidden="true">
          {STEPS.map((step) => (
            <li key={step.words} className={`step-name ${step.kinds.includes(kind) ? "step-now" : ""}`}>
              {step.words}
            </li>
          ))}
        </ol>
      )}
      <div aria-live="polite">
        <WhatNext task={task} isUnit={isUnit} />
      </div>
      {task.kind === "judge" && <Judging thing={task.thing} needle={needle} onNeedle={onNeedle} onCommit={onCommit} />}
      <div className="mt-2 flex gap-2">
        {kind === "arc" && (
          <button type="button" className="btn btn-sm" disabled={!props.canUndoPoint} onClick={props.onUndoPoint}>
            {t("sighting.judgePanel.takeOneBack")}
          </button>
        )}
        {task.kind === "place" && thing === "edge" && (
          <button type="button" className="btn btn-sm" onClick={props.onFind} title={t("sighting.judgePanel.shiftA")}>
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

/** Whether it was judged, or was not to be, and is being laid. */
function isPlaced(task: Adding): task is Extract<Task, { kind: "place" | "near" | "spot" }> {
  return task.kind === "place" || task.kind === "near" || task.kind === "spot";
}

function headingOf(task: Adding, isUnit: boolean): string {
  if (task.kind === "arc") return t("sighting.judgePanel.addPoints");
  return isUnit ? t("sighting.judgePanel.setTheUnit") : t(`sighting.judgePanel.add.${task.thing}`);
}

/** What the hand or the eye is to do now, after what was judged. */
function WhatNext({ task, isUnit }: { task: Adding; isUnit: boolean }) {
  const asked = task.thing === "face" ? null : ASKED[task.thing];
  const judged = isPlaced(task) ? task.judged : null;
  return (
    <>
      {task.kind === "pick" && <p>{t("sighting.judgePanel.pointAt", { kind: CALLED[task.thing] })}</p>}
      {task.kind === "judge" && <p>{asked?.look}</p>}
      {judged !== null && asked && (
        <b className="tabular-nums">
          {t("sighting.judgePanel.judged")}{" "}
          {asked.unit === "°" ? degreesText(judged) : `${figure(judged, 2)}${asked.unit && ` ${asked.unit}`}`}.{" "}
        </b>
      )}
      {task.kind === "place" && (
        <span>
          {isUnit ? t("sighting.judgePanel.unitFirst") : ""}
          {LAYING[task.thing]}
        </span>
      )}
      {task.kind === "seek" && (
        <>
          {task.missed && <p>{task.missed}</p>}
          <span>{t("sighting.judgePanel.findHow")}</span>
        </>
      )}
      {task.kind === "spot" && <span>{t("sighting.judgePanel.layPart")}</span>}
      {task.kind === "corners" && task.before && <p>{t("sighting.judgePanel.partNeedsFace")}</p>}
      {task.kind === "corners" && <p>{CORNERS[task.laid.length]}</p>}
      {task.kind === "near" && <span>{t("sighting.judgePanel.nearArc")}</span>}
      {task.kind === "arc" && <p>{t("sighting.judgePanel.arcPoints")}</p>}
    </>
  );
}

const STICKS: Partial<Record<Judged, { most: number; unit: string }>> = {
  length: { most: 3, unit: t("sighting.judgePanel.units") },
  part: { most: 1, unit: t("sighting.judgePanel.ofTheFace") },
  height: { most: 3, unit: t("sighting.judgePanel.metres") },
};

/** The judgement on its dial and in figures, until it is committed. */
function Judging({
  thing,
  needle,
  onNeedle,
  onCommit,
}: Pick<Props, "needle" | "onNeedle" | "onCommit"> & { thing: Judged }) {
  const asked = ASKED[thing];
  const stick = STICKS[thing];
  return (
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
      {stick && (
        <StickDial
          label={t("sighting.judgePanel.whatYouJudge", { name: CALLED[thing] })}
          value={needle}
          {...stick}
          onSlide={onNeedle}
        />
      )}
      <div className="mt-2 flex items-center gap-2">
        <JudgedFigure asked={asked} needle={needle} onNeedle={onNeedle} />
        <button type="submit" className="btn btn-primary btn-sm grow">
          {t("sighting.judgePanel.commitEnter")}
        </button>
      </div>
    </form>
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

interface JudgedFigureProps extends Pick<Props, "needle" | "onNeedle"> {
  asked: (typeof ASKED)[Judged];
}

function JudgedFigure({ asked, needle, onNeedle }: JudgedFigureProps) {
  return (
    <label className="flex items-center gap-1.5 text-sm">
      {asked.field}
      <input
        type="number"
        className="input input-sm w-20 tabular-nums"
        min={asked.least}
        max={asked.most}
        step={asked.step}
        value={needle}
        onChange={(event) => {
          const value = Number(event.target.value);
          if (Number.isFinite(value) && value >= asked.least && value <= asked.most) onNeedle(value);
        }}
      />
      {asked.unit}
    </label>
  );
}
