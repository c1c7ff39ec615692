import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { type Family, isEdge, isRim, type Plane, type Point, proposeFamily, type SheetFull } from "../api/client";
import { isTyping } from "../app/keys";
import { ScreenTools } from "../app/ScreenTools";
import { middleOf, roundPoint, type View } from "../stage/geometry";
import { Stage, type Task, type Thing } from "../stage/Stage";
import {
  addArcPoint,
  addEdge,
  addForm,
  addRim,
  dropArcPoint,
  formsOf,
  moveHandle,
  remove,
  rename,
  renameForm,
  reorder,
  setFamily,
  setFormKind,
  setFormOf,
  setPlane,
  setSlope,
  sightingsOf,
} from "./edits";
import { FirstWalk, useFirstWalk } from "./FirstWalk";
import { FAMILY_KEYS, PLANES, planeOf } from "./families";
import { JudgePanel } from "./JudgePanel";
import { KeepDialogs } from "./KeepDialogs";
import { LevelRail } from "./LevelRail";
import { LongTable } from "./LongTable";
import { SheetTools } from "./SheetTools";
import { Slips } from "./Slips";
import { Notes, Standing } from "./Standing";
import type { Tabs } from "./stash";
import { useSheet } from "./useSheet";

const JUDGE_KEY = "aspectum.judge-first";

