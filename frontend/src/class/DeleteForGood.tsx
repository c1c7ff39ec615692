import type { ReactNode } from "react";
import { Dialog } from "../ui/Dialog";
import { words } from "./words";

const say = words.deleteForGood;

/** Asked before what nobody can bring back. */
export function DeleteForGood({
  title,
  children,
  busy,
  onClose,
  onDelete,
}: {
  title: string;
  children: ReactNode;
  busy: boolean;
  onClose: () => void;
  onDelete: () => void;
}) {
  return (
    <Dialog
      title={title}
      onClose={onClose}
      actions={
        <>
          <button type="button" className="btn btn-sm" onClick={onClose}>
            {say.keepIt}
          </button>
          <button type="button" className="btn btn-sm btn-error" disabled={busy} onClick={onDelete}>
            {say.deleteForGood}
          </button>
        </>
      }
    >
      {children}
    </Dialog>
  );
}
