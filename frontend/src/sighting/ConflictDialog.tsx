import { Dialog } from "../app/Dialog";
import type { OpenSheet } from "./useSheet";

/** Two tabs on one sheet: nothing is overwritten until somebody says which to keep. */
export function ConflictDialog({ open }: { open: OpenSheet }) {
  return (
    <Dialog
      title="This sheet was changed in another tab"
      onClose={open.takeTheirs}
      actions={
        <>
          <button type="button" className="btn btn-sm btn-primary" onClick={open.takeTheirs}>
            Take the other tab's sheet
          </button>
          <button type="button" className="btn btn-sm" onClick={open.keepMine}>
            Keep what is here
          </button>
        </>
      }
    >
      <p>
        The last change made here is not saved. You can take the sheet as the other tab left it, or save what is on this
        screen over it.
      </p>
    </Dialog>
  );
}
