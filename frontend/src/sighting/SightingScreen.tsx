import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { type Family, isEdge, type Point, proposeFamily, type SheetFull } from "../api/client";
import { isTyping } from "../app/keys";
import { ScreenTools } from "../app/ScreenTools";
import { middleOf, roundPoint, type View } from "../stage/geometry";
import { Stage, type Task } from "../stage/Stage";
import { ConflictDialog } from "./ConflictDialog";
import {
  addEdge,
  addForm,
  formsOf,
  moveEnd,
  remove,
  rename,
  renameForm,
  reorder,
  setFamily,
  setFormOf,
  setSlope,
  sightingsOf,
} from "./edits";
import { FirstWalk, useFirstWalk } from "./FirstWalk";
import { FAMILY_KEYS } from "./families";
import { JudgePanel } from "./JudgePanel";
import { LevelRail } from "./LevelRail";
import { LongTable } from "./LongTable";
import { SheetTools } from "./SheetTools";
import { Slips } from "./Slips";
import { Notes, Standing } from "./Standing";
import { useSheet } from "./useSheet";

const JUDGE_KEY = "aspectum.judge-first";

/** The screen that students spend their hours on. */
export function SightingScreen({ full }: { full: SheetFull }) {
  const open = useSheet(full);
  const { sheet, report } = open;
  const [selected, setSelected] = useState<string | null>(null);
  const [task, setTask] = useState<Task>({ kind: "look" });
  const [needle, setNeedle] = useState(0);
  const [judgeFirst, setJudgeFirst] = useState(() => localStorage.getItem(JUDGE_KEY) !== "off");
  const [form, setForm] = useState(() => formsOf(full.document)[0]?.id ?? "form-1");
  const [place, setPlace] = useState<{ view: View; height: number } | null>(null);
  const [said, setSaid] = useState("");
  const walk = useFirstWalk();
  const levelIsSet = !!sheet.eye_level;

  const begin = useCallback(() => {
    setSelected(null);
    setTask(judgeFirst ? { kind: "pick" } : { kind: "place", at: null, judged: null });
    setSaid(judgeFirst ? "Point at the edge that you will judge." : "Lay the edge on the picture.");
    document.querySelector<SVGElement>("[data-testid=stage]")?.focus();
  }, [judgeFirst]);

  const pick = useCallback((at: Point) => {
    setNeedle(0);
    setTask({ kind: "judge", at });
  }, []);

  const commit = useCallback(() => {
    setTask((old) => (old.kind === "judge" ? { kind: "place", at: old.at, judged: needle } : old));
    setSaid("Judged. Now lay the needle on the edge.");
    document.querySelector<SVGElement>("[data-testid=stage]")?.focus();
  }, [needle]);

  const sheetNow = useRef(sheet);
  sheetNow.current = sheet;
  const lay = useCallback(
    async (p: Point, q: Point) => {
      const judged = task.kind === "place" ? task.judged : null;
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
        !(event.target as Element).closest("[data-end],[data-level],[role=slider]")
      ) {
        event.preventDefault();
        actions.reorder(selected, key === "ArrowUp" ? -1 : 1);
      } else if (event.altKey) return;
      else if (key === "Escape") {
        if (task.kind !== "look") setTask({ kind: "look" });
        else setSelected(null);
      } else if (key === "a" && task.kind === "look") begin();
      else if (key === "j") turnJudging();
      else if (key === "n" && task.kind === "look") newForm();
      else if (key === "e" && task.kind === "look") turnLevel();
      else if ((key === "Delete" || key === "Backspace") && selected) actions.remove(selected);
      else if (key === "[" || key === "]") {
        const next = list[index < 0 ? 0 : Math.min(list.length - 1, Math.max(0, index + (key === "]" ? 1 : -1)))];
        if (next) setSelected(next.id);
      } else if (FAMILY_KEYS[key] && selected && task.kind === "look") {
        if (list[index]?.kind === "edge") actions.family(selected, FAMILY_KEYS[key]);
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
  }, [actions, begin, newForm, open.redo, open.undo, selected, task.kind, turnLevel]);

  const chosen = sightingsOf(sheet).find((s) => s.id === selected);
  const chosenEdge = chosen && isEdge(chosen) ? chosen : null;
  const lit = chosenEdge
    ? (report.vanishing_points.find((v) => v.family === chosenEdge.family && v.form === (chosenEdge.form ?? "form")) ??
      null)
    : null;
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
          litHeight={chosenEdge ? middleOf(chosenEdge.p, chosenEdge.q)[1] : null}
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
          onSelect={setSelected}
          onPick={pick}
          onPlace={(p, q) => void lay(roundPoint(p), roundPoint(q))}
          onMoveEnd={(id, end, to, done) => {
            const next = moveEnd(sheetNow.current, id, end, to);
            if (done) open.change(next);
            else open.show(next);
          }}
          onMoveLevel={moveLevel}
          onView={onView}
        />
      </div>
      <div className="area-slips flex min-h-0 flex-col border-l border-base-300 bg-base-200">
        <div className="flex items-center gap-1.5 border-b border-base-300 p-2">
          <button type="button" className="btn btn-primary btn-sm" onClick={begin} title="Add an edge (A)">
            Add an edge
          </button>
          <select
            className="select select-sm min-w-0 grow"
            aria-label="Form for new edges"
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
            name={formName(form)}
          />
        </div>
        <JudgePanel
          task={task}
          needle={needle}
          onNeedle={setNeedle}
          onCommit={commit}
          onCancel={() => setTask({ kind: "look" })}
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
      {open.save.kind === "conflict" && <ConflictDialog open={open} />}
      {walk.step !== null && <FirstWalk walk={walk} />}
    </div>
  );
}

function FormButtons({ onNew, onRename, name }: { onNew: () => void; onRename: (name: string) => void; name: string }) {
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
