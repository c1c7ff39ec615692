import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { ApiError, call } from "../api/client";
import { newMark } from "../api/mark";
import { readSheet, sheetsQuery } from "../api/queries";
import type { Picture, Report, Sheet, SheetFull } from "../api/types";
import { begin, type History, keep, preview, redo, shown, undo } from "./history";
import { discard, type Left, leftBehind, readStash, type Stash, standing, type Tabs, writeStash } from "./stash";

export type SaveState =
  | { kind: "saved" }
  | { kind: "saving" }
  | { kind: "waiting"; words: string }
  | { kind: "conflict"; revision: number }
  /** The sheet was deleted elsewhere: nothing is sent until somebody says what to do. */
  | { kind: "gone"; fault?: string };

const RETRY_MS = 2500;
const MOST_UNANSWERED = 100; // as many as the server looks through

export interface OpenSheet {
  sheet: Sheet;
  /** None for a sheet from life. */
  picture: Picture | null;
  report: Report;
  save: SaveState;
  canUndo: boolean;
  canRedo: boolean;
  /** Keep a change: it is saved and can be undone. */
  change: (next: Sheet) => void;
  /** Show a change while it is being made, judged but not kept. */
  show: (next: Sheet | null) => void;
  undo: () => void;
  redo: () => void;
  /** After a conflict: take the other tab's sheet, or save this one over it. */
  takeTheirs: () => void;
  keepMine: () => void;
  /** After the sheet was deleted elsewhere: bring it back, or keep this as a sheet of its own, whose id
   * is answered. */
  bringBack: () => void;
  keepCopy: () => Promise<string>;
  /** Unsaved versions that closed tabs left behind: take one up, or let it go. */
  left: Left[];
  takeUp: (left: Left) => void;
  letGo: (left: Left) => void;
}

/** What is to be shown first: the sheet as the server has it, or work that it does not have yet. */
interface First {
  stash: Stash | null;
  /** Where the stash was found when another tab left it. */
  from: Left | null;
  conflict: boolean;
  left: Left[];
}

function firstOf(full: SheetFull, tabs: Tabs): First {
  const left = leftBehind(full.id, tabs).filter(({ stash }) => standing(stash, full) !== "stored");
  const mine = readStash(full.id, tabs.own);
  if (mine && standing(mine, full) !== "stored")
    return { stash: mine, from: null, conflict: standing(mine, full) === "conflict", left };
  const [only] = left;
  if (only && left.length === 1 && standing(only.stash, full) === "next")
    return { stash: only.stash, from: only, conflict: false, left: [] };
  return { stash: null, from: null, conflict: false, left };
}

