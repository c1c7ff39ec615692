import { X } from "lucide-react";
import type { Sheet } from "../api/types";
import { formsOf } from "../sheet/edits";
import type { useLook } from "./useLook";
import { words } from "./words";

const say = words.foundCard;

/** What was found in the photo, to be offered form by form; nothing of it while the eye comes first. */
export function FoundCard({
  found,
  sheet,
  hidden,
  levelHidden,
  onOffer,
  onJudgeLevel,
}: {
  found: ReturnType<typeof useLook>;
  sheet: Sheet;
  /** Whether the person judges first, and has judged nothing yet. */
  hidden: boolean;
  /** Whether the person judges first, and has not judged eye level yet. */
  levelHidden: boolean;
  onJudgeLevel: () => void;
  /** One form, or null for all. */
  onOffer: (form: string | null) => void;
}) {
  const { looking, shut } = found;
  if (looking.kind === "not yet" || shut) return null;
  const close = (
    <button
      type="button"
      className="btn btn-ghost btn-xs btn-square ml-auto"
      aria-label={say.putAway}
      onClick={found.shutIt}
    >
      <X size={14} />
    </button>
  );
  if (looking.kind === "looking" || looking.kind === "waiting")
    return (
      <aside className="found-card" aria-label={say.foundInThePhoto}>
        <div className="flex items-center gap-2" role="status">
          <progress className="progress w-10" aria-label={say.lookingIntoThePhoto} />
          <span>{looking.kind === "waiting" ? say.waits(looking.ahead) : say.lookingIntoThePhoto}</span>
          <button type="button" className="btn btn-xs ml-auto" onClick={found.stop}>
            {say.cancel}
          </button>
        </div>
      </aside>
    );
  if (looking.kind === "failed")
    return (
      <aside className="found-card flex items-start gap-2" aria-label={say.foundInThePhoto} role="status">
        <p>{looking.fault}</p>
        {close}
      </aside>
    );
  const { look } = looking;
  if (hidden && look.forms.length > 0)
    return (
      <aside className="found-card flex items-start gap-2" aria-label={say.foundInThePhoto}>
        <p role="status">{say.yourEyeFirst}</p>
        {close}
      </aside>
    );
  const offered = new Set(formsOf(sheet).map((f) => f.id));
  const left = look.forms.filter((f) => !offered.has(f.id));
  if (look.forms.length > 0 && left.length === 0) return null;
  return (
    <aside className="found-card" aria-label={say.foundInThePhoto}>
      <div className="flex items-center gap-2">
        <h2 className="font-semibold">{say.foundInThePhoto}</h2>
        {left.length > 1 && (
          <button type="button" className="btn btn-xs btn-primary ml-2" onClick={() => onOffer(null)}>
            {say.offerAll}
          </button>
        )}
        {close}
      </div>
      {levelHidden && look.forms.length > 0 ? (
        <p role="status">
          {say.levelAfterYours}{" "}
          <button type="button" className="btn btn-xs" onClick={onJudgeLevel}>
            {say.judgeEyeLevel}
          </button>
        </p>
      ) : (
        <p role="status">{look.words.join(" ")}</p>
      )}
      <ul className="mt-1 flex flex-col gap-1">
        {left.map((form) => (
          <li key={form.id} className="flex items-baseline gap-2">
            <span className="grow">
              <b>{form.name}</b>: {form.words}
            </span>
            <button
              type="button"
              className="btn btn-xs"
              aria-label={say.offerIt(form.name)}
              onClick={() => onOffer(form.id)}
            >
              {say.offer}
            </button>
          </li>
        ))}
      </ul>
    </aside>
  );
}
