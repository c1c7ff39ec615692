import { X } from "lucide-react";
import type { Piece, RemarkIn } from "../api/types";
import { IconButton } from "../ui/IconButton";
import { t } from "../words";

interface RemarksProps {
  piece: Piece;
  remarks: RemarkIn[];
  chosen: number | null;
  onChoose: (n: number, remark: RemarkIn) => void;
  phrases: string[];
  /** None for who may only read them. */
  onRemarks: ((remarks: RemarkIn[]) => void) | null;
  onAdd: (() => void) | null;
  selected: string | null;
}

/** Remarks by number: on a sighting, at a place, or of the whole; typed, or begun from a phrase. */
export function Remarks({ piece, remarks, chosen, onChoose, phrases, onRemarks, onAdd, selected }: RemarksProps) {
  const called = new Map(
    [...(piece.document.sightings ?? []), ...(piece.drawing?.sightings ?? [])].map((s) => [s.id, s.name || s.id]),
  );
  const where = (remark: RemarkIn) =>
    remark.sighting
      ? `on ${called.get(remark.sighting) ?? remark.sighting}`
      : remark.at
        ? t("class.remarks.atAPlace")
        : t("class.remarks.ofTheWhole");
  if (!onRemarks && remarks.length === 0) return null;
  const put = (n: number, changed: Partial<RemarkIn>) =>
    onRemarks?.(remarks.map((one, k) => (k === n ? { ...one, ...changed } : one)));
  return (
    <div>
      <h2 className="part-head">{t("class.remarks.remarks")}</h2>
      <ol className="flex flex-col gap-2">
        {remarks.map((remark, n) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: a remark is known by its place
          <li key={n} className={`remark ${chosen === n ? "remark-chosen" : ""}`}>
            <button type="button" className="remark-number" onClick={() => onChoose(n, remark)}>
              <span className="sr-only">{t("class.remarks.remark")} </span>
              {n + 1}
            </button>
            <div className="min-w-0 grow">
              <p className="text-sm">{where(remark)}</p>
              {onRemarks ? (
                <>
                  <textarea
                    className="textarea textarea-sm w-full"
                    rows={2}
                    maxLength={1000}
                    aria-label={t("class.remarks.remarkOn", { number: n + 1, where: where(remark) })}
                    data-remark={n}
                    value={remark.words}
                    onFocus={() => onChoose(n, remark)}
                    onChange={(event) => put(n, { words: event.target.value })}
                  />
                  {chosen === n && phrases.length > 0 && (
                    <div className="phrases">
                      {phrases.map((words) => (
                        <button
                          key={words}
                          type="button"
                          className="phrase"
                          onClick={() =>
                            put(n, { words: remark.words.trim() ? `${remark.words.trim()} ${words}` : words })
                          }
                        >
                          {words}
                        </button>
                      ))}
                    </div>
                  )}
                </>
              ) : (
                <p className="leading-snug">{remark.words}</p>
              )}
            </div>
            {onRemarks && (
              <IconButton
                icon={X}
                label={t("class.remarks.deleteRemark", { number: n + 1 })}
                size={15}
                onClick={() => onRemarks(remarks.filter((_, k) => k !== n))}
              />
            )}
          </li>
        ))}
      </ol>
      {onAdd && (
        <button type="button" className="btn btn-sm mt-2" title={t("class.remarks.remarkR")} onClick={onAdd}>
          {selected
            ? t("class.remarks.remarkAbout", { it: called.get(selected) ?? t("class.remarks.it") })
            : t("class.remarks.atPlace")}
        </button>
      )}
    </div>
  );
}