/** The screen that students spend their hours on. */
export function SightingScreen({ full, tabs }: { full: SheetFull; tabs: Tabs }) {
  const open = useSheet(full, tabs);
  const { sheet, report } = open;
  const [selected, setSelected] = useState<string | null>(null);
  const [task, setTask] = useState<Task>({ kind: "look" });
  const [needle, setNeedle] = useState(0);
  const [judgeFirst, setJudgeFirst] = useState(() => localStorage.getItem(JUDGE_KEY) !== "off");
  const [form, setForm] = useState(() => formsOf(full.document)[0]?.id ?? "form-1");
  const [place, setPlace] = useState<{ view: View; height: number } | null>(null);
  const [said, setSaid] = useState("");
  const [rimsShown, setRimsShown] = useState(false);
  const walk = useFirstWalk();
  const levelIsSet = !!sheet.eye_level;

  const begin = useCallback(
    (thing: Thing) => {
      setSelected(null);
      setTask(judgeFirst ? { kind: "pick", thing } : { kind: "place", thing, at: null, judged: null });
      setSaid(judgeFirst ? `Point at the ${thing} that you will judge.` : `Lay the ${thing} on the picture.`);
      focusStage();
    },
    [judgeFirst],
  );

  const commit = useCallback(() => {
    setTask((old) => (old.kind === "judge" ? { kind: "place", thing: old.thing, at: old.at, judged: needle } : old));
    setSaid("Judged. Now lay it on the picture.");
    focusStage();
  }, [needle]);

  const sheetNow = useRef(sheet);
  sheetNow.current = sheet;

  const point = useCallback(
    (at: Point) => {
      if (task.kind === "pick") {
        setNeedle(0);
        setTask({ kind: "judge", thing: task.thing, at });
      } else if (task.kind === "near") {
        // a second rim of a form most often lies as the first does
        const fellow = sightingsOf(sheetNow.current).find((s) => isRim(s) && s.form === form);
        const plane = (fellow && isRim(fellow) && fellow.plane) || "level";
        const added = addRim(sheetNow.current, {
          form,
          plane,
          ends: task.ends,
          near: at,
          judged_degree_deg: task.judged,
        });
        open.change(added.sheet);
        setTask({ kind: "look" });
        setSelected(added.id);
        setSaid(`Laid as ${PLANES[plane].name}. P adds points along the arc.`);
      } else if (task.kind === "arc") {
        open.change(addArcPoint(sheetNow.current, task.id, at));
      }
    },
    [form, open.change, task],
  );

  const lay = useCallback(
    async (p: Point, q: Point) => {
      if (task.kind !== "place") return;
      const judged = task.judged;
      if (task.thing === "rim") {
        setTask({ kind: "near", thing: "rim", at: task.at, judged, ends: [p, q] });
        setSaid("Now point at the near arc.");
        return;
      }
      setTask({ kind: "look" });
      let family: Family = Math.abs(q[1] - p[1]) > 3 * Math.abs(q[0] - p[0]) ? "upright" : "right";
      try {
        const body = { document: sheetNow.current, form, p, q };
        family = (await proposeFamily(body)).family;
      } catch {
        setSaid("The server cannot be reached; choose the family yourself.");
      }
      const added = addEdge(sheetNow.current, {
        form,
        family,
        p,
        q,
        judged_tilt_deg: judged,
      });
      open.change(added.sheet);
      setSelected(added.id);
      setSaid(`Laid as ${family}. Press L, R, U, D, X or S to change the family.`);
    },
    [form, open.change, task],
  );

  const moveLevel = useCallback(
    (side: "left" | "right" | "both", dy: number, done: boolean) => {
      const from = levelFrom.current ?? sheetNow.current.eye_level;
      if (!from) return;
      levelFrom.current = done ? null : from;
      const round = (y: number) => Math.round(y * 10) / 10;
      const eye_level = {
        left_y_px: round(from.left_y_px + (side === "right" ? 0 : dy)),
        right_y_px: round(from.right_y_px + (side === "left" ? 0 : dy)),
      };
      const next = { ...sheetNow.current, eye_level };
      if (done) open.change(next);
      else open.show(next);
    },
    [open.change, open.show],
  );
  const levelFrom = useRef<typeof sheet.eye_level>(null);

  const turnLevel = useCallback(() => {
    const now = sheetNow.current;
    if (now.eye_level) {
      open.change({ ...now, eye_level: null });
      setSaid("Eye level is found from the sightings.");
      return;
    }
    const found = report.eye_level;
    const middle = now.picture.height_px / 2;
    open.change({
      ...now,
      eye_level: {
        left_y_px: Math.round((found.left_y_px ?? middle) * 10) / 10,
        right_y_px: Math.round((found.right_y_px ?? middle) * 10) / 10,
      },
    });
    setSaid("Eye level is set by hand. Drag the line, or its ends.");
  }, [open.change, report.eye_level]);

  const actions = useMemo(
    () => ({
      select: setSelected,
      family: (id: string, family: Family) => open.change(setFamily(sheetNow.current, id, family)),
      plane: (id: string, plane: Plane) => open.change(setPlane(sheetNow.current, id, plane)),
      addPoints: (id: string) => {
        setSelected(id);
        setTask({ kind: "arc", thing: "rim", at: null, id });
        setSaid("Point along the arc. Escape ends.");
        focusStage();
      },
      slope: (id: string, slope: string) => open.change(setSlope(sheetNow.current, id, slope)),
      form: (id: string, to: string) => open.change(setFormOf(sheetNow.current, id, to)),
      rename: (id: string, name: string) => open.change(rename(sheetNow.current, id, name)),
      reorder: (id: string, by: -1 | 1) => open.change(reorder(sheetNow.current, id, by)),
      remove: (id: string) => {
        open.change(remove(sheetNow.current, id));
        setSelected(null);
        setSaid("Deleted. Ctrl Z brings it back.");
      },
    }),
    [open.change],
  );

  const undoPoint = useCallback(() => {
    if (task.kind === "arc") open.change(dropArcPoint(sheetNow.current, task.id));
  }, [open.change, task]);

  const newForm = useCallback(() => {
    const added = addForm(sheetNow.current);
    open.change(added.sheet);
    setForm(added.id);
    setSaid("A new form. Edges laid from now on belong to it.");
  }, [open.change]);

  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (isTyping(event.target) || document.querySelector("dialog[open]")) return;
      const key = event.key.length === 1 ? event.key.toLowerCase() : event.key;
      if ((event.ctrlKey || event.metaKey) && key === "z") {
        event.preventDefault();
        if (event.shiftKey) open.redo();
        else open.undo();
        return;
      }
      if (event.ctrlKey || event.metaKey) return;
      const list = sightingsOf(sheetNow.current);
      const index = list.findIndex((s) => s.id === selected);
      if (
        event.altKey &&
        selected &&
        (key === "ArrowUp" || key === "ArrowDown") &&
        !(event.target as Element).closest("[data-handle],[data-level],[role=slider]")
      ) {
        event.preventDefault();
        actions.reorder(selected, key === "ArrowUp" ? -1 : 1);
      } else if (event.altKey) return;
      else if (key === "Escape") {
        if (task.kind !== "look") setTask({ kind: "look" });
        else setSelected(null);
      } else if (key === "a" && task.kind === "look") begin("edge");
      else if (key === "c" && task.kind === "look") begin("rim");
      else if (key === "o") setRimsShown((old) => !old);
      else if (key === "p" && task.kind === "look" && list[index]?.kind === "rim" && selected)
        actions.addPoints(selected);
      else if (key === "Backspace" && task.kind === "arc") undoPoint();
      else if (key === "j") turnJudging();
      else if (key === "n" && task.kind === "look") newForm();
      else if (key === "e" && task.kind === "look") turnLevel();
      else if ((key === "Delete" || key === "Backspace") && selected) actions.remove(selected);
      else if (key === "[" || key === "]") {
        const next = list[index < 0 ? 0 : Math.min(list.length - 1, Math.max(0, index + (key === "]" ? 1 : -1)))];
        if (next) setSelected(next.id);
      } else if (FAMILY_KEYS[key] && selected && task.kind === "look") {
        const plane = planeOf(FAMILY_KEYS[key]);
        if (list[index]?.kind === "edge") actions.family(selected, FAMILY_KEYS[key]);
        else if (list[index]?.kind === "rim" && plane) actions.plane(selected, plane);
      } else return;
      if (key !== "Escape") event.preventDefault();
    };
    const turnJudging = () =>
      setJudgeFirst((old) => {
        localStorage.setItem(JUDGE_KEY, old ? "off" : "on");
        setSaid(old ? "Judging is off: edges are laid at once." : "Judge first is on.");
        return !old;
      });
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [actions, begin, newForm, open.redo, open.undo, selected, task.kind, turnLevel, undoPoint]);

  const chosen = sightingsOf(sheet).find((s) => s.id === selected);
  const chosenForm = chosen?.form;
  useEffect(() => {
    // what is added next most often belongs to the form in hand
    if (chosenForm) setForm(chosenForm);
  }, [chosenForm]);
  const chosenEdge = chosen && isEdge(chosen) ? chosen : null;
  const chosenRim = chosen && isRim(chosen) ? chosen : null;
  const runsTo = chosenEdge?.family ?? (chosenRim ? PLANES[chosenRim.plane ?? "level"].family : null);
  const lit = chosen
    ? (report.vanishing_points.find((v) => v.family === runsTo && v.form === (chosen.form ?? "form")) ?? null)
    : null;
  const rimFinding = chosenRim ? report.findings.find((f) => f.sighting === chosenRim.id) : null;
  const litHeight = chosenEdge ? middleOf(chosenEdge.p, chosenEdge.q)[1] : (rimFinding?.centre_px?.[1] ?? null);
  const judgingRim = task.kind !== "look" && task.kind !== "arc" && task.thing === "rim";
  const onView = useCallback((view: View, height: number) => setPlace({ view, height }), []);
  const formName = (id: string | null) => formsOf(sheet).find((f) => f.id === id)?.name ?? "";

  return (
    <div className="sighting-grid">
      <h1 className="sr-only">{sheet.title || "Sighting sheet"}</h1>
      <ScreenTools>
        <SheetTools
          open={open}
          sheetId={full.id}
          judgeFirst={judgeFirst}
          onJudgeFirst={(on) => {
            localStorage.setItem(JUDGE_KEY, on ? "on" : "off");
            setJudgeFirst(on);
          }}
          onWalk={walk.start}
        />
      </ScreenTools>
      <div className="area-rail">
        <LevelRail
          report={report}
          view={place?.view ?? null}
          height={place?.height ?? 400}
          litHeight={litHeight}
          ladder={report.ladders.find((l) => l.form === chosenRim?.form) ?? null}
          hidden={judgingRim && judgeFirst}
        />
      </div>
      <div className="area-stage relative min-h-0 min-w-0 bg-base-300">
        <Stage
          picture={open.picture}
          sheet={sheet}
          report={report}
          selected={selected}
          task={task}
          levelIsSet={levelIsSet}
          rimsDue={rimsShown ? { form: chosenRim?.form ?? null } : null}
          onSelect={setSelected}
          onPoint={point}
          onPlace={(p, q) => void lay(roundPoint(p), roundPoint(q))}
          onMoveHandle={(id, key, to, done) => {
            const next = moveHandle(sheetNow.current, id, key, to);
            if (done) open.change(next);
            else open.show(next);
          }}
          onMoveLevel={moveLevel}
          onView={onView}
        />
      </div>
      <div className="area-slips flex min-h-0 flex-col border-l border-base-300 bg-base-200">
        <div className="flex items-center gap-1.5 p-2">
          <button
            type="button"
            className="btn btn-primary btn-sm"
            onClick={() => begin("edge")}
            title="Add an edge (A)"
          >
            Add an edge
          </button>
          <button type="button" className="btn btn-primary btn-sm" onClick={() => begin("rim")} title="Add a rim (C)">
            Add a rim
          </button>
          <button
            type="button"
            className={`btn btn-sm ml-auto ${rimsShown ? "btn-primary" : ""}`}
            aria-pressed={rimsShown}
            onClick={() => setRimsShown((old) => !old)}
            title="Show all rims that the forms should have (O)"
          >
            All rims
          </button>
        </div>
        <div className="flex items-center gap-1.5 border-b border-base-300 px-2 pb-2">
          <select
            className="select select-sm min-w-0 grow"
            aria-label="Form for what is added"
            value={form}
            onChange={(event) => setForm(event.target.value)}
          >
            {formsOf(sheet).map((f) => (
              <option key={f.id} value={f.id}>
                {f.name ?? f.id}
              </option>
            ))}
          </select>
          <FormButtons
            onNew={newForm}
            onRename={(name) => open.change(renameForm(sheetNow.current, form, name))}
            onKind={(kind) => open.change(setFormKind(sheetNow.current, form, kind))}
            name={formName(form)}
            kind={formsOf(sheet).find((f) => f.id === form)?.kind ?? "box"}
          />
        </div>
        <JudgePanel
          task={task}
          needle={needle}
          onNeedle={setNeedle}
          onCommit={commit}
          onCancel={() => setTask({ kind: "look" })}
          onUndoPoint={undoPoint}
        />
        <Standing report={report} levelIsSet={levelIsSet} onTurnLevel={turnLevel} />
        <div className="min-h-0 grow overflow-y-auto" data-testid="slips">
          <Notes report={report} count={sightingsOf(sheet).length} />
          <Slips sheet={sheet} report={report} selected={selected} actions={actions} />
        </div>
      </div>
      <div className="area-table">
        <LongTable picture={open.picture} report={report} lit={lit} formName={formName} />
      </div>
      <p className="sr-only" role="status" aria-live="polite">
        {said}
      </p>
      <KeepDialogs open={open} />
      {walk.step !== null && <FirstWalk walk={walk} />}
    </div>
  );
}

