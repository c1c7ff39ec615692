import { useState } from "react";
import { store, stored } from "../ui/settings";
import { words } from "./words";

const say = words.cautions;

const SEEN = "cautions-seen";
const today = () => new Date().toDateString();

/** What to mind outdoors, in two lines, once a day. */
export function Cautions({ lines }: { lines: string[] }) {
  const [shown, setShown] = useState(() => stored(SEEN) !== today());
  if (!shown || lines.length === 0) return null;
  return (
    <aside className="cautions" aria-label={say.beforeYouBegin}>
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
        {say.seen}
      </button>
    </aside>
  );
}
