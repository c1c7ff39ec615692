import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import {
  ApiError,
  checkSheet,
  type PictureInfo,
  type Report,
  readSheet,
  type Sheet,
  type SheetFull,
  saveSheet,
} from "../api/client";
import { begin, type History, keep, preview, redo, shown, undo } from "./history";

export type SaveState =
  | { kind: "saved" }
  | { kind: "saving" }
  | { kind: "waiting"; words: string }
  | { kind: "conflict"; revision: number };

interface Stash {
  revision: number;
  document: Sheet;
}

const stashKey = (id: string) => `aspectum.unsaved.${id}`;

function readStash(id: string): Stash | null {
  try {
    const text = localStorage.getItem(stashKey(id));
    return text ? (JSON.parse(text) as Stash) : null;
  } catch {
    return null;
  }
}

function writeStash(id: string, stash: Stash | null): void {
  try {
    if (stash) localStorage.setItem(stashKey(id), JSON.stringify(stash));
    else localStorage.removeItem(stashKey(id));
  } catch {
    // a full or forbidden store only loses the second safety net
  }
}

const RETRY_MS = 2500;

export interface OpenSheet {
  sheet: Sheet;
  picture: PictureInfo;
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
}

/** A sheet that is saved as it changes and judged while it changes. */
export function useSheet(full: SheetFull): OpenSheet {
  const id = full.id;
  const queries = useQueryClient();
  const [history, setHistory] = useState<History<Sheet>>(() => {
    const stash = readStash(id);
    return begin(stash && stash.revision === full.revision ? stash.document : full.document);
  });
  const [report, setReport] = useState(full.report);
  const [save, setSave] = useState<SaveState>(() => {
    const stash = readStash(id);
    return stash && stash.revision < full.revision ? { kind: "conflict", revision: full.revision } : { kind: "saved" };
  });
  const revision = useRef(full.revision);
  const kept = useRef(history.present);
  const unsaved = useRef<Sheet | null>(null);
  const busy = useRef(false);
  const retry = useRef<number | undefined>(undefined);
  const alive = useRef(true);

  const pump = useCallback(async () => {
    if (busy.current || !unsaved.current) return;
    busy.current = true;
    const sent = unsaved.current;
    setSave({ kind: "saving" });
    try {
      const body = { revision: revision.current, document: sent };
      const saved = await saveSheet(id, body);
      revision.current = saved.revision;
      if (unsaved.current === sent) {
        unsaved.current = null;
        writeStash(id, null);
        setSave({ kind: "saved" });
        setReport(saved.report);
      } else {
        writeStash(id, {
          revision: saved.revision,
          document: unsaved.current ?? sent,
        });
      }
      void queries.invalidateQueries({ queryKey: ["sheets"] });
    } catch (error) {
      if (error instanceof ApiError && error.status === 409) {
        setSave({
          kind: "conflict",
          revision: error.revision ?? revision.current + 1,
        });
        return;
      }
      const words = error instanceof ApiError ? error.message : String(error);
      setSave({ kind: "waiting", words });
      if (alive.current) retry.current = window.setTimeout(() => void pump(), RETRY_MS);
      return;
    } finally {
      busy.current = false;
    }
    if (unsaved.current) void pump();
  }, [id, queries]);

  const queue = useCallback(
    (next: Sheet) => {
      kept.current = next;
      unsaved.current = next;
      writeStash(id, { revision: revision.current, document: next });
      window.clearTimeout(retry.current);
      void pump();
    },
    [id, pump],
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
        const judged = await checkSheet(document);
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

  const adopt = useCallback((other: SheetFull) => {
    revision.current = other.revision;
    unsaved.current = null;
    kept.current = other.document;
    writeStash(other.id, null);
    setHistory(begin(other.document));
    setReport(other.report);
    setSave({ kind: "saved" });
  }, []);

  const fetchNewest = useCallback(() => readSheet(id), [id]);
  const takeTheirs = useCallback(() => void fetchNewest().then(adopt), [adopt, fetchNewest]);
  const keepMine = useCallback(() => {
    void fetchNewest().then((other) => {
      revision.current = other.revision;
      const mine = unsaved.current ?? readStash(id)?.document ?? kept.current;
      setHistory((h) => (h.present === mine ? h : keep(h, mine)));
      queue(mine);
    });
  }, [fetchNewest, id, queue]);

  useEffect(() => {
    alive.current = true;
    const stash = readStash(id);
    if (stash && stash.revision === revision.current) queue(stash.document);
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
  }, [adopt, fetchNewest, id, queue]);

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
  };
}
