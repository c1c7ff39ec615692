import { useState } from "react";
import { useNavigate } from "react-router";
import type { Sheet } from "../api/types";
import { Dialog } from "../ui/Dialog";
import { momentText } from "../ui/locale";
import { t } from "../words";
import type { Noun } from "./Opening";
import type { Autosaved } from "./useAutosave";
import type { OpenSheet } from "./useSheet";

/** What kind of document it is, where a copy of it is opened, and how far another version is from what is shown. */
export interface KeptKind<D> {
  noun: Noun;
  address: (id: string) => string;
  differs: (other: D) => string;
}

/** Whatever stands between this tab's work on a sheet and the server, one question at a time. */
export function KeepDialogs({ open }: { open: OpenSheet }) {
  return (
    <Keeping
      open={open}
      kind={{
        noun: "sheet",
        address: (id) => `/sheets/${id}`,
        differs: (other) => t("sheet.keepDialogs.sightingsDiffer", { count: differing(open.sheet, other) }),
      }}
    />
  );
}

/** The same for a document of any kind. */
export function Keeping<D>({ open, kind }: { open: Autosaved<D>; kind: KeptKind<D> }) {
  if (open.save.kind === "gone") return <GoneDialog open={open} kind={kind} refused={open.save.fault} />;
  if (open.save.kind === "conflict") return <ConflictDialog open={open} noun={kind.noun} />;
  return open.left.length > 0 ? <LeftDialog open={open} kind={kind} /> : null;
}

/** Two tabs on one document: nothing is overwritten until somebody says which to keep. */
function ConflictDialog<D>({ open, noun }: { open: Autosaved<D>; noun: Noun }) {
  return (
    <Dialog
      title={t(`sheet.keepDialogs.changedElsewhere.${noun}`)}
      actions={
        <>
          <button type="button" className="btn btn-sm btn-primary" onClick={open.takeTheirs}>
            {t(`sheet.keepDialogs.takeOther.${noun}`)}
          </button>
          <button type="button" className="btn btn-sm" onClick={open.keepMine}>
            {t("sheet.keepDialogs.keepThis")}
          </button>
        </>
      }
    >
      <p>{t(`sheet.keepDialogs.changedElsewhereWhat.${noun}`)}</p>
    </Dialog>
  );
}

/** It was deleted elsewhere while it was worked on here. */
function GoneDialog<D>({ open, kind, refused }: { open: Autosaved<D>; kind: KeptKind<D>; refused?: string }) {
  const go = useNavigate();
  const [copying, setCopying] = useState("");
  const fault = copying || refused;
  const copy = async () => {
    try {
      await go(kind.address(await open.keepCopy()));
    } catch (error) {
      setCopying((error as Error).message);
    }
  };
  return (
    <Dialog
      title={t(`sheet.keepDialogs.deletedElsewhere.${kind.noun}`)}
      actions={
        <>
          <button type="button" className="btn btn-sm btn-primary" onClick={open.bringBack}>
            {t("sheet.keepDialogs.bringBack")}
          </button>
          <button type="button" className="btn btn-sm" onClick={() => void copy()}>
            {t(`sheet.keepDialogs.keepAsNew.${kind.noun}`)}
          </button>
        </>
      }
    >
      <p>{t(`sheet.keepDialogs.deletedElsewhereWhat.${kind.noun}`)}</p>
      {fault && (
        <p role="alert" className="mt-2 font-semibold text-error">
          {fault}
        </p>
      )}
    </Dialog>
  );
}

/** How many sightings two versions of a sheet do not share. */
function differing(a: Sheet, b: Sheet): number {
  const [mine, theirs] = [a, b].map((sheet) => new Map(sheet.sightings?.map((s) => [s.id, JSON.stringify(s)])));
  const ids = new Set([...(mine?.keys() ?? []), ...(theirs?.keys() ?? [])]);
  return [...ids].filter((id) => mine?.get(id) !== theirs?.get(id)).length;
}

/** Versions that closed tabs could not save any more. */
function LeftDialog<D>({ open, kind }: { open: Autosaved<D>; kind: KeptKind<D> }) {
  return (
    <Dialog title={t("sheet.keepDialogs.leftBehind")} actions={null}>
      <p className="mb-3">{t(`sheet.keepDialogs.leftBehindWhat.${kind.noun}`, { count: open.left.length })}</p>
      <ul className="grid gap-2">
        {open.left.map((left) => {
          const { at, document } = left.stash;
          const when = at ? momentText(at) : t("sheet.keepDialogs.earlier");
          return (
            <li key={left.key} className="flex flex-wrap items-center gap-2 rounded-field border border-base-300 p-2">
              <span className="grow tabular-nums">
                {t("sheet.keepDialogs.leftBehindDiffers", { when, differs: kind.differs(document) })}
              </span>
              <button type="button" className="btn btn-sm btn-primary" onClick={() => open.takeUp(left)}>
                {t("sheet.keepDialogs.takeItUp")}
              </button>
              <button type="button" className="btn btn-sm" onClick={() => open.letGo(left)}>
                {t("sheet.keepDialogs.letItGo")}
              </button>
            </li>
          );
        })}
      </ul>
    </Dialog>
  );
}
