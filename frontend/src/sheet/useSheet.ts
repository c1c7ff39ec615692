import { useMemo } from "react";
import { call } from "../api/client";
import { PAGE } from "../api/mark";
import { readSheet, sheetsQuery } from "../api/queries";
import type { Picture, Report, Sheet, SheetFull } from "../api/types";
import type { Tabs } from "./stash";
import { type Autosaved, type DocumentApi, type StoredDocument, useAutosave } from "./useAutosave";

export interface OpenSheet extends Autosaved<Sheet> {
  sheet: Sheet;
  /** None for a sheet from life. */
  picture: Picture | null;
  report: Report;
}

function whole(full: SheetFull): StoredDocument<Sheet, Report> {
  return { ...full, answer: full.report };
}

function waysOf(id: string, picture: string | null): DocumentApi<Sheet, Report> {
  const path = { sheet_id: id };
  return {
    read: async () => whole(await readSheet(id)),
    save: async (body) => {
      const saved = await call("put", "/api/sheets/{sheet_id}", { path, body });
      return { revision: saved.revision, answer: saved.report };
    },
    ask: (document) => call("post", "/api/check", { body: { document, page: PAGE }, again: true }),
    restore: () => call("post", "/api/sheets/{sheet_id}/restore", { path }),
    copy: (document) => call("post", "/api/sheets", { body: { picture_id: picture, document } }),
    list: sheetsQuery.queryKey,
    picture,
  };
}

/** A sheet that is saved as it changes and judged while it changes. */
export function useSheet(full: SheetFull, tabs: Tabs): OpenSheet {
  const picture = full.picture?.id ?? null;
  const ways = useMemo(() => waysOf(full.id, picture), [full.id, picture]);
  const { document, answer, ...keeper } = useAutosave(whole(full), tabs, ways);
  return { ...keeper, sheet: document, picture: full.picture, report: answer };
}
