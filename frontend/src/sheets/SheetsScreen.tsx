import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { PencilRuler } from "lucide-react";
import { useCallback, useState } from "react";
import { Link, useNavigate } from "react-router";
import { call } from "../api/client";
import { readSheet, sheetsQuery } from "../api/queries";
import type { SheetLine } from "../api/types";
import { Fault } from "../ui/Fault";
import { t } from "../words";
import { OpenPhoto } from "./OpenPhoto";
import { type Act, SheetCard } from "./SheetCard";

async function perform(kind: Act, sheet: SheetLine, title: string): Promise<void> {
  const path = { sheet_id: sheet.id };
  if (kind === "duplicate") await call("post", "/api/sheets/{sheet_id}/duplicate", { path });
  else if (kind === "restore") await call("post", "/api/sheets/{sheet_id}/restore", { path });
  else if (kind === "delete") await call("delete", "/api/sheets/{sheet_id}", { path });
  else {
    const { revision, document } = await readSheet(sheet.id);
    await call("put", "/api/sheets/{sheet_id}", { path, body: { revision, document: { ...document, title } } });
  }
}

/** All sheets, and the way in for a photo of one's own. */
export function SheetsScreen() {
  const queries = useQueryClient();
  const refresh = useCallback(() => queries.invalidateQueries(sheetsQuery), [queries]);
  const list = useQuery(sheetsQuery);
  const [deleted, setDeleted] = useState<SheetLine | null>(null);
  const act = useMutation({
    mutationFn: async ({ kind, sheet, title }: { kind: Act; sheet: SheetLine; title?: string }) => {
      await perform(kind, sheet, title ?? sheet.title);
      setDeleted(kind === "delete" ? sheet : null);
    },
    onSettled: refresh,
  });
  const go = useNavigate();
  const life = useMutation({
    mutationFn: () => call("post", "/api/sheets", { body: {} }),
    onSuccess: async ({ id }) => {
      await refresh();
      await go(`/sheets/${id}/card`);
    },
  });
  const sheets = list.data?.sheets ?? [];
  return (
    <div className="h-full overflow-y-auto">
      <div className="mx-auto max-w-6xl px-6 py-6">
        <OpenPhoto first={list.isSuccess && sheets.length === 0} onDone={refresh} />
        <div className="mt-3 flex flex-wrap items-center gap-x-4 gap-y-2">
          <button type="button" className="btn btn-primary" disabled={life.isPending} onClick={() => life.mutate()}>
            <PencilRuler size={18} /> {t("sheets.sheetsScreen.fromLife")}
          </button>
          <p className="min-w-64 grow basis-0 leading-snug">{t("sheets.sheetsScreen.cardWhat")}</p>
        </div>
        <Fault words={life.error?.message} className="mt-4" />
        <p className="mt-2 text-sm">
          {t("sheets.sheetsScreen.paperWhere")}{" "}
          <Link to="/paper/new" className="underline">
            {t("sheets.sheetsScreen.bringByItself")}
          </Link>
          .{" "}
          <Link to="/worksheets" className="underline">
            {t("sheets.sheetsScreen.worksheets")}
          </Link>{" "}
          {t("sheets.sheetsScreen.worksheetsWhere")}
        </p>
        {list.isError && (
          <div role="alert" className="alert alert-error mt-4">
            <span>{list.error.message}</span>
            <button type="button" className="btn btn-sm" onClick={() => void list.refetch()}>
              {t("sheets.sheetsScreen.tryAgain")}
            </button>
          </div>
        )}
        <Fault words={act.error?.message} className="mt-4" />
        {deleted && (
          <div role="status" className="alert mt-4">
            <span>{t("sheets.sheetsScreen.isDeleted", { title: deleted.title })}</span>
            <button
              type="button"
              className="btn btn-sm"
              onClick={() => act.mutate({ kind: "restore", sheet: deleted })}
            >
              {t("sheets.sheetsScreen.bringItBack")}
            </button>
          </div>
        )}
        <h1 className={sheets.length > 0 ? "mt-7 mb-3 text-xl font-bold" : "sr-only"}>
          {t("sheets.sheetsScreen.sheets")}
        </h1>
        <ul className="grid gap-4 sm:grid-cols-2 lg:grid-cols-3" aria-label={t("sheets.sheetsScreen.sheets")}>
          {sheets.map((sheet) => (
            <SheetCard key={sheet.id} sheet={sheet} onAct={(kind, title) => act.mutate({ kind, sheet, title })} />
          ))}
        </ul>
      </div>
    </div>
  );
}
