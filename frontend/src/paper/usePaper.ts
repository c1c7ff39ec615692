import { useQuery } from "@tanstack/react-query";
import { useEffect, useMemo, useState } from "react";
import { remarksQuery } from "../api/queries";
import type { DrawingFull, SheetFull, Steadiness } from "../api/types";
import { type Against, judgedReport } from "../sheet/judged";
import type { Tabs } from "../sheet/stash";
import { useSheet } from "../sheet/useSheet";
import { useKeys } from "../ui/keys";
import { useStoredSwitch } from "../ui/settings";
import { PAPER_KEYS } from "./keys";
import { useCritique, useSince } from "./useCritique";
import { useLaying } from "./useLaying";

/** A drawing that is open: its sheet, what is laid on it, its critique, and how it is looked at. */
export function usePaper(full: SheetFull, drawing: DrawingFull, tabs: Tabs) {
  const open = useSheet(full, tabs);
  const { sheet, report } = open;
  const subject = drawing.subject;
  /** What its lines are called: as on its subject, or from imagination as they were before. */
  const called = subject ?? drawing.before;
  const remarks = useQuery(remarksQuery(full.id)).data?.remarks;
  const laying = useLaying(open, full.id, called, drawing.before !== null);
  const look = useLook(subject !== null);
  const { answer: critique, fault } = useCritique(subject, sheet, look.hand);
  const [partly, setPartly] = useState(false);
  const since = useSince(full.id, sheet, drawing.before_id, partly);
  const { lit, setLit, against } = look;
  const cause = lit === null ? null : (critique?.causes[lit] ?? null);
  useEffect(() => {
    // a cause that is gone is not shown mended
    if (lit !== null && !critique?.causes[lit]) setLit(null);
  }, [critique, lit, setLit]);

  const { put, step, proposals, proposal, choose, drop } = laying;
  useKeys(PAPER_KEYS, {
    previous: () => step(-1),
    next: () => step(1),
    accept: () => (proposal ? put([proposal.sighting]) : false),
    other: laying.acceptOther,
    all: () => (proposals.length > 0 ? put(proposals.map((p) => p.sighting)) : false),
    ghosts: () => look.setGhosts(!look.ghosts),
    over: () => look.setOver((old) => !old && subject !== null),
    leave: () => {
      choose(null);
      setLit(null);
      return false;
    },
    delete: drop,
    back: drop,
    undo: open.undo,
    redo: open.redo,
  });
  const shown = useMemo(() => judgedReport(report, critique, against), [report, critique, against]);
  const compare = () => setPartly(true);
  return { open, subject, called, remarks, laying, look, critique, fault, since, compare, cause, shown };
}
export type Paper = ReturnType<typeof usePaper>;

/** How the drawing is looked at: beside its subject or laid over it, judged against what, by what hand, with which cause lit. */
function useLook(hasSubject: boolean) {
  const [lit, setLit] = useState<number | null>(null);
  const [ghosts, setGhosts] = useStoredSwitch("paper-ghosts", false);
  const [over, setOver] = useState(false);
  const [fade, setFade] = useState(0.45);
  const [against, setAgainst] = useState<Against>(hasSubject ? "subject" : "own");
  const [hand, setHand] = useState<Steadiness>("usual");
  return { lit, setLit, ghosts, setGhosts, over, setOver, fade, setFade, against, setAgainst, hand, setHand };
}
