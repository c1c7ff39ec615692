import { Link } from "react-router";
import type { AssignmentOut } from "../api/types";
import { t } from "../words";

/** What must be handed in, each ticked off as it comes, and the way to what is still missing; `noted`: whether the note is written. */
export function HandInList({ of, noted = false }: { of: AssignmentOut; noted?: boolean }) {
  const missing = new Set(of.missing.filter((part) => !(part === "note" && noted)));
  return (
    <ul className="text-sm" aria-label={t("class.handInList.toHandIn")}>
      <li aria-hidden="true">{t("class.handInList.toHandIn")}:</li>
      {of.hand_in.map((part) => (
        <li key={part} data-there={!missing.has(part)} className="flex gap-2">
          <span aria-hidden="true">{missing.has(part) ? "○" : "✓"}</span>
          <span>
            {t(`class.handInPart.${part}`)}{" "}
            <span className="sr-only">
              {missing.has(part) ? t("class.handInList.stillMissing") : t("class.handInList.there")}
            </span>
            {missing.has(part) && part !== "note" && of.my_sheet_id && (
              <Link
                className="link"
                to={part === "sightings" ? `/sheets/${of.my_sheet_id}` : `/sheets/${of.my_sheet_id}/paper`}
              >
                {part === "sightings" ? t("class.handInList.toTheSheet") : t("class.handInList.toThePaper")}
              </Link>
            )}
          </span>
        </li>
      ))}
    </ul>
  );
}
