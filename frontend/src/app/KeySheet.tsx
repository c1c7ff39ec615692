import { Dialog } from "../ui/Dialog";
import type { KeyPart } from "../ui/keys";
import { t } from "../words";
import { KEYMAP } from "./keymap";

/** Keys written alike are told on one line. */
function linesOf(part: KeyPart) {
  return [...new Map(part.lines.map((line) => [line.shown, line])).values()];
}

export function KeySheet({ onClose }: { onClose: () => void }) {
  return (
    <Dialog title={t("app.keySheet.keys")} onClose={onClose}>
      <div className="grid gap-5 sm:grid-cols-2">
        {KEYMAP.map((part) => (
          <section key={part.part}>
            <h3 className="mb-1 font-semibold">{part.part}</h3>
            <dl className="grid grid-cols-[6.5rem_1fr] gap-x-3 gap-y-1 text-sm">
              {linesOf(part).map((line) => (
                <div key={line.shown} className="contents">
                  <dt>
                    <kbd className="font-semibold whitespace-pre-wrap">{line.shown}</kbd>
                  </dt>
                  <dd>{line.does}</dd>
                </div>
              ))}
            </dl>
          </section>
        ))}
      </div>
    </Dialog>
  );
}
