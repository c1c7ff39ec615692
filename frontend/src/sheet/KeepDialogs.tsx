import { useState } from "react";
import { useNavigate } from "react-router";
import type { Sheet } from "../api/types";
import { Dialog } from "../ui/Dialog";
import type { Keeper } from "./useKept";
import type { OpenSheet } from "./useSheet";

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
          return count === 1 ? "one sighting differs" : `${count} sightings differ`;
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
      title={`This ${noun} was changed in another tab`}
      actions={
        <>
          <button type="button" className="btn btn-sm btn-primary" onClick={open.takeTheirs}>
            Take the other tab's {noun}
          </button>
          <button type="button" className="btn btn-sm" onClick={open.keepMine}>
            Keep what is here
          </button>
        </>
      }
    >
      <p>
        The last change made here is not saved. You can take the {noun} as the other tab left it, or save what is on
        this screen over it. Undo brings the other back either way.
      </p>
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
      title={`This ${kind.noun} was deleted elsewhere`}
      actions={
        <>
          <button type="button" className="btn btn-sm btn-primary" onClick={open.bringBack}>
            Bring it back with what is here
          </button>
          <button type="button" className="btn btn-sm" onClick={() => void copy()}>
            Keep what is here as a new {kind.noun}
          </button>
        </>
      }
    >
      <p>
        The last change made here could not be saved, because the {kind.noun} was deleted in another tab. It is kept in
        this browser until you say what to do.
      </p>
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
    <Dialog title="Unsaved changes were left behind" actions={null}>
      <p className="mb-3">
        {open.left.length === 1
          ? `A version of this ${kind.noun} was`
          : `${open.left.length} versions of this ${kind.noun} were`}{" "}
        never saved before the tab was closed. Taking one up replaces what the {kind.noun} shows; undo brings that back.
      </p>
      <ul className="grid gap-2">
        {open.left.map((left) => {
          const { at, document } = left.stash;
          const when = at ? new Date(at).toLocaleString() : "earlier";
          return (
            <li key={left.key} className="flex flex-wrap items-center gap-2 rounded-field border border-base-300 p-2">
              <span className="grow tabular-nums">
                {when} · {kind.differs(document)} from what is shown
              </span>
              <button type="button" className="btn btn-sm btn-primary" onClick={() => open.takeUp(left)}>
                Take it up
              </button>
              <button type="button" className="btn btn-sm" onClick={() => open.letGo(left)}>
                Let it go
              </button>
            </li>
          );
        })}
      </ul>
    </Dialog>
  );
}
