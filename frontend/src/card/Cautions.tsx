import { useState } from "react";
import { store, stored } from "../ui/settings";
import { t } from "../words";

const SEEN = "cautions-seen";
const today = () => new Date().toDateString();

/** What to mind outdoors, in two lines, once a day. */
export function Cautions({ lines }: { lines: string[] }) {
  const [shown, setShown] = useState(() => stored(SEEN) !== today());
  if (!shown || lines.length === 0) return null;
  return (
    <aside className="cautions" aria-label={t("card.cautions.beforeYouBegin")}>
      <div>
        {lines.map((line) => (
          <p key={line}>{line}</p>
        ))}
      </div>
      <button
        type="button"
        className="btn btn-sm"
        onClick={() => {
          store(SEEN, today());
          setShown(false);
        }}
      >
        {t("card.cautions.seen")}
      </button>
    </aside>
  );
}
