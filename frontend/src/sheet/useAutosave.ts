import { type QueryKey, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { ApiError } from "../api/client";
import { newMark } from "../api/mark";
import { newest } from "../api/newest";
import { t } from "../words";
import { begin, type History, keep, preview, redo, shown, undo } from "./history";
import { discard, type Leftover, leftBehind, readStash, type Stash, standing, type Tabs, writeStash } from "./stash";

export type SaveState =
  | { kind: "saved" }
  | { kind: "saving" }
  | { kind: "waiting"; words: string }
  | { kind: "conflict"; revision: number }
  /** It was deleted elsewhere: nothing is sent until somebody says what to do. */
  | { kind: "gone"; fault?: string };

const RETRY_MS = 2500;
const MOST_UNANSWERED = 100; // as many as the server looks through

/** A document as the server has it, and what it answers to it: a sheet's report, a set-up's exact drawing. */
export interface StoredDocument<D, A> {
  id: string;
  revision: number;
  last_save?: string | null;
  document: D;
  answer: A;
}

/** How documents of a kind reach the server. */
export interface DocumentApi<D, A> {
  read: () => Promise<StoredDocument<D, A>>;
  save: (body: { revision: number; document: D; save: string; unanswered: string[] }) => Promise<{
    revision: number;
    answer: A;
  }>;
  /** What the server says of a document that is not kept yet. */
  ask: (document: D) => Promise<A>;
  restore: () => Promise<unknown>;
  copy: (document: D) => Promise<{ id: string }>;
  /** The list that it stands in. */
  list: QueryKey;
  /** The picture that goes with it, where there is one. */
  picture: string | null;
}

/** A document that is saved as it changes. */
export interface Autosaved<D> {
  save: SaveState;
  canUndo: boolean;
  canRedo: boolean;
  /** Keep a change: it is saved and can be undone. */
  change: (next: D) => void;
  /** Show a change while it is being made, answered but not kept. */
  show: (next: D | null) => void;
  /** Whether what is shown is such a change. */
  moving: boolean;
  undo: () => void;
  redo: () => void;
  /** After a conflict: take what the other tab saved, or save this over it. */
  takeTheirs: () => void;
  keepMine: () => void;
  /** After it was deleted elsewhere: bring it back, or keep this as one of its own, whose id is answered. */
  bringBack: () => void;
  keepCopy: () => Promise<string>;
  /** Unsaved versions that closed tabs left behind: take one up, or let it go. */
  left: Leftover<D>[];
  takeUp: (left: Leftover<D>) => void;
  letGo: (left: Leftover<D>) => void;
}

export interface AutosavedDocument<D, A> extends Autosaved<D> {
  document: D;
  answer: A;
}

/** What is to be shown first: the document as the server has it, or work that it does not have yet. */
interface First<D> {
  stash: Stash<D> | null;
  /** Where the stash was found when another tab left it. */
  from: Leftover<D> | null;
  conflict: boolean;
  left: Leftover<D>[];
}

function firstOf<D>(full: StoredDocument<D, unknown>, tabs: Tabs): First<D> {
  const left = leftBehind<D>(full.id, tabs).filter(({ stash }) => standing(stash, full) !== "stored");
  const mine = readStash<D>(full.id, tabs.own);
  if (mine && standing(mine, full) !== "stored")
    return { stash: mine, from: null, conflict: standing(mine, full) === "conflict", left };
  const [only] = left;
  if (only && left.length === 1 && standing(only.stash, full) === "next")
    return { stash: only.stash, from: only, conflict: false, left: [] };
  return { stash: null, from: null, conflict: false, left };
}

/** A document that is saved as it changes and answered while it changes. `ways` must not change while it is open. */
export function useAutosave<D extends { title?: string }, A>(
  full: StoredDocument<D, A>,
  tabs: Tabs,
  ways: DocumentApi<D, A>,
): AutosavedDocument<D, A> {
  const { id } = full;
  const queries = useQueryClient();
  const [first] = useState(() => firstOf(full, tabs));
  const [history, setHistory] = useState<History<D>>(() =>
    begin(first.stash && !first.conflict ? first.stash.document : full.document),
  );
  const [answer, setAnswer] = useState(full.answer);
  const [save, setSave] = useState<SaveState>(
    first.conflict ? { kind: "conflict", revision: full.revision } : { kind: "saved" },
  );
  const [left, setLeft] = useState(first.left);
  const revision = useRef(full.revision);
  const kept = useRef(history.present);
  const unsaved = useRef<{ document: D; save: string } | null>(first.conflict ? first.stash : null);
  const unanswered = useRef<string[]>(first.stash?.unanswered ?? []);
  const busy = useRef(false);
  const retry = useRef<number | undefined>(undefined);
  const alive = useRef(true);
  // answers may overtake one another: only what was asked last of all that came is shown
  const asked = useRef(0);
  const answered = useRef(0);
  const hear = useCallback((number: number, said: A) => {
    if (number < answered.current) return;
    answered.current = number;
    setAnswer(said);
  }, []);

  const stash = useCallback(() => {
    const next = unsaved.current;
    writeStash(
      id,
      tabs.own,
      next && { revision: revision.current, ...next, unanswered: unanswered.current, picture: ways.picture },
    );
  }, [id, ways.picture, tabs.own]);

  const pump = useCallback(async () => {
    if (busy.current || !unsaved.current) return;
    busy.current = true;
    const sent = unsaved.current;
    setSave({ kind: "saving" });
    const earlier = unanswered.current.filter((mark) => mark !== sent.save);
    // from here on it may be stored, whether or not the answer comes back
    unanswered.current = [...earlier, sent.save].slice(-MOST_UNANSWERED);
    stash();
    const number = ++asked.current;
    try {
      const saved = await ways.save({
        revision: revision.current,
        document: sent.document,
        save: sent.save,
        unanswered: earlier.slice(-MOST_UNANSWERED),
      });
      revision.current = saved.revision;
      unanswered.current = [];
      if (unsaved.current === sent) {
        unsaved.current = null;
        setSave({ kind: "saved" });
        hear(number, saved.answer);
      }
      stash();
      void queries.invalidateQueries({ queryKey: ways.list });
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
      const refused = status >= 400 && status < 500 && status !== 401;
      if (alive.current && !refused) retry.current = window.setTimeout(() => void pump(), RETRY_MS);
      return;
    } finally {
      busy.current = false;
    }
    if (unsaved.current) void pump();
  }, [hear, queries, stash, ways]);

  const queue = useCallback(
    (next: D, mark = newMark()) => {
      kept.current = next;
      unsaved.current = { document: next, save: mark };
      stash();
      window.clearTimeout(retry.current);
      void pump();
    },
    [pump, stash],
  );

  // answer while a hand moves
  const [questions] = useState(newest);
  const ask = useCallback(
    (document: D) =>
      questions.ask(async () => {
        try {
          const number = ++asked.current;
          hear(number, await ways.ask(document));
        } catch {
          // the next change asks again; saving reports a lost connection
        }
      }),
    [hear, questions, ways],
  );

  const change = useCallback(
    (next: D) => {
      setHistory((h) => keep(h, next));
      queue(next);
    },
    [queue],
  );
  const show = useCallback(
    (next: D | null) => {
      setHistory((h) => preview(h, next));
      ask(next ?? kept.current);
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
    (other: StoredDocument<D, A>) => {
      const mine = unsaved.current?.document;
      revision.current = other.revision;
      unsaved.current = null;
      unanswered.current = [];
      kept.current = other.document;
      stash();
      // undo brings back what was here
      setHistory((h) => (mine ? keep(h.present === mine ? h : keep(h, mine), other.document) : begin(other.document)));
      hear(++asked.current, other.answer);
      setSave({ kind: "saved" });
    },
    [hear, stash],
  );

  const fetchNewest = ways.read;
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
    void ways
      .restore()
      .then(() => queries.invalidateQueries({ queryKey: ways.list }))
      .then(() => pump())
      .catch((error: Error) => setSave({ kind: "gone", fault: error.message }));
  }, [pump, queries, ways]);
  const keepCopy = useCallback(async () => {
    const document = unsaved.current?.document ?? kept.current;
    const title = `${document.title || t("sheet.useAutosave.untitled")} (kept)`.slice(0, 200);
    const copy = await ways.copy({ ...document, title });
    unsaved.current = null;
    stash();
    void queries.invalidateQueries({ queryKey: ways.list });
    return copy.id;
  }, [queries, stash, ways]);

  const letGo = useCallback((gone: Leftover<D>) => {
    discard(gone);
    setLeft((all) => all.filter((one) => one !== gone));
  }, []);
  const takeUp = useCallback(
    (found: Leftover<D>) => {
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
    // another tab may have gone on with it while this one lay behind it
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
    document: shown(history),
    answer,
    save,
    moving: history.live !== null,
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
