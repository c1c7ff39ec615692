import { Link } from "react-router";
import type { AssignmentOut } from "../api/types";
import { HAND_IN, words } from "./words";

const say = words.handInList;

/** What must be handed in, each ticked off as it comes, and the way to what is still missing; `noted`: whether the note is written. */
export function HandInList({ of, noted = false }: { of: AssignmentOut; noted?: boolean }) {
  const missing = new Set(of.missing.filter((part) => !(part === "note" && noted)));
  return (
    <ul className="text-sm" aria-label={say.toHandIn}>
      <li aria-hidden="true">{say.toHandIn}:</li>
      {of.hand_in.map((part) => (
        <li key={part} data-there={!missing.has(part)} className="flex gap-2">
          <span aria-hidden="true">{missing.has(part) ? "○" : "✓"}</span>
          <span>
            {HAND_IN[part]} <span className="sr-only">{missing.has(part) ? say.stillMissing : say.there}</span>
            {missing.has(part) && part !== "note" && of.my_sheet_id && (
              <Link
                className="link"
                to={part === "sightings" ? `/sheets/${of.my_sheet_id}` : `/sheets/${of.my_sheet_id}/paper`}
              >
                {part === "sightings" ? say.toTheSheet : say.toThePaper}
              </Link>
            )}
          </span>
        </li>
      ))}
    </ul>
  );
}
