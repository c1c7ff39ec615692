import { useCallback, useMemo, useRef, useState } from "react";
import type { Point, Sheet, Sighting } from "../api/types";
import { remove, sightingsOf } from "../sheet/edits";
import type { OpenSheet } from "../sheet/useSheet";
import { roundPoint } from "../stage/geometry";
import type { Task } from "../stage/task";
import { t } from "../words";
import { laidAs, layingOf, namesOf, type Place, withLaid } from "./laying";
import { useProposals } from "./useCritique";

/** What of a name is laid already, while it is not whole. */
interface Half {
  ends?: [Point, Point];
  corners?: Point[];
}

/** The subject's names laid on the drawing one after another, by hand or by accepting what is proposed. */
export function useLaying(open: OpenSheet, id: string, subject: Sheet | null, again: boolean) {
  const { sheet } = open;
  const names = useMemo(() => (subject ? namesOf(subject) : []), [subject]);
  const laid = useMemo(() => new Set(sightingsOf(sheet).map((s) => s.id)), [sheet]);
  const [selected, setSelected] = useState<string | null>(() =>
    laid.size === 0 || again ? (names.find((s) => !laid.has(s.id))?.id ?? null) : null,
  );
  const [half, setHalf] = useState<Half>({});
  /** Said to those who do not see the screen. */
  const [said, setSaid] = useState("");
  const sheetNow = useRef(sheet);
  sheetNow.current = sheet;
  const proposals = useProposals(id, sheet, subject !== null && names.some((s) => !laid.has(s.id)));

  const name = names.find((s) => s.id === selected) ?? null;
  const missing = name !== null && !laid.has(name.id);
  const task: Task = missing ? taskOf(name, half) : { kind: "look" };
  const proposal = proposals.find((p) => p.sighting.id === selected && missing) ?? null;

  const choose = useCallback((id: string | null) => {
    setHalf({});
    setSelected(id);
  }, []);
  const nextMissing = useCallback(
    (after: string, have: Set<string>) => {
      const at = names.findIndex((s) => s.id === after);
      const turn = [...names.slice(at + 1), ...names.slice(0, at)];
      return turn.find((s) => !have.has(s.id))?.id ?? null;
    },
    [names],
  );
  const put = useCallback(
    (added: Sighting[]) => {
      const last = added.at(-1);
      if (!subject || !last) return;
      const faces = new Set([...sightingsOf(sheetNow.current), ...added].map((s) => s.id));
      const fit = added.filter((s) => s.kind !== "division" || faces.has(s.face));
      open.change(withLaid(sheetNow.current, subject, fit));
      const on = nextMissing(last.id, new Set([...laid, ...fit.map((s) => s.id)]));
      choose(on);
      const following = names.find((s) => s.id === on);
      setSaid(
        following
          ? t("paper.useLaying.laidNext", { id: following.name ?? following.id })
          : t("paper.useLaying.laidAll"),
      );
    },
    [choose, laid, names, nextMissing, open, subject],
  );
  const lay = useCallback(
    (place: Place) => {
      if (name) put([laidAs(name, place)]);
    },
    [name, put],
  );
  const point = useCallback(
    (at: Point) => {
      if (!name) return;
      if (half.ends) lay({ ends: half.ends, near: at });
      else if (name.kind === "division") lay({ point: at });
      else if (name.kind === "face") {
        const corners = [...(half.corners ?? []), at];
        if (corners.length === 4) lay({ corners: corners as [Point, Point, Point, Point] });
        else setHalf({ corners });
      }
    },
    [half, lay, name],
  );
  const placed = useCallback(
    (from: Point, to: Point) => {
      const [p, q] = [roundPoint(from), roundPoint(to)];
      if (name?.kind === "rim") setHalf({ ends: [p, q] });
      else lay({ p, q });
    },
    [lay, name],
  );

  const order = names.length > 0 ? names : sightingsOf(sheet);
  const step = (by: -1 | 1) => {
    const at = order.findIndex((s) => s.id === selected);
    const to = order[at < 0 ? 0 : (at + by + order.length) % order.length];
    if (to) choose(to.id);
  };
  /** The line in turn as it was drawn the other time. */
  const acceptOther = () => {
    const other = proposal?.others[0];
    if (!other || !proposal) return false;
    put([{ ...proposal.sighting, ...other } as Sighting]);
    return true;
  };
  const drop = () => {
    if (!selected || missing) return false;
    open.change(remove(sheetNow.current, selected));
    setSaid(t("paper.useLaying.takenOff"));
    return true;
  };
  return {
    names,
    laid,
    selected,
    name,
    missing,
    half,
    task,
    proposals,
    proposal,
    said,
    sheetNow,
    choose,
    put,
    acceptOther,
    point,
    placed,
    step,
    drop,
  };
}

/** What the hand does next for a name of which some may be laid already. */
function taskOf(name: Sighting, half: Half): Task {
  if (half.ends) return { kind: "near", thing: "rim", at: null, judged: null, ends: half.ends };
  const task = layingOf(name);
  return task.kind === "corners" ? { ...task, laid: half.corners ?? [] } : task;
}
