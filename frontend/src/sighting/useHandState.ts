import { useRef, useState } from "react";
import type { Point } from "../api/types";
import { formsOf } from "../sheet/edits";
import type { OpenSheet } from "../sheet/useSheet";
import type { Judged, Task, Thing } from "../stage/task";

/** What the hand is at: the task, what is chosen, where the needle stands, which form is added to, and what is said of it. */
export function useHandState(open: OpenSheet) {
  const { sheet, report, change, show } = open;
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
  const now = { selected, task, needle, form, asked, said };
  const set = { setSelected, setTask, setNeedle, setForm, setAsked, setSaid };
  return { ...now, ...set, sheetNow, taskNow, reach, report, change, show };
}
export type HandState = ReturnType<typeof useHandState>;

/** As far as a finger points beside what it means. */
export const FINGER_SCREEN_PX = 14;

/** Where a dial stands when a judgement begins. */
export const BEGIN_AT: Record<Judged, number> = { edge: 0, tilt: 0, rim: 0, length: 1, part: 0.5, height: 1.6 };

/** What is laid next of a thing that was, or need not be, judged. */
export function placing(thing: Thing, at: Point | null, judged: number | null, face: string | undefined): Task {
  if (thing === "face") return { kind: "corners", thing, at: null, laid: [] };
  if (thing === "part") return { kind: "spot", thing, at, judged, face: face ?? "" };
  return { kind: "place", thing, at, judged };
}

export function focusStage(): void {
  document.querySelector<SVGElement>("[data-testid=stage]")?.focus();
}