/** A sheet that is saved as it changes and judged while it changes. */
export function useSheet(full: SheetFull, tabs: Tabs): OpenSheet {
  const { id, picture } = full;
  const queries = useQueryClient();
  const [first] = useState(() => firstOf(full, tabs));
  const [history, setHistory] = useState<History<Sheet>>(() =>
    begin(first.stash && !first.conflict ? first.stash.document : full.document),
  );
  const [report, setReport] = useState(full.report);
  const [save, setSave] = useState<SaveState>(
    first.conflict ? { kind: "conflict", revision: full.revision } : { kind: "saved" },
  );
  const [left, setLeft] = useState(first.left);
  const revision = useRef(full.revision);
  const kept = useRef(history.present);
  const unsaved = useRef<{ document: Sheet; save: string } | null>(first.conflict ? first.stash : null);
  const unanswered = useRef<string[]>(first.stash?.unanswered ?? []);
  const busy = useRef(false);
  const retry = useRef<number | undefined>(undefined);
  const alive = useRef(true);

  const stash = useCallback(() => {
    const next = unsaved.current;
    writeStash(
      id,
      tabs.own,
      next && { revision: revision.current, ...next, unanswered: unanswered.current, picture: picture?.id ?? null },
    );
  }, [id, picture?.id, tabs.own]);

  const pump = useCallback(async () => {
    if (busy.current || !unsaved.current) return;
    busy.current = true;
    const sent = unsaved.current;
    setSave({ kind: "saving" });
    const earlier = unanswered.current.filter((mark) => mark !== sent.save);
    // from here on it may be stored, whether or not the answer comes back
    unanswered.current = [...earlier, sent.save].slice(-MOST_UNANSWERED);
    stash();
    try {
      const saved = await call("put", "/api/sheets/{sheet_id}", {
        path: { sheet_id: id },
        body: {
          revision: revision.current,
          document: sent.document,
          save: sent.save,
          unanswered: earlier.slice(-MOST_UNANSWERED),
        },
      });
      revision.current = saved.revision;
      unanswered.current = [];
      if (unsaved.current === sent) {
        unsaved.current = null;
        setSave({ kind: "saved" });
        setReport(saved.report);
      }
      stash();
      void queries.invalidateQueries(sheetsQuery);
    } catch (error) {
      if (error instanceof ApiError && error.status === 409) {
        setSave({
          kind: "conflict",
          revision: error.revision ?? revision.current + 1,
        });
        return;
      }
      const words = error instanceof ApiError ? error.message : String(error);
      const status = error instanceof ApiError ? error.status : 0;
      if (status === 404) {
        setSave({ kind: "gone" });
        return;
      }
      setSave({ kind: "waiting", words });
      // what the server refuses as it stands is refused again; the next change may mend it
      const refused = status >= 400 && status < 500;
      if (alive.current && !refused) retry.current = window.setTimeout(() => void pump(), RETRY_MS);
      return;
    } finally {
      busy.current = false;
    }
    if (unsaved.current) void pump();
  }, [id, queries, stash]);

  const queue = useCallback(
    (next: Sheet, mark = newMark()) => {
      kept.current = next;
      unsaved.current = { document: next, save: mark };
      stash();
      window.clearTimeout(retry.current);
      void pump();
    },
    [pump, stash],
  );

  // judge while a needle moves: one question at a time, always the newest
  const asking = useRef(false);
  const question = useRef<Sheet | null>(null);
  const ask = useCallback(async () => {
    if (asking.current) return;
    asking.current = true;
    while (question.current) {
      const document = question.current;
      question.current = null;
      try {
        const judged = await call("post", "/api/check", { body: { document } });
        if (!question.current) setReport(judged);
      } catch {
        // the next change asks again; saving reports a lost connection
      }
    }
    asking.current = false;
  }, []);

  const change = useCallback(
    (next: Sheet) => {
      setHistory((h) => keep(h, next));
      queue(next);
    },
    [queue],
  );
  const show = useCallback(
    (next: Sheet | null) => {
      setHistory((h) => preview(h, next));
      question.current = next ?? kept.current;
      void ask();
    },
    [ask],
  );
  const step = useCallback(
    (move: typeof undo) => {
      const moved = move(history);
      if (moved === history) return;
      setHistory(moved);
      queue(moved.present);
    },
    [history, queue],
  );

  const adopt = useCallback(
    (other: SheetFull) => {
      const mine = unsaved.current?.document;
      revision.current = other.revision;
      unsaved.current = null;
      unanswered.current = [];
      kept.current = other.document;
      stash();
      // undo brings back what was here
      setHistory((h) => (mine ? keep(h.present === mine ? h : keep(h, mine), other.document) : begin(other.document)));
      setReport(other.report);
      setSave({ kind: "saved" });
    },
    [stash],
  );

  const fetchNewest = useCallback(() => readSheet(id), [id]);
  const takeTheirs = useCallback(() => void fetchNewest().then(adopt), [adopt, fetchNewest]);
  const keepMine = useCallback(() => {
    void fetchNewest().then((other) => {
      revision.current = other.revision;
      const mine = unsaved.current?.document ?? kept.current;
      setHistory((h) => (h.present === mine ? h : keep(h, mine)));
      queue(mine);
    });
  }, [fetchNewest, queue]);

  const bringBack = useCallback(() => {
    void call("post", "/api/sheets/{sheet_id}/restore", { path: { sheet_id: id } })
      .then(() => queries.invalidateQueries(sheetsQuery))
      .then(() => pump())
      .catch((error: Error) => setSave({ kind: "gone", fault: error.message }));
  }, [id, pump, queries]);
  const keepCopy = useCallback(async () => {
    const document = unsaved.current?.document ?? kept.current;
    const title = `${document.title || "Untitled"} (kept)`.slice(0, 200);
    const body = { picture_id: picture?.id ?? null, document: { ...document, title } };
    const copy = await call("post", "/api/sheets", { body });
    unsaved.current = null;
    stash();
    void queries.invalidateQueries(sheetsQuery);
    return copy.id;
  }, [picture?.id, queries, stash]);

  const letGo = useCallback((gone: Left) => {
    discard(gone);
    setLeft((all) => all.filter((one) => one !== gone));
  }, []);
  const takeUp = useCallback(
    (found: Left) => {
      setHistory((h) => keep(h, found.stash.document));
      queue(found.stash.document);
      letGo(found);
    },
    [letGo, queue],
  );

  useEffect(() => {
    alive.current = true;
    if (first.stash && !first.conflict && !unsaved.current && kept.current === first.stash.document)
      queue(first.stash.document, first.stash.save);
    if (first.from) discard(first.from);
    // another tab may have gone on with this sheet while this one lay behind it
    const look = () => {
      if (document.visibilityState !== "visible" || unsaved.current || busy.current) return;
      void fetchNewest()
        .then((other) => {
          if (other.revision > revision.current && !unsaved.current && !busy.current) adopt(other);
        })
        .catch(() => undefined);
    };
    document.addEventListener("visibilitychange", look);
    window.addEventListener("focus", look);
    return () => {
      alive.current = false;
      window.clearTimeout(retry.current);
      document.removeEventListener("visibilitychange", look);
      window.removeEventListener("focus", look);
    };
  }, [adopt, fetchNewest, first, queue]);

  return {
    sheet: shown(history),
    picture: full.picture,
    report,
    save,
    canUndo: history.past.length > 0,
    canRedo: history.future.length > 0,
    change,
    show,
    undo: () => step(undo),
    redo: () => step(redo),
    takeTheirs,
    keepMine,
    bringBack,
    keepCopy,
    left,
    takeUp,
    letGo,
  };
}
