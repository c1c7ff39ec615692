import { useCallback, useMemo, useRef, useState } from "react";
import { call } from "../api/client";
import { type Family, isRim, type Plane, type Point, type Report } from "../api/types";
import {
  addArcPoint,
  addEdge,
  addForm,
  addRim,
  dropArcPoint,
  formsOf,
  remove,
  rename,
  reorder,
  setFamily,
  setFormOf,
  setJudged,
  setPlane,
  setSlope,
  sightingsOf,
} from "../sheet/edits";
import type { OpenSheet } from "../sheet/useSheet";
import { roundPoint, tiltOf } from "../stage/geometry";
import type { Task, Thing } from "../stage/task";
import type { LevelSide } from "../stage/useHands";
import { PLANES } from "../ui/marks";

/** Judge, sight, check: what is begun, what is chosen, and every change that the screen can make. */
export function useSighting(open: OpenSheet, judgeFirst: boolean) {
  const { sheet, report } = open;
  const [selected, setSelected] = useState<string | null>(null);
  const [task, setTask] = useState<Task>({ kind: "look" });
  const [needle, setNeedle] = useState(0);
  const [form, setForm] = useState(() => formsOf(sheet)[0]?.id ?? "form-1");
  /** Said to those who do not see the screen. */
  const [said, setSaid] = useState("");
  const sheetNow = useRef(sheet);
  sheetNow.current = sheet;
  const levelFrom = useRef<typeof sheet.eye_level>(null);
  const { change, show } = open;

  const begin = useCallback(
    (thing: Thing) => {
      setSelected(null);
      setTask(judgeFirst ? { kind: "pick", thing } : { kind: "place", thing, at: null, judged: null });
      setSaid(judgeFirst ? `Point at the ${thing} that you will judge.` : `Lay the ${thing} on the picture.`);
      focusStage();
    },
    [judgeFirst],
  );
  const leave = useCallback(() => setTask({ kind: "look" }), []);
  const commit = useCallback(() => {
    setTask((old) => (old.kind === "judge" ? { kind: "place", thing: old.thing, at: old.at, judged: needle } : old));
    setSaid("Judged. Now lay it on the picture.");
    focusStage();
  }, [needle]);

  const point = useCallback(
    (at: Point) => {
      if (task.kind === "pick") {
        setNeedle(0);
        setTask({ kind: "judge", thing: task.thing, at });
      } else if (task.kind === "near") {
        // a second rim of a form most often lies as the first does
        const fellow = sightingsOf(sheetNow.current).find((s) => isRim(s) && s.form === form);
        const plane = (fellow && isRim(fellow) && fellow.plane) || "level";
        const laid = { form, plane, ends: task.ends, near: at, judged_degree_deg: task.judged };
        const added = addRim(sheetNow.current, laid);
        change(added.sheet);
        setTask({ kind: "look" });
        setSelected(added.id);
        setSaid(`Laid as ${PLANES[plane].name}. P adds points along the arc.`);
      } else if (task.kind === "arc") change(addArcPoint(sheetNow.current, task.id, at));
    },
    [change, form, task],
  );

  const lay = useCallback(
    async (from: Point, to: Point) => {
      if (task.kind !== "place") return;
      const [p, q, judged] = [roundPoint(from), roundPoint(to), task.judged];
      if (task.thing === "rim") {
        setTask({ kind: "near", thing: "rim", at: task.at, judged, ends: [p, q] });
        setSaid("Now point at the near arc.");
        return;
      }
      // with judging off edges are laid one after another, until Escape
      setTask(judgeFirst ? { kind: "look" } : { kind: "place", thing: "edge", at: null, judged: null });
      let family = guessed(report, p, q);
      try {
        family = (await call("post", "/api/propose", { body: { document: sheetNow.current, form, p, q } })).family;
      } catch {
        setSaid("The server cannot be reached; choose the family yourself.");
      }
      const added = addEdge(sheetNow.current, { form, family, p, q, judged_tilt_deg: judged });
      change(added.sheet);
      setSelected(added.id);
      setSaid(
        judgeFirst
          ? `Laid as ${family}. Press L, R, U, D, X or S to change the family.`
          : `Laid as ${family}. Lay the next edge, or press Escape.`,
      );
    },
    [change, form, judgeFirst, report, task],
  );

  const moveLevel = useCallback(
    (side: LevelSide, dy: number, done: boolean) => {
      const from = levelFrom.current ?? sheetNow.current.eye_level;
      if (!from) return;
      levelFrom.current = done ? null : from;
      const eye_level = {
        left_y_px: tenths(from.left_y_px + (side === "right" ? 0 : dy)),
        right_y_px: tenths(from.right_y_px + (side === "left" ? 0 : dy)),
      };
      (done ? change : show)({ ...sheetNow.current, eye_level });
    },
    [change, show],
  );
  const turnLevel = useCallback(() => {
    const now = sheetNow.current;
    if (now.eye_level) {
      change({ ...now, eye_level: null });
      setSaid("Eye level is found from the sightings.");
    } else if (now.picture) {
      const { left_y_px, right_y_px } = report.eye_level;
      const middle = now.picture.height_px / 2;
      change({
        ...now,
        eye_level: { left_y_px: tenths(left_y_px ?? middle), right_y_px: tenths(right_y_px ?? middle) },
      });
      setSaid("Eye level is set by hand. Drag the line, or its ends.");
    }
  }, [change, report.eye_level]);

  const actions = useMemo(
    () => ({
      select: setSelected,
      family: (id: string, family: Family) => change(setFamily(sheetNow.current, id, family)),
      plane: (id: string, plane: Plane) => change(setPlane(sheetNow.current, id, plane)),
      addPoints: (id: string) => {
        setSelected(id);
        setTask({ kind: "arc", thing: "rim", at: null, id });
        setSaid("Point along the arc. Escape ends.");
        focusStage();
      },
      judged: (id: string, value: number | null) => change(setJudged(sheetNow.current, id, value)),
      slope: (id: string, slope: string) => change(setSlope(sheetNow.current, id, slope)),
      form: (id: string, to: string) => change(setFormOf(sheetNow.current, id, to)),
      rename: (id: string, name: string) => change(rename(sheetNow.current, id, name)),
      reorder: (id: string, by: -1 | 1) => change(reorder(sheetNow.current, id, by)),
      remove: (id: string) => {
        change(remove(sheetNow.current, id));
        setSelected(null);
        setSaid("Deleted. Ctrl Z brings it back.");
      },
    }),
    [change],
  );

  const inHand = task.kind === "arc" ? task.id : null;
  const rim = sightingsOf(sheet).find((s) => s.id === inHand);
  const least = report.findings.find((f) => f.sighting === inHand)?.rim?.least_points ?? Number.POSITIVE_INFINITY;
  const canUndoPoint = !!rim && isRim(rim) && (rim.points?.length ?? 0) > least;
  const undoPoint = useCallback(() => {
    if (inHand && canUndoPoint) change(dropArcPoint(sheetNow.current, inHand));
  }, [canUndoPoint, change, inHand]);

  const newForm = useCallback(() => {
    const added = addForm(sheetNow.current);
    change(added.sheet);
    setForm(added.id);
    setSaid("A new form. Edges laid from now on belong to it.");
  }, [change]);

  const tools = {
    begin,
    leave,
    commit,
    point,
    lay,
    moveLevel,
    turnLevel,
    undoPoint,
    newForm,
    setSelected,
    setNeedle,
    setForm,
    setSaid,
  };
  return { selected, task, needle, form, said, canUndoPoint, actions, sheetNow, ...tools };
}

function tenths(value: number): number {
  return Math.round(value * 10) / 10;
}

/** The report's own first guess of an edge's family, for want of a better one. */
function guessed(report: Report, p: Point, q: Point): Family {
  const { plumb_deg, plumb_family, else_family } = report.first_guess;
  return 90 - Math.abs(tiltOf(p, q)) < plumb_deg ? plumb_family : else_family;
}

function focusStage(): void {
  document.querySelector<SVGElement>("[data-testid=stage]")?.focus();
}
