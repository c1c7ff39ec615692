import { useCallback } from "react";
import { call } from "../api/client";
import { type Face, type Family, isRim, type Point, type Report, type Sheet } from "../api/types";
import {
  addAlignment,
  addArcPoint,
  addDivision,
  addEdge,
  addFace,
  addHeight,
  addLength,
  addRim,
  changeSighting,
  sightingsOf,
} from "../sheet/edits";
import { roundPoint, tiltOf } from "../stage/geometry";
import type { Task, Thing, TwoEnded } from "../stage/task";
import { PLANES } from "../ui/marks";
import { t } from "../words";
import { BEGIN_AT, focusStage, type HandState } from "./useHandState";

/** What sightings are laid with: the picture looked into, what was seen in it, and the way to begin the next. */
export interface Laying {
  judgeFirst: boolean;
  picture: string;
  seen: Sheet["found"];
  begin: (thing: Thing, on?: string) => void;
}

/** Lay what was judged on the picture: by two ends, by corners, by a point, or by pointing at it. */
export function useLayingOn(hand: HandState, laying: Laying) {
  const edges = useEdges(hand, laying);
  const layFace = useFace(hand, laying);
  const { seek, layEdge, layInto } = edges;
  const { judgeFirst, begin } = laying;
  const { task, form, sheetNow, change, setSelected, setTask, setNeedle, setSaid } = hand;
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
    [change, form, layFace, seek, task, setSaid, sheetNow, setSelected, setTask, setNeedle],
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
    [change, form, judgeFirst, layEdge, layInto, task, sheetNow, setTask, setSelected, setSaid],
  );

  /** Have the edge that is about to be laid found where it was, or is to be, pointed at. */
  const findEdge = useCallback(() => {
    if (task.kind === "place" && task.thing === "edge") void seek(task.at, task.judged, task.into);
    else if (task.kind === "look" && judgeFirst) begin("edge");
    else if (task.kind === "look") void seek(null, null);
  }, [begin, judgeFirst, seek, task]);
  return { point, lay, findEdge };
}

/** A face by its four corners. */
function useFace(hand: HandState, { picture, begin }: Laying) {
  const { form, report, sheetNow, change, setSelected, setTask, setSaid } = hand;
  return useCallback(
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
    [begin, change, form, picture, report, setTask, setSaid, sheetNow, setSelected],
  );
}

/** An edge by its ends, or where the finger points at it. */
function useEdges(hand: HandState, { judgeFirst, picture, seen }: Laying) {
  const { form, report, sheetNow, taskNow, reach, change, setSelected, setAsked, setTask, setSaid } = hand;
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
    [change, form, picture, report, seen, sheetNow, setAsked, setTask, setSelected, setSaid],
  );
  const layInto = useCallback(
    (into: string, p: Point, q: Point) => {
      change(changeSighting(sheetNow.current, into, (s) => (s.kind === "edge" ? { ...s, p, q } : s)));
      setTask({ kind: "look" });
      setSelected(into);
      setSaid(t("sighting.useSighting.laidBesideRead"));
    },
    [change, setSaid, setSelected, setTask, sheetNow],
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
    [judgeFirst, layEdge, layInto, picture, setSaid, reach, taskNow, setTask],
  );
  return { layEdge, layInto, seek };
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
