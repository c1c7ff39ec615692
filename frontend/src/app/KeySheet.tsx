import { Dialog } from "./Dialog";
import { KEY_SHEET } from "./keys";

export function KeySheet({ onClose }: { onClose: () => void }) {
  return (
    <Dialog title="Keys" onClose={onClose}>
      <div className="grid gap-5 sm:grid-cols-2">
        {KEY_SHEET.map((part) => (
          <section key={part.part}>
            <h3 className="mb-1 font-semibold">{part.part}</h3>
            <dl className="grid grid-cols-[6.5rem_1fr] gap-x-3 gap-y-1 text-sm">
              {part.lines.map((line) => (
                <div key={line.keys} className="contents">
                  <dt>
                    <kbd className="font-semibold whitespace-pre-wrap">{line.keys}</kbd>
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
