import type { ReactNode } from "react";
import { call } from "../api/client";
import { readSheet } from "../api/queries";
import type { Sheet, SheetFull } from "../api/types";
import { t } from "../words";
import { type OpenedKind, Opening } from "./Opening";
import type { Tabs } from "./stash";

const SHEET: OpenedKind<SheetFull, Sheet> = {
  noun: "sheet",
  read: readSheet,
  restore: (id) => call("post", "/api/sheets/{sheet_id}/restore", { path: { sheet_id: id } }),
  copy: ({ picture, document }) => call("post", "/api/sheets", { body: { picture_id: picture, document } }),
  address: (id) => `/sheets/${id}`,
  list: "/",
  all: t("sheet.sheetLoader.allSheets"),
};

interface SheetLoaderProps {
  face: string;
  children: (full: SheetFull, tabs: Tabs) => ReactNode;
}

/** Loads the sheet that the address names. */
export function SheetLoader({ face, children }: SheetLoaderProps) {
  return (
    <Opening kind={SHEET} face={face}>
      {children}
    </Opening>
  );
}
