import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useState } from "react";
import { call } from "../api/client";
import { easelQuery } from "../api/queries";
import type { Sheet, SheetFull, Slot } from "../api/types";
import { addForm, formsOf, remove, setFormKind } from "../sheet/edits";
import type { Tabs } from "../sheet/stash";
import { useJudgeFirst } from "../sheet/useJudgeFirst";
import { useSheet } from "../sheet/useSheet";
import { useKeys } from "../ui/keys";
import { useStoredSwitch } from "../ui/settings";
import { useAwake } from "../ui/useAwake";
import { CARD_KEYS } from "./keys";
import { useCard, whatOf } from "./useCard";
import { useGauge } from "./useGauge";

export type Asked = "stick" | "calibrate" | "photo" | "tolerance" | "between" | null;

/** A card that is open at the easel: what is read next, with what, and what was read. */
export function useCardScreen(full: SheetFull, tabs: Tabs) {
  const open = useSheet(full, tabs);
  const { sheet, report } = open;
  const { judgeFirst, setJudgeFirst, settled } = useJudgeFirst(full.assignment);
  const [byGauge, setByGauge] = useStoredSwitch("by-gauge", false);
  const [asked, setAsked] = useState<Asked>(null);
  const card = useCard(open, judgeFirst);
  const gauge = useGauge();
  const queries = useQueryClient();
  const easel = useQuery(easelQuery);
  useAwake();
  const { task, selected, next, begin, setSelected } = card;
  const resting = judgeFirst && task.kind === "judge";
  const schematic = report.schematic;

  const onByGauge = useGaugeBeside(gauge, byGauge, setByGauge, asked === "calibrate", task);
  const onSlot = (slot: Slot) => {
    if (!slot.sighting) begin(whatOf(slot, false));
    else setSelected(slot.sighting);
  };
  const takeOff = (id: string | null) => {
    if (!id || task.kind !== "rest") return false;
    open.change(remove(sheet, id));
    setSelected(null);
    return true;
  };
  useKeys(CARD_KEYS, {
    next: () => (task.kind === "rest" && next ? begin(whatOf(next, false)) : false),
    gauge: () => onByGauge(!byGauge),
    hold: () => document.querySelector<HTMLButtonElement>("[data-hold]")?.click(),
    leave: () => {
      if (task.kind === "rest") setSelected(null);
      card.leave();
    },
    delete: () => takeOff(selected),
    back: () => takeOff(selected),
    undo: open.undo,
    redo: open.redo,
  });

  const put = (change: (old: Sheet) => Sheet) => open.change(change(sheet));
  const secondForm = (kind: "box" | "other") =>
    put((old) => {
      const { sheet: grown, id } = addForm(old);
      return setFormKind(grown, id, kind);
    });
  const firstForm = schematic?.slots[0]?.form ?? formsOf(sheet)[0]?.id ?? "form-1";
  const current = task.kind !== "rest" && "slot" in task.what ? slotOf(task.what.slot, schematic?.slots ?? []) : null;
  const words = report.near_corners.map((one) =>
    report.near_corners.length > 1
      ? `${formsOf(sheet).find((f) => f.id === one.form)?.name ?? one.form}: ${one.words}`
      : one.words,
  );
  const onArm = (arm_mm: number | null) =>
    void call("put", "/api/easel/arm", { body: { arm_mm } }).then((kept) =>
      queries.setQueryData(easelQuery.queryKey, kept),
    );
  const atHand = { card, gauge, byGauge, onByGauge, onSlot, current, next, begin, task, firstForm, secondForm };
  const judging = { judgeFirst, setJudgeFirst, settled, resting };
  return {
    open,
    sheet,
    report,
    schematic,
    easel: easel.data,
    onArm,
    asked,
    setAsked,
    selected,
    setSelected,
    words,
    ...atHand,
    ...judging,
  };
}
export type CardDesk = ReturnType<typeof useCardScreen>;

/** The gauge listens while a tilt is read with it, or it is calibrated, and rests otherwise. Returns how it is taken up and put away. */
function useGaugeBeside(
  gauge: ReturnType<typeof useGauge>,
  byGauge: boolean,
  setByGauge: (on: boolean) => void,
  calibrating: boolean,
  task: ReturnType<typeof useCard>["task"],
) {
  const { source, begin: beginGauge, end: endGauge } = gauge;
  const reading = task.kind === "read" && task.what.kind === "edge";
  useEffect(() => {
    if (calibrating || (byGauge && reading)) {
      if (!source) beginGauge();
    } else if (source && task.kind === "rest") endGauge();
  }, [calibrating, byGauge, reading, source, beginGauge, endGauge, task.kind]);
  return useCallback(
    (on: boolean) => {
      setByGauge(on);
      if (on) beginGauge();
    },
    [beginGauge, setByGauge],
  );
}

function slotOf(slot: Pick<Slot, "form" | "side" | "end">, slots: Slot[]): Slot | null {
  if ("kind" in slot) return slot as Slot;
  return slots.find((one) => one.form === slot.form && one.side === slot.side && one.end === slot.end) ?? null;
}
