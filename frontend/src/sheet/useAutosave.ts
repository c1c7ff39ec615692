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

/** What the server is known to have, and what it has not got yet; kept between renders, for a save outlives them. */
interface Outbox<D> {
  revision: number;
  /** The document as it was last kept here. */
  kept: D;
  unsaved: { document: D; save: string } | null;
  unanswered: string[];
  busy: boolean;
  retry: number | undefined;
  alive: boolean;
}

/** Answers may overtake one another: only what was asked last of all that came is shown. */
function useAnswers<A>(first: A) {
  const [answer, setAnswer] = useState(first);
  const asked = useRef(0);
  const answered = useRef(0);
  const ask = useCallback(() => ++asked.current, []);
  const hear = useCallback((number: number, said: A) => {
    if (number < answered.current) return;
    answered.current = number;
    setAnswer(said);
  }, []);
  return { answer, ask, hear };
}

/** Why a save failed, and whether it is tried again. */
function failed(error: unknown, revision: number): { state: SaveState; again: boolean } {
  if (!(error instanceof ApiError)) return { state: { kind: "waiting", words: String(error) }, again: true };
  if (error.status === 409)
    return { state: { kind: "conflict", revision: error.revision ?? revision + 1 }, again: false };
  if (error.status === 404) return { state: { kind: "gone" }, again: false };
  // what the server refuses as it stands is refused again; the next change may mend it
  const refused = error.status >= 400 && error.status < 500 && error.status !== 401;
  return { state: { kind: "waiting", words: error.message }, again: !refused };
}

/** Sends what is unsaved, one save after another, with a stash beside it for the case that this page ends. */
function useSaving<D, A>(
  full: StoredDocument<D, A>,
  tabs: Tabs,
  api: DocumentApi<D, A>,
  first: First<D>,
  answers: ReturnType<typeof useAnswers<A>>,
) {
  const { id } = full;
  const { ask, hear } = answers;
  const queries = useQueryClient();
  const [save, setSave] = useState<SaveState>(
    first.conflict ? { kind: "conflict", revision: full.revision } : { kind: "saved" },
  );
  const [box] = useState<Outbox<D>>(() => ({
    revision: full.revision,
    kept: first.stash && !first.conflict ? first.stash.document : full.document,
    unsaved: first.conflict ? first.stash : null,
    unanswered: first.stash?.unanswered ?? [],
    busy: false,
    retry: undefined,
    alive: true,
  }));

  const stash = useCallback(() => {
    const { unsaved, revision, unanswered } = box;
    writeStash(id, tabs.own, unsaved && { revision, ...unsaved, unanswered, picture: api.picture });
  }, [box, id, api.picture, tabs.own]);

  const pump = useCallback(async () => {
    if (box.busy || !box.unsaved) return;
    box.busy = true;
    const sent = box.unsaved;
    setSave({ kind: "saving" });
    const earlier = box.unanswered.filter((mark) => mark !== sent.save);
    // from here on it may be stored, whether or not the answer comes back
    box.unanswered = [...earlier, sent.save].slice(-MOST_UNANSWERED);
    stash();
    const number = ask();
    try {
      const saved = await api.save({
        revision: box.revision,
        document: sent.document,
        save: sent.save,
        unanswered: earlier.slice(-MOST_UNANSWERED),
      });
      box.revision = saved.revision;
      box.unanswered = [];
      if (box.unsaved === sent) {
        box.unsaved = null;
        setSave({ kind: "saved" });
        hear(number, saved.answer);
      }
      stash();
      void queries.invalidateQueries({ queryKey: api.list });
    } catch (error) {
      const { state, again } = failed(error, box.revision);
      setSave(state);
      if (box.alive && again) box.retry = window.setTimeout(() => void pump(), RETRY_MS);
      return;
    } finally {
      box.busy = false;
    }
    if (box.unsaved) void pump();
  }, [api, ask, box, hear, queries, stash]);

  const queue = useCallback(
    (next: D, mark = newMark()) => {
      box.kept = next;
      box.unsaved = { document: next, save: mark };
      stash();
      window.clearTimeout(box.retry);
      void pump();
    },
    [box, pump, stash],
  );
  return { box, save, setSave, stash, pump, queue };
}

