import { type ReactNode, useEffect, useRef } from "react";
import { t } from "../words";

interface DialogProps {
  title: string;
  children: ReactNode;
  onClose?: () => void;
  actions?: ReactNode;
}

/** A modal dialog on the browser's own element, which keeps the focus inside. Without `onClose` it stays until
 * one of its actions answers it. */
export function Dialog({ title, children, onClose, actions }: DialogProps) {
  const element = useRef<HTMLDialogElement>(null);
  useEffect(() => {
    if (!element.current?.open) element.current?.showModal();
  }, []);
  return (
    <dialog
      ref={element}
      className="modal"
      aria-label={title}
      onClose={onClose}
      onCancel={onClose ?? ((event) => event.preventDefault())}
    >
      <div className="modal-box max-w-2xl">
        <h2 className="mb-3 text-lg font-bold">{title}</h2>
        {children}
        {actions !== null && (
          <div className="modal-action">
            {actions ?? (
              <button type="button" className="btn btn-sm" onClick={onClose}>
                {t("ui.dialog.close")}
              </button>
            )}
          </div>
        )}
      </div>
    </dialog>
  );
}
