import { X } from "lucide-react";
import type { Sheet } from "../api/types";
import { formsOf } from "../sheet/edits";
import { t } from "../words";
import type { useLook } from "./useLook";

interface FoundCardProps {
  found: ReturnType<typeof useLook>;
  sheet: Sheet;
  /** Whether the person judges first, and has judged nothing yet. */
  hidden: boolean;
  /** Whether the person judges first, and has not judged eye level yet. */
  levelHidden: boolean;
  onJudgeLevel: () => void;
  /** One form, or null for all. */
  onOffer: (form: string | null) => void;
}

/** What was found in the photo, to be offered form by form; nothing of it while the eye comes first. */
export function FoundCard({ found, sheet, hidden, levelHidden, onOffer, onJudgeLevel }: FoundCardProps) {
  const { looking, shut } = found;
  if (looking.kind === "not yet" || shut) return null;
  const close = (
    <button
      type="button"
      className="btn btn-ghost btn-xs btn-square ml-auto"
      aria-label={t("sighting.foundCard.putAway")}
      onClick={found.shutIt}
    >
      <X size={14} />
    </button>
  );
  if (looking.kind === "looking" || looking.kind === "waiting")
    return (
      <aside className="found-card" aria-label={t("sighting.foundCard.title")}>
        <div className="flex items-center gap-2" role="status">
          <progress className="progress w-10" aria-label={t("sighting.foundCard.looking")} />
          <span>
            {looking.kind === "waiting"
              ? t("sighting.foundCard.waits", { count: looking.ahead })
              : t("sighting.foundCard.looking")}
          </span>
          <button type="button" className="btn btn-xs ml-auto" onClick={found.stop}>
            {t("sighting.foundCard.cancel")}
          </button>
        </div>
      </aside>
    );
  if (looking.kind === "failed")
    return (
      <aside className="found-card flex items-start gap-2" aria-label={t("sighting.foundCard.title")} role="status">
        <p>{looking.fault}</p>
        {close}
      </aside>
    );
  const { look } = looking;
  if (hidden && look.forms.length > 0)
    return (
      <aside className="found-card flex items-start gap-2" aria-label={t("sighting.foundCard.title")}>
        <p role="status">{t("sighting.foundCard.yourEyeFirst")}</p>
        {close}
      </aside>
    );
  const offered = new Set(formsOf(sheet).map((f) => f.id));
  const left = look.forms.filter((f) => !offered.has(f.id));
  if (look.forms.length > 0 && left.length === 0) return null;
  return (
    <aside className="found-card" aria-label={t("sighting.foundCard.title")}>
      <div className="flex items-center gap-2">
        <h2 className="font-semibold">{t("sighting.foundCard.title")}</h2>
        {left.length > 1 && (
          <button type="button" className="btn btn-xs btn-primary ml-2" onClick={() => onOffer(null)}>
            {t("sighting.foundCard.offerAll")}
          </button>
        )}
        {close}
      </div>
      {levelHidden && look.forms.length > 0 ? (
        <p role="status">
          {t("sighting.foundCard.levelAfterYours")}{" "}
          <button type="button" className="btn btn-xs" onClick={onJudgeLevel}>
            {t("sighting.foundCard.judgeEyeLevel")}
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
              aria-label={t("sighting.foundCard.offerIt", { form: form.name })}
              onClick={() => onOffer(form.id)}
            >
              {t("sighting.foundCard.offer")}
            </button>
          </li>
        ))}
      </ul>
    </aside>
  );
}
