import { useCallback, useMemo, useRef, useState } from "react";
import { call } from "../api/client";
import {
  type Along,
  type Face,
  type Family,
  isEdge,
  isFace,
  isRim,
  type PartAlong,
  type Plane,
  type Point,
  type Report,
  type Sheet,
  type Sighting,
} from "../api/types";
import {
  accept,
  addAlignment,
  addArcPoint,
  addDivision,
  addEdge,
  addFace,
  addForm,
  addHeight,
  addLength,
  addRim,
  changeSighting,
  dropArcPoint,
  formsOf,
  remove,
  rename,
  reorder,
  setAlong,
  setFamily,
  setFormOf,
  setHidden,
  setJudged,
  setKnown,
  setPlane,
  setSlope,
  setUnit,
  sightingsOf,
  strikeOut,
  unitOf,
} from "../sheet/edits";
import type { OpenSheet } from "../sheet/useSheet";
import { roundPoint, tiltOf } from "../stage/geometry";
import { CALLED, type Judged, type Task, type Thing, type TwoEnded } from "../stage/task";
import type { LevelSide } from "../stage/useHands";
import { PLANES } from "../ui/marks";
import { t } from "../words";

/** Judge, sight, check: what is begun, what is chosen, and every change that the screen can make. */
export function useSighting(open: OpenSheet, judgeFirst: boolean, picture: string, seen: Sheet["found"]) {
  const { sheet, report } = open;
  const [selected, setSelected] = useState<string | null>(null);
  const [task, setTask] = useState<Task>({ kind: "look" });
  const [needle, setNeedle] = useState(0);
  const [form, setForm] = useState(() => formsOf(sheet)[0]?.id ?? "form-1");
  /** The edge whose family is proposed and nobody has confirmed yet. */
  const [asked, setAsked] = useState<string | null>(null);
  /** Said to those who do not see the screen. */
  const [said, setSaid] = useState("");
  const sheetNow = useRef(sheet);
  sheetNow.current = sheet;
  const taskNow = useRef(task);
  taskNow.current = task;
  /** How far beside an edge the finger may be that points at it, px of the picture. */
  const reach = useRef(FINGER_SCREEN_PX);
  const levelFrom = useRef<typeof sheet.eye_level>(null);
  const { change, show } = open;

  const begin = useCallback(
    (thing: Thing, on?: string) => {
      const faces = sightingsOf(sheetNow.current).filter(isFace);
      const face = (faces.find((f) => f.id === (on ?? selected)) ?? faces[0])?.id;
      setSelected(null);
      if (thing === "part" && !face) {
        setTask({ kind: "corners", thing: "face", at: null, laid: [], before: "part" });
        setSaid(t("sighting.useSighting.partNeedsFace"));
        focusStage();
        return;
      }
      // the unit has nothing to be judged by, and a face is no judgement
      const judges = judgeFirst && thing !== "face" && !(thing === "length" && unitOf(sheetNow.current) === null);
      setTask(judges ? { kind: "pick", thing: thing as Judged, face } : placing(thing, null, null, face));
      setSaid(
        judges
          ? t("sighting.useSighting.pointAt", { thing: CALLED[thing] })
          : t("sighting.useSighting.lay", { thing: CALLED[thing] }),
      );
      focusStage();
    },
    [judgeFirst, selected],
  );
  const leave = useCallback(() => setTask({ kind: "look" }), []);
  /** What was proposed is judged by eye as well, before it is accepted. */
  const judgeProposal = useCallback((id: string) => {
    const proposed = sightingsOf(sheetNow.current).find((s) => s.id === id);
    if (!proposed || (!isEdge(proposed) && !isRim(proposed))) return;
    const thing = proposed.kind;
    setSelected(null);
    setNeedle(BEGIN_AT[thing]);
    setTask({ kind: "judge", thing, at: placeOf(proposed), proposal: id });
    setSaid(t("sighting.useSighting.judgeProposed", { thing: CALLED[thing] }));
  }, []);
  /** Eye level itself, judged by a line across the picture. */
  const judgeLevel = useCallback(() => {
    const middle = (sheetNow.current.picture?.height_px ?? 0) / 2;
    setSelected(null);
    setTask({ kind: "level", left_y_px: middle, right_y_px: middle });
    setSaid(t("sighting.useSighting.judgeLevel"));
  }, []);
  const commit = useCallback(() => {
    const now = taskNow.current;
    if (now.kind === "level") {
      const { left_y_px, right_y_px } = now;
      change({ ...sheetNow.current, judged_eye_level: { left_y_px, right_y_px } });
      setTask({ kind: "look" });
      setSaid(t("sighting.useSighting.levelJudged"));
      return;
    }
    if (now.kind !== "judge") return;
    if (now.proposal) {
      const judged = setJudged(sheetNow.current, now.proposal, needle);
      change(accept(judged, [now.proposal]));
      setTask({ kind: "look" });
      setSelected(now.proposal);
      setSaid(t("sighting.useSighting.judgedAndLaid"));
      return;
    }
    setTask(placing(now.thing, now.at, needle, now.face));
    setSaid(t("sighting.useSighting.judgedNowLay"));
    focusStage();
  }, [change, needle]);

  const layFace = useCallback(
    async (corners: Face["corners"], before?: "part") => {
      setTask({ kind: "look" });
      const { else_family, plumb_family } = report.first_guess;
      let laid: Pick<Face, "form" | "families" | "corners"> = { form, families: [else_family, plumb_family], corners };
      try {
        const body = { document: sheetNow.current, form, corners, picture_id: picture };
        laid = await call("post", "/api/propose-face", { body, again: true });
      } catch {
        // laid all the same: its slip changes the families
      }
      const added = addFace(sheetNow.current, laid.form ?? form, laid.families, laid.corners);
      change(added.sheet);
      if (before) {
        sheetNow.current = added.sheet;
        begin(before, added.id);
        return;
      }
      setSelected(added.id);
      setSaid(t("sighting.useSighting.faceLaid"));
    },
    [begin, change, form, picture, report],
  );
  const layEdge = useCallback(
    async (p: Point, q: Point, judged: number | null, next: Task) => {
      setTask(next);
      let family = guessed(report, p, q);
      try {
        const body = { document: sheetNow.current, form, p, q, picture_id: picture };
        family = (await call("post", "/api/propose", { body, again: true })).family;
      } catch {
        setSaid(t("sighting.useSighting.unreachableFamily"));
      }
      // what the whole picture says is held against what is sighted from now on
      const from = seen && !sheetNow.current.found ? { ...sheetNow.current, found: seen } : sheetNow.current;
      const added = addEdge(from, { form, family, p, q, judged_tilt_deg: judged });
      change(added.sheet);
      setSelected(added.id);
      setAsked(added.id);
      setSaid(
        next.kind === "look"
          ? t("sighting.useSighting.laidFamily", { family })
          : t("sighting.useSighting.laidFamilyNext", { family }),
      );
    },
    [change, form, picture, report, seen],
  );
  const layInto = useCallback(
    (into: string, p: Point, q: Point) => {
      change(changeSighting(sheetNow.current, into, (s) => (s.kind === "edge" ? { ...s, p, q } : s)));
      setTask({ kind: "look" });
      setSelected(into);
      setSaid(t("sighting.useSighting.laidBesideRead"));
    },
    [change],
  );
  /** The edge under the finger, laid from end to end; where there is none, it is pointed at anew. */
  const seek = useCallback(
    async (at: Point | null, judged: number | null, into?: string) => {
      const asking: Task = { kind: "seek", thing: "edge", at: null, judged, into, missed: "" };
      setTask(asking);
      if (!at) {
        focusStage();
        return;
      }
      let missed = t("sighting.useSighting.unreachableFind");
      try {
        const body = { at, reach_px: reach.current, tilt_deg: judged };
        const found = await call("post", "/api/pictures/{picture_id}/edge", {
          path: { picture_id: picture },
          body,
          again: true,
        });
        // left meanwhile
        if (taskNow.current.kind !== "seek") return;
        if (found.p && found.q) {
          if (into) layInto(into, found.p, found.q);
          else await layEdge(found.p, found.q, judged, judgeFirst ? { kind: "look" } : asking);
          return;
        }
        missed = found.words;
      } catch {
        // said below
      }
      setTask({ ...asking, missed });
      setSaid(missed);
    },
    [judgeFirst, layEdge, layInto, picture],
  );
  const point = useCallback(
    (at: Point) => {
      if (task.kind === "seek") void seek(at, task.judged, task.into);
      else if (task.kind === "pick") {
        setNeedle(BEGIN_AT[task.thing]);
        setTask({ kind: "judge", thing: task.thing, at, face: task.face });
      } else if (task.kind === "corners") {
        const laid = [...task.laid, at];
        if (laid.length < 4) setTask({ ...task, laid });
        else void layFace(laid as Face["corners"], task.before);
      } else if (task.kind === "spot") {
        const added = addDivision(sheetNow.current, task.face, at, task.judged);
        change(added.sheet);
        setTask({ kind: "look" });
        setSelected(added.id);
        setSaid(t("sighting.useSighting.partLaid"));
      } else if (task.kind === "near") {
        // a second rim of a form most often lies as the first does
        const fellow = sightingsOf(sheetNow.current).find((s) => isRim(s) && s.form === form);
        const plane = (fellow && isRim(fellow) && fellow.plane) || "level";
        const laid = { form, plane, ends: task.ends, near: at, judged_degree_deg: task.judged };
        const added = addRim(sheetNow.current, laid);
        change(added.sheet);
        setTask({ kind: "look" });
        setSelected(added.id);
        setSaid(t("sighting.useSighting.rimLaid", { name: PLANES[plane].name }));
      } else if (task.kind === "arc") change(addArcPoint(sheetNow.current, task.id, at));
    },
    [change, form, layFace, seek, task],
  );

  const lay = useCallback(
    async (from: Point, to: Point) => {
      if (task.kind !== "place") return;
      const [p, q, judged] = [roundPoint(from), roundPoint(to), task.judged];
      if (task.into) {
        layInto(task.into, p, q);
        return;
      }
      if (task.thing === "rim") {
        setTask({ kind: "near", thing: "rim", at: task.at, judged, ends: [p, q] });
        setSaid(t("sighting.useSighting.nearArc"));
        return;
      }
      if (task.thing !== "edge") {
        const added = measured(sheetNow.current, task.thing, form, p, q, judged);
        change(added.sheet);
        setTask({ kind: "look" });
        setSelected(added.id);
        setSaid(t("sighting.useSighting.laid"));
        return;
      }
      // with judging off edges are laid one after another, until Escape
      await layEdge(
        p,
        q,
        judged,
        judgeFirst ? { kind: "look" } : { kind: "place", thing: "edge", at: null, judged: null },
      );
    },
    [change, form, judgeFirst, layEdge, layInto, task],
  );

  /** Have the edge that is about to be laid found where it was, or is to be, pointed at. */
  const findEdge = useCallback(() => {
    if (task.kind === "place" && task.thing === "edge") void seek(task.at, task.judged, task.into);
    else if (task.kind === "look" && judgeFirst) begin("edge");
    else if (task.kind === "look") void seek(null, null);
  }, [begin, judgeFirst, seek, task]);

  const moveLevel = useCallback(
    (side: LevelSide, dy: number, done: boolean) => {
      if (taskNow.current.kind === "level") {
        const start = levelFrom.current ?? taskNow.current;
        levelFrom.current = done ? null : start;
        setTask({
          kind: "level",
          left_y_px: tenths(start.left_y_px + (side === "right" ? 0 : dy)),
          right_y_px: tenths(start.right_y_px + (side === "left" ? 0 : dy)),
        });
        return;
      }
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
      setSaid(t("sighting.useSighting.levelFound"));
    } else if (now.picture) {
      const { left_y_px, right_y_px } = report.eye_level;
      const middle = now.picture.height_px / 2;
      change({
        ...now,
        eye_level: { left_y_px: tenths(left_y_px ?? middle), right_y_px: tenths(right_y_px ?? middle) },
      });
      setSaid(t("sighting.useSighting.levelSet"));
    }
  }, [change, report.eye_level]);

  const actions = useMemo(
    () => ({
      select: setSelected,
      family: (id: string, family: Family) => {
        setAsked(null);
        change(setFamily(sheetNow.current, id, family));
      },
      plane: (id: string, plane: Plane) => change(setPlane(sheetNow.current, id, plane)),
      addPoints: (id: string) => {
        setSelected(id);
        setTask({ kind: "arc", thing: "rim", at: null, id });
        setSaid(t("sighting.useSighting.arcPoints"));
        focusStage();
      },
      layOn: (id: string) => {
        setSelected(null);
        setTask({ kind: "place", thing: "edge", at: null, judged: null, into: id });
        setSaid(t("sighting.useSighting.layReadEdge"));
        focusStage();
      },
      judged: (id: string, value: number | null) => change(setJudged(sheetNow.current, id, value)),
      slope: (id: string, slope: string) => change(setSlope(sheetNow.current, id, slope)),
      along: (id: string, along: Along | PartAlong) => change(setAlong(sheetNow.current, id, along)),
      unit: (id: string) => change(setUnit(sheetNow.current, id)),
      known: (id: string, metres: number | null) => change(setKnown(sheetNow.current, id, metres)),
      hidden: (id: string, tip: "p" | "q", cut: boolean) => change(setHidden(sheetNow.current, id, tip, cut)),
      form: (id: string, to: string) => change(setFormOf(sheetNow.current, id, to)),
      rename: (id: string, name: string) => change(rename(sheetNow.current, id, name)),
      reorder: (id: string, by: -1 | 1) => change(reorder(sheetNow.current, id, by)),
      accept: (ids: string[]) => {
        change(accept(sheetNow.current, ids));
        setSaid(t("sighting.useSighting.accepted", { length: ids.length }));
      },
      judge: judgeProposal,
      strikeOut: (ids: string[]) => {
        change(strikeOut(sheetNow.current, ids));
        setSelected(null);
        setSaid(t("sighting.useSighting.struckOut", { length: ids.length }));
      },
      remove: (id: string) => {
        change(remove(sheetNow.current, id));
        setSelected(null);
        setSaid(t("sighting.useSighting.deleted"));
      },
    }),
    [change, judgeProposal],
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
    setSaid(t("sighting.useSighting.newForm"));
  }, [change]);

  const tools = {
    begin,
    judgeProposal,
    judgeLevel,
    leave,
    commit,
    point,
    lay,
    findEdge,
    reach,
    moveLevel,
    turnLevel,
    undoPoint,
    newForm,
    setSelected,
    setNeedle,
    setForm,
    setSaid,
  };
  return { selected, task, needle, form, said, asked, canUndoPoint, actions, sheetNow, ...tools };
}