/** What somebody says where two tabs, or a deletion elsewhere, raise a question. */
function useQuestionsOfTabs<D extends { title?: string }, A>(
  api: DocumentApi<D, A>,
  { box, setSave, stash, pump, queue }: ReturnType<typeof useSaving<D, A>>,
  setHistory: (change: (history: History<D>) => History<D>) => void,
  { ask, hear }: ReturnType<typeof useAnswers<A>>,
) {
  const queries = useQueryClient();
  const adopt = useCallback(
    (other: StoredDocument<D, A>) => {
      const mine = box.unsaved?.document;
      Object.assign(box, { revision: other.revision, unsaved: null, unanswered: [], kept: other.document });
      stash();
      // undo brings back what was here
      setHistory((h) => (mine ? keep(h.present === mine ? h : keep(h, mine), other.document) : begin(other.document)));
      hear(ask(), other.answer);
      setSave({ kind: "saved" });
    },
    [ask, box, hear, setHistory, setSave, stash],
  );
  const takeTheirs = useCallback(() => void api.read().then(adopt), [adopt, api]);
  const keepMine = useCallback(() => {
    void api.read().then((other) => {
      box.revision = other.revision;
      const mine = box.unsaved?.document ?? box.kept;
      setHistory((h) => (h.present === mine ? h : keep(h, mine)));
      queue(mine);
    });
  }, [api, box, queue, setHistory]);
  const bringBack = useCallback(() => {
    void api
      .restore()
      .then(() => queries.invalidateQueries({ queryKey: api.list }))
      .then(() => pump())
      .catch((error: Error) => setSave({ kind: "gone", fault: error.message }));
  }, [api, pump, queries, setSave]);
  const keepCopy = useCallback(async () => {
    const document = box.unsaved?.document ?? box.kept;
    const copy = await api.copy({ ...document, title: titleOfCopy(document.title) });
    box.unsaved = null;
    stash();
    void queries.invalidateQueries({ queryKey: api.list });
    return copy.id;
  }, [api, box, queries, stash]);
  return { adopt, takeTheirs, keepMine, bringBack, keepCopy };
}

/** A document that is saved as it changes and answered while it changes. `api` must not change while it is open. */
export function useAutosave<D extends { title?: string }, A>(
  full: StoredDocument<D, A>,
  tabs: Tabs,
  api: DocumentApi<D, A>,
): AutosavedDocument<D, A> {
  const [first] = useState(() => firstOf(full, tabs));
  const answers = useAnswers(full.answer);
  const { ask, hear } = answers;
  const saving = useSaving(full, tabs, api, first, answers);
  const { box, queue, save } = saving;
  const [history, setHistory] = useState<History<D>>(() => begin(box.kept));
  const { adopt, ...questions } = useQuestionsOfTabs(api, saving, setHistory, answers);
  const [left, setLeft] = useState(first.left);

  // answer while a hand moves
  const [newestOf] = useState(newest);
  const answerTo = useCallback(
    (document: D) =>
      newestOf.ask(async () => {
        try {
          const number = ask();
          hear(number, await api.ask(document));
        } catch {
          // the next change asks again; saving reports a lost connection
        }
      }),
    [api, ask, hear, newestOf],
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
      answerTo(next ?? box.kept);
    },
    [answerTo, box],
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
    box.alive = true;
    if (first.stash && !first.conflict && !box.unsaved && box.kept === first.stash.document)
      queue(first.stash.document, first.stash.save);
    if (first.from) discard(first.from);
    // another tab may have gone on with it while this one lay behind it
    const look = () => {
      if (document.visibilityState !== "visible" || box.unsaved || box.busy) return;
      void api
        .read()
        .then((other) => {
          if (other.revision > box.revision && !box.unsaved && !box.busy) adopt(other);
        })
        .catch(() => undefined);
    };
    document.addEventListener("visibilitychange", look);
    window.addEventListener("focus", look);
    return () => {
      box.alive = false;
      window.clearTimeout(box.retry);
      document.removeEventListener("visibilitychange", look);
      window.removeEventListener("focus", look);
    };
  }, [adopt, api, box, first, queue]);

  return {
    document: shown(history),
    answer: answers.answer,
    save,
    moving: history.live !== null,
    canUndo: history.past.length > 0,
    canRedo: history.future.length > 0,
    change,
    show,
    undo: () => step(undo),
    redo: () => step(redo),
    ...questions,
    left,
    takeUp,
    letGo,
  };
}

/** As long as a title may be. */
function titleOfCopy(title: string | undefined): string {
  return t("sheet.useAutosave.keptCopy", { title: title || t("sheet.useAutosave.untitled") }).slice(0, 200);
}
