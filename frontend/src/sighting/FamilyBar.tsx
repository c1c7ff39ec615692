import type { Family } from "../api/types";
import { FAMILIES } from "../ui/marks";
import { t } from "../words";

const ORDER: { family: Family; key: string; words: string }[] = [
  { family: "left", key: "L", words: t("sighting.familyBar.left") },
  { family: "right", key: "R", words: t("sighting.familyBar.right") },
  { family: "upright", key: "U", words: t("sighting.familyBar.upright") },
  { family: "depth", key: "D", words: t("sighting.familyBar.depth") },
  { family: "across", key: "X", words: t("sighting.familyBar.across") },
  { family: "slope", key: "S", words: t("sighting.familyBar.slope") },
];

interface FamilyBarProps {
  name: string;
  family: Family;
  /** Whether nobody has said so yet: the edge was just laid. */
  proposed: boolean;
  /** Whether the edge lies low on the stage, so that the bar stands above it. */
  above: boolean;
  onFamily: (family: Family) => void;
}

/** Where the edge in hand runs: everything rests on it, so it stands on the stage until another is chosen. */
export function FamilyBar({ name, family, proposed, above, onFamily }: FamilyBarProps) {
  return (
    <fieldset
      className={`family-bar ${above ? "family-bar-above" : ""}`}
      aria-label={t("sighting.familyBar.whereItRuns", { name })}
    >
      <legend className="family-bar-name">
        <b>{name}</b> {proposed ? t("sighting.familyBar.runsItSeems") : t("sighting.familyBar.runs")}
      </legend>
      {ORDER.map((one) => (
        <button
          key={one.family}
          type="button"
          className={`family-choice ${one.family === family ? "family-chosen" : ""}`}
          aria-pressed={one.family === family}
          title={one.key}
          onClick={() => onFamily(one.family)}
        >
          <svg width="26" height="10" aria-hidden="true">
            <line
              x1="1"
              y1="5"
              x2="25"
              y2="5"
              stroke={FAMILIES[one.family].ink}
              strokeWidth="2.4"
              strokeDasharray={FAMILIES[one.family].dash}
            />
          </svg>
          {one.words} <kbd>{one.key}</kbd>
        </button>
      ))}
    </fieldset>
  );
}