/** The middle of an edge, or of a rim's points. */
function placeOf(sighting: Sighting): Point | null {
  const at = isEdge(sighting)
    ? [sighting.p, sighting.q]
    : isRim(sighting)
      ? (sighting.ends ?? sighting.points ?? [])
      : [];
  if (at.length === 0) return null;
  const mean = (k: 0 | 1) => at.reduce((sum, one) => sum + (one as Point)[k], 0) / at.length;
  return [mean(0), mean(1)];
}

function tenths(value: number): number {
  return Math.round(value * 10) / 10;
}

/** As far as a finger points beside what it means. */
export const FINGER_SCREEN_PX = 14;

/** Where a dial stands when a judgement begins. */
const BEGIN_AT: Record<Judged, number> = { edge: 0, tilt: 0, rim: 0, length: 1, part: 0.5, height: 1.6 };

/** What is laid next of a thing that was, or need not be, judged. */
function placing(thing: Thing, at: Point | null, judged: number | null, face: string | undefined): Task {
  if (thing === "face") return { kind: "corners", thing, at: null, laid: [] };
  if (thing === "part") return { kind: "spot", thing, at, judged, face: face ?? "" };
  return { kind: "place", thing, at, judged };
}

function measured(
  sheet: Sheet,
  thing: Exclude<TwoEnded, "edge" | "rim">,
  form: string,
  p: Point,
  q: Point,
  judged: number | null,
) {
  if (thing === "length") return addLength(sheet, form, p, q, judged);
  return thing === "tilt" ? addAlignment(sheet, "tilt", p, q, judged) : addHeight(sheet, p, q, { judged_m: judged });
}

/** The report's own first guess of an edge's family, for want of a better one. */
function guessed(report: Report, p: Point, q: Point): Family {
  const { plumb_deg, plumb_family, else_family } = report.first_guess;
  return 90 - Math.abs(tiltOf(p, q)) < plumb_deg ? plumb_family : else_family;
}

function focusStage(): void {
  document.querySelector<SVGElement>("[data-testid=stage]")?.focus();
}
