import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { call } from "../api/client";
import { assignmentsQuery } from "../api/queries";
import type { MyClass } from "../api/types";
import { Dialog } from "../ui/Dialog";
import { Fault } from "../ui/Fault";
import { NumberInput } from "../ui/NumberInput";
import { Tick } from "../ui/Tick";
import { t } from "../words";
import { dayWords, weeksToCome } from "./words";

/** Which assignments are copied, and on which days. */
function useCopying(classId: string, others: MyClass[], onClose: () => void) {
  const queries = useQueryClient();
  const [from, setFrom] = useState(others[0]?.id ?? "");
  const list = useQuery({ ...assignmentsQuery(from), enabled: from !== "" });
  const all = list.data?.assignments ?? [];
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
  const chosen = all.filter((one) => !left.has(one.id));
  const [dated, setDated] = useState(true);
  const [weeks, setWeeks] = useState<number | null>(null);
  const moved = weeks ?? weeksToCome(chosen);
  const copy = useMutation({
    mutationFn: () =>
      call("post", "/api/classes/{class_id}/assignments/copy", {
        path: { class_id: classId },
        body: {
          assignment_ids: chosen.map((one) => one.id),
          weeks: dated ? moved : null,
          time_zone: Intl.DateTimeFormat().resolvedOptions().timeZone,
        },
      }),
    onSuccess: async () => {
      await queries.invalidateQueries(assignmentsQuery(classId));
      await queries.invalidateQueries({ queryKey: ["board", classId] });
      await queries.invalidateQueries({ queryKey: ["stands"] });
      onClose();
    },
  });
  const turn = (id: string) => {
    const next = new Set(left);
    if (!next.delete(id)) next.add(id);
    setLeft(next);
  };
  const choose = (id: string) => {
    setFrom(id);
    setLeft(new Set());
    setWeeks(null);
  };
  return { from, choose, list, all, left, chosen, turn, dated, setDated, moved, setWeeks, copy };
}

type Copying = ReturnType<typeof useCopying>;

interface CopyAssignmentsProps {
  classId: string;
  others: MyClass[];
  onClose: () => void;
}

/** Assignments of another class of one's own, set in this one as well: with their days some weeks later, or without. */
export function CopyAssignments({ classId, others, onClose }: CopyAssignmentsProps) {
  const copying = useCopying(classId, others, onClose);
  const { list, all, left, chosen, turn, copy } = copying;
  const send = (event: FormEvent) => {
    event.preventDefault();
    copy.mutate();
  };
  return (
    <Dialog title={t("class.copyAssignments.title")} onClose={onClose} actions={null}>
      <form className="flex flex-col gap-3" onSubmit={send}>
        <FromClass others={others} copying={copying} />
        {list.data && all.length === 0 && <p>{t("class.copyAssignments.nothingThere")}</p>}
        <ul className="flex max-h-64 flex-col gap-1 overflow-y-auto">
          {all.map((one) => (
            <li key={one.id}>
              <Tick checked={!left.has(one.id)} onTick={() => turn(one.id)}>
                <span className="grow">{one.title}</span>
                <span className="text-sm">{one.due_at ? dayWords(one.due_at) : t("class.copyAssignments.noDay")}</span>
              </Tick>
            </li>
          ))}
        </ul>
        <Dates copying={copying} />
        {(copy.isError || list.isError) && <Fault words={(copy.error ?? list.error)?.message ?? ""} />}
        <div className="modal-action">
          <button type="button" className="btn btn-sm" onClick={onClose}>
            {t("class.copyAssignments.leaveIt")}
          </button>
          <button type="submit" className="btn btn-sm btn-primary" disabled={copy.isPending || chosen.length === 0}>
            {t("class.copyAssignments.setHere", { count: chosen.length })}
          </button>
        </div>
      </form>
    </Dialog>
  );
}

function FromClass({ others, copying: { from, choose } }: { others: MyClass[]; copying: Copying }) {
  return (
    <label className="flex items-center gap-2 font-semibold">
      {t("class.copyAssignments.from")}
      <select className="select select-sm font-normal" value={from} onChange={(event) => choose(event.target.value)}>
        {others.map((one) => (
          <option key={one.id} value={one.id}>
            {one.name}
          </option>
        ))}
      </select>
    </label>
  );
}

/** On the same weekday some weeks later, or on no day. */
function Dates({ copying: { dated, setDated, moved, setWeeks } }: { copying: Copying }) {
  return (
    <fieldset className="flex flex-col gap-1">
      <legend className="font-semibold">{t("class.copyAssignments.due")}</legend>
      <span className="flex items-center gap-2">
        <Tick group="dates" checked={dated} onTick={() => setDated(true)}>
          {t("class.copyAssignments.sameWeekday")}
        </Tick>
        <NumberInput
          label={t("class.copyAssignments.later")}
          value={moved}
          least={-520}
          most={520}
          step={1}
          unit={t("class.copyAssignments.weeks")}
          onValue={(value) => setWeeks(value === null ? null : Math.round(value))}
        />
      </span>
      <Tick group="dates" checked={!dated} onTick={() => setDated(false)}>
        {t("class.copyAssignments.onNoDay")}
      </Tick>
    </fieldset>
  );
}
