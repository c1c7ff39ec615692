import { critiqueUrl } from "../api/client";
import { type DrawingFull, isReading, type Steadiness } from "../api/types";
import { FaceSwitch, facesOf } from "../sheet/FaceSwitch";
import type { Against } from "../sheet/judged";
import { UndoRedo } from "../sheet/SheetHead";
import { SCHOOLS, schoolWords, useSchools } from "../sheet/schools";
import type { OpenSheet } from "../sheet/useSheet";
import { Menu, MenuCheck, MenuDownload, MenuGroup } from "../ui/Menu";
import { ScreenTools } from "../ui/ScreenTools";
import { t } from "../words";
import type { Paper } from "./usePaper";

const AGAINST: Record<Against, string> = {
  subject: t("paper.paperScreen.theSubject"),
  own: t("paper.paperScreen.ownVanishingPoints"),
  both: t("paper.paperScreen.both"),
};
const HANDS: Record<Steadiness, string> = {
  steady: t("paper.paperScreen.steadyHand"),
  usual: t("paper.paperScreen.usualHand"),
  unsteady: t("paper.paperScreen.unsteadyHand"),
};
const LAST = ["pdf", "png", "json"] as const;

/** The bar of a drawing: its faces, by what it is judged, and its critique to take away. */
export function PaperTools({ id, drawing, paper }: { id: string; drawing: DrawingFull; paper: Paper }) {
  const { open, subject, look } = paper;
  const { sheet } = open;
  return (
    <ScreenTools>
      <FaceSwitch
        faces={
          drawing.subject_id
            ? facesOf(drawing.subject_id, { picture: true, life: !!subject?.sightings?.some(isReading) })
            : { subject: `/sheets/${id}`, paper: `/paper/${id}` }
        }
        here="paper"
      />
      <span className="paper-title">{sheet.title || t("paper.paperScreen.untitled")}</span>
      <span className="grow" />
      {subject && <JudgedBy look={look} />}
      <UndoRedo open={open} />
      <CritiqueMenu id={id} open={open} />
    </ScreenTools>
  );
}

/** Against what it is judged, and by how steady a hand. */
function JudgedBy({ look }: { look: Paper["look"] }) {
  const { against, setAgainst, hand, setHand } = look;
  return (
    <>
      <label className="flex items-center gap-1.5 text-sm whitespace-nowrap">
        {t("paper.paperScreen.against")}
        <select
          className="select select-sm against"
          value={against}
          onChange={(event) => setAgainst(event.target.value as Against)}
        >
          {Object.entries(AGAINST).map(([value, words]) => (
            <option key={value} value={value}>
              {words}
            </option>
          ))}
        </select>
      </label>
      <select
        className="select select-sm steadiness"
        aria-label={t("paper.paperScreen.hand")}
        title={t("paper.paperScreen.handHint")}
        value={hand}
        onChange={(event) => setHand(event.target.value as Steadiness)}
      >
        {Object.entries(HANDS).map(([value, words]) => (
          <option key={value} value={value}>
            {words}
          </option>
        ))}
      </select>
    </>
  );
}

function CritiqueMenu({ id, open }: { id: string; open: OpenSheet }) {
  const { sheet } = open;
  const schools = useSchools();
  return (
    <Menu name={t("paper.paperScreen.critique")}>
      <MenuGroup name={t("paper.paperScreen.tolerances")}>
        {SCHOOLS.map((school) => (
          <MenuCheck
            key={school}
            value={school}
            checked={(sheet.tolerance ?? "freehand") === school}
            onChecked={() => open.change({ ...sheet, tolerance: school })}
          >
            {schoolWords(school, schools)}
          </MenuCheck>
        ))}
      </MenuGroup>
      <MenuGroup name={t("paper.paperScreen.onOnePage")}>
        {LAST.map((kind) => (
          <MenuDownload key={kind} href={critiqueUrl(id, kind)}>
            {kind === "json"
              ? t("paper.paperScreen.critiqueJson")
              : kind === "pdf"
                ? t("paper.paperScreen.toPrintPdf")
                : t("paper.paperScreen.toSendPng")}
          </MenuDownload>
        ))}
      </MenuGroup>
    </Menu>
  );
}
