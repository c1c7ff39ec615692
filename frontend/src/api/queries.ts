/** What screens ask and keep: one key and one fetch for each. */
import { queryOptions } from "@tanstack/react-query";
import { ApiError, call } from "./client";

export const sheetsQuery = queryOptions({ queryKey: ["sheets"], queryFn: () => call("get", "/api/sheets") });

export const readSheet = (id: string) => call("get", "/api/sheets/{sheet_id}", { path: { sheet_id: id } });

/** A sheet, read afresh each time it is opened. */
export const sheetQuery = (id: string) =>
  queryOptions({
    queryKey: ["sheet", id],
    queryFn: () => readSheet(id),
    // a sheet that is gone is gone: asking again does not bring it back
    retry: (failures, error) => failures < 1 && !(error instanceof ApiError && error.status === 404),
    gcTime: 0,
    staleTime: Number.POSITIVE_INFINITY,
  });
