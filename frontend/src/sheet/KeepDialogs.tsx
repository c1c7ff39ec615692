import { useState } from "react";
import { useNavigate } from "react-router";
import type { Sheet } from "../api/types";
import { Dialog } from "../ui/Dialog";
import { momentText } from "../ui/locale";
import type { Keeper } from "./useKept";
import type { OpenSheet } from "./useSheet";
import { words } from "./words";

const say = words.keepDialogs;

/** What kind of document it is, where a copy of it is opened, and how far another version is from what is shown. */
export interface KeptKind<D> {
  noun: string;
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
        differs: (other) => {
          const count = differing(open.sheet, other);
          return count === 1 ? say.oneSightingDiffers : say.sightingsDiffer(count);
        },
      }}
    />
  );
}

/** The same for a document of any kind. */
export function Keeping<D>({ open, kind }: { open: Keeper<D>; kind: KeptKind<D> }) {
  if (open.save.kind === "gone") return <GoneDialog open={open} kind={kind} refused={open.save.fault} />;
  if (open.save.kind === "conflict") return <ConflictDialog open={open} noun={kind.noun} />;
  return open.left.length > 0 ? <LeftDialog open={open} kind={kind} /> : null;
}

/** Two tabs on one document: nothing is overwritten until somebody says which to keep. */
function ConflictDialog<D>({ open, noun }: { open: Keeper<D>; noun: string }) {
  return (
    <Dialog
      title={say.thisWasChangedInAnother(noun)}
      actions={
        <>
          <button type="button" className="btn btn-sm btn-primary" onClick={open.takeTheirs}>
            {say.takeTheOtherTabs(noun)}
          </button>
          <button type="button" className="btn btn-sm" onClick={open.keepMine}>
            {say.keepWhatIsHere}
          </button>
        </>
      }
    >
      <p>{say.theLastChangeMadeHere(noun)}</p>
    </Dialog>
  );
}

/** It was deleted elsewhere while it was worked on here. */
function GoneDialog<D>({ open, kind, refused }: { open: Keeper<D>; kind: KeptKind<D>; refused?: string }) {
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
      title={say.thisWasDeletedElsewhere(kind.noun)}
      actions={
        <>
          <button type="button" className="btn btn-sm btn-primary" onClick={open.bringBack}>
            {say.bringItBackWithWhat}
          </button>
          <button type="button" className="btn btn-sm" onClick={() => void copy()}>
            {say.keepWhatIsHereAs(kind.noun)}
          </button>
        </>
      }
    >
      <p>{say.theLastChangeMadeHere2(kind.noun)}</p>
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
function LeftDialog<D>({ open, kind }: { open: Keeper<D>; kind: KeptKind<D> }) {
  return (
    <Dialog title={say.unsavedChangesWereLeftBehind} actions={null}>
      <p className="mb-3">
        {open.left.length === 1
          ? say.aVersionOfThisWas(kind.noun)
          : say.versionsOfThisWere(open.left.length, kind.noun)}{" "}
        {say.neverSavedBeforeTheTab} {kind.noun} {say.showsUndoBringsThatBack}
      </p>
      <ul className="grid gap-2">
        {open.left.map((left) => {
          const { at, document } = left.stash;
          const when = at ? momentText(at) : "earlier";
          return (
            <li key={left.key} className="flex flex-wrap items-center gap-2 rounded-field border border-base-300 p-2">
              <span className="grow tabular-nums">{say.fromWhatIsShown(when, kind.differs(document))}</span>
              <button type="button" className="btn btn-sm btn-primary" onClick={() => open.takeUp(left)}>
                {say.takeItUp}
              </button>
              <button type="button" className="btn btn-sm" onClick={() => open.letGo(left)}>
                {say.letItGo}
              </button>
            </li>
          );
        })}
      </ul>
    </Dialog>
  );
}
