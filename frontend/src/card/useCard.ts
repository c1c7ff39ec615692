import { useCallback, useRef, useState } from "react";
import type { Schematic, Sheet, Slot } from "../api/types";
import { sightingsOf } from "../sheet/edits";
import type { OpenSheet } from "../sheet/useSheet";
import { figure } from "../ui/locale";
import { degreesText } from "../ui/marks";
import { t } from "../words";
import {
  addAlignmentReading,
  addRatio,
  addRimReading,
  addTilt,
  type EdgeSlot,
  freeLength,
  type Read,
  type RimPlace,
  type What,
} from "./edits";

/** What the hand is about: nothing, judging by eye, or reading with stick, gauge or thumb. */
export type CardTask =
  | { kind: "rest" }
  | { kind: "judge"; what: What }
  | { kind: "read"; what: What; judged: number | null };

const FIRST: Record<What["kind"], number> = { edge: 0, length: 1, rim: 20, alignment: 0 };

/** The way through one reading after another: judge, read, see, and on to the next. */
export function useCard(open: OpenSheet, judgeFirst: boolean) {
  const { sheet, report, change } = open;
  const [task, setTask] = useState<CardTask>({ kind: "rest" });
  const [needle, setNeedle] = useState(0);
  const [selected, setSelected] = useState<string | null>(null);
  const [said, setSaid] = useState("");
  const now = useRef(sheet);
  now.current = sheet;

  const slots = report.schematic?.slots ?? [];
  // by the sheet itself: the report of the last reading may not be back yet
  const next = slots.find((slot) => !slot.sighting && !isRead(sheet, slot)) ?? null;

  const begin = useCallback(
    (what: What) => {
      setNeedle(FIRST[what.kind]);
      const again = "again" in what && what.again !== null;
      setSelected(again ? what.again : null);
      setTask(judgeFirst && !again ? { kind: "judge", what } : { kind: "read", what, judged: null });
    },
    [judgeFirst],
  );
  const commit = useCallback(() => {
    setTask((old) => {
      if (old.kind !== "judge") return old;
      return { kind: "read", what: old.what, judged: needle };
    });
  }, [needle]);
  const leave = useCallback(() => setTask({ kind: "rest" }), []);

  const keep = useCallback(
    (made: { sheet: Sheet; id: string }, words: string) => {
      change(made.sheet);
      setSelected(made.id);
      setSaid(words);
      setTask({ kind: "rest" });
    },
    [change],
  );
  const keepRead = useCallback(
    (read: Read, place: RimPlace = {}) => {
      if (task.kind !== "read") return;
      const { what, judged } = task;
      if (what.kind === "edge")
        keep(addTilt(now.current, what, judged, read), `${what.words}: ${degreesText(read.value)}`);
      if (what.kind === "length")
        keep(
          addRatio(now.current, what, judged, read),
          t("card.useCard.readAs", { words: what.words, value: figure(read.value, 2) }),
        );
      if (what.kind === "rim")
        keep(addRimReading(now.current, what, judged, read, place), `${what.words}: ${figure(read.value, 2)}`);
    },
    [keep, task],
  );
  const keepTold = useCallback(
    (told: { first: string; second: string; beside: number }) => {
      if (task.kind !== "read" || task.what.kind !== "alignment") return;
      keep(addAlignmentReading(now.current, task.what, { ...told, judged: task.judged }), task.what.words);
    },
    [keep, task],
  );

  return {
    task,
    needle,
    setNeedle,
    selected,
    setSelected,
    said,
    setSaid,
    next,
    begin,
    commit,
    leave,
    keepRead,
    keepTold,
  };
}

const END: Record<string, number> = { "near-top": 0, "near-bottom": 1 };

/** Whether a slot has its reading on the sheet. */
function isRead(sheet: Sheet, slot: Slot): boolean {
  return sightingsOf(sheet).some((s) => {
    if (s.kind === "edge" && slot.kind === "edge")
      return s.form === slot.form && s.family === slot.side && (END[String(s.end)] ?? s.end) === slot.end;
    if (s.kind !== "length" || slot.kind !== "length" || s.form !== slot.form || s.along !== slot.along) return false;
    return (s.of ?? "far-upright") === slot.of && (slot.of !== "far-upright" || s.side === slot.side);
  });
}

export type Card = ReturnType<typeof useCard>;

/** A slot of the card as something to read, or to read again. */
export function whatOf(slot: Slot, again: boolean): What {
  const words = slot.words;
  if (slot.kind === "edge") return { kind: "edge", slot: slot as EdgeSlot, again: again ? slot.sighting : null, words };
  return { kind: "length", slot, again: again ? slot.sighting : null, words };
}

/** What has been read already, as something to read again; null for what is told once. */
export function againOf(sheet: Sheet, schematic: Schematic | null, id: string): What | null {
  const slot = schematic?.slots.find((one) => one.sighting === id);
  if (slot) return whatOf(slot, true);
  const found = sightingsOf(sheet).find((s) => s.id === id);
  if (found?.kind === "rim") return { kind: "rim", again: id, words: found.name ?? "rim" };
  if (found?.kind === "length")
    return { kind: "length", slot: freeLength(found.form ?? ""), again: id, words: found.name ?? "length" };
  if (found?.kind === "edge")
    return {
      kind: "edge",
      slot: { form: found.form ?? "", side: null, end: 0 },
      again: id,
      words: found.name ?? "edge",
    };
  return null;
}