function focusStage(): void {
  document.querySelector<SVGElement>("[data-testid=stage]")?.focus();
}

const FORM_KINDS = ["box", "cylinder", "building", "other"] as const;
type FormKind = (typeof FORM_KINDS)[number];

function FormButtons({
  onNew,
  onRename,
  onKind,
  name,
  kind,
}: {
  onNew: () => void;
  onRename: (name: string) => void;
  onKind: (kind: FormKind) => void;
  name: string;
  kind: FormKind;
}) {
  const [editing, setEditing] = useState(false);
  if (editing)
    return (
      <input
        className="input input-sm w-28"
        aria-label="Name of the form"
        defaultValue={name}
        maxLength={200}
        ref={(element) => element?.focus()}
        onBlur={(event) => {
          if (event.target.value.trim()) onRename(event.target.value.trim());
          setEditing(false);
        }}
        onKeyDown={(event) => {
          if (event.key === "Enter") event.currentTarget.blur();
          if (event.key === "Escape") setEditing(false);
        }}
      />
    );
  return (
    <>
      <select
        className="select select-sm w-26 shrink-0"
        aria-label={`Kind of ${name}`}
        value={kind}
        onChange={(event) => onKind(event.target.value as FormKind)}
      >
        {FORM_KINDS.map((k) => (
          <option key={k} value={k}>
            {k}
          </option>
        ))}
      </select>
      <button
        type="button"
        className="btn btn-ghost btn-sm px-1.5"
        onClick={() => setEditing(true)}
        aria-label={`Rename ${name}`}
      >
        Rename
      </button>
      <button type="button" className="btn btn-ghost btn-sm px-1.5" onClick={onNew} title="New form (N)">
        New form
      </button>
    </>
  );
}
