import type { ReactNode } from "react";
import { Dialog } from "../ui/Dialog";
import { t } from "../words";

interface DeleteForGoodProps {
  title: string;
  children: ReactNode;
  busy: boolean;
  onClose: () => void;
  onDelete: () => void;
}

/** Asked before what nobody can bring back. */
export function DeleteForGood({ title, children, busy, onClose, onDelete }: DeleteForGoodProps) {
  return (
    <Dialog
      title={title}
      onClose={onClose}
      actions={
        <>
          <button type="button" className="btn btn-sm" onClick={onClose}>
            {t("class.deleteForGood.keepIt")}
          </button>
          <button type="button" className="btn btn-sm btn-error" disabled={busy} onClick={onDelete}>
            {t("class.deleteForGood.deleteForGood")}
          </button>
        </>
      }
    >
      {children}
    </Dialog>
  );
}
