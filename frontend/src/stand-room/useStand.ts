import { useEffect, useMemo, useState } from "react";
import { call } from "../api/client";
import { PAGE } from "../api/mark";
import { newest } from "../api/newest";
import { readStand, standsQuery } from "../api/queries";
import type { StandDrawing, StandFile, StandFull, StandSolids } from "../api/types";
import type { Tabs } from "../sheet/stash";
import { type AutosavedDocument, type DocumentApi, type StoredDocument, useAutosave } from "../sheet/useAutosave";

export type OpenStand = AutosavedDocument<StandFile, StandDrawing>;

function whole(full: StandFull): StoredDocument<StandFile, StandDrawing> {
  return { ...full, answer: full.drawing };
}

function waysOf(id: string): DocumentApi<StandFile, StandDrawing> {
  const path = { stand_id: id };
  return {
    read: async () => whole(await readStand(id)),
    save: async (body) => {
      const saved = await call("put", "/api/stands/{stand_id}", { path, body });
      return { revision: saved.revision, answer: saved.drawing };
    },
    ask: (document) => call("post", "/api/stand/drawing", { body: { document, page: PAGE }, again: true }),
    restore: () => call("post", "/api/stands/{stand_id}/restore", { path }),
    copy: (document) => call("post", "/api/stands", { body: { document } }),
    list: standsQuery.queryKey,
    picture: null,
  };
}

/** A set-up that is saved as it changes and drawn while it changes. */
export function useStand(full: StandFull, tabs: Tabs): OpenStand {
  const ways = useMemo(() => waysOf(full.id), [full.id]);
  return useAutosave(whole(full), tabs, ways);
}

/** The surfaces of the things that are set up, asked anew when these change; walking round asks nothing. */
export function useSolids(things: StandFile["things"]): StandSolids | null {
  const [solids, setSolids] = useState<StandSolids | null>(null);
  const [questions] = useState(newest);
  useEffect(() => {
    questions.ask(async () => {
      try {
        setSolids(await call("post", "/api/stand/solids", { body: { document: { things }, page: PAGE }, again: true }));
      } catch {
        // what cannot be is said when it is saved; what was shaded stays
      }
    });
  }, [questions, things]);
  return solids;
}
