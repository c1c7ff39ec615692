import { Copy, Pencil, Trash2 } from "lucide-react";
import { useState } from "react";
import { Link } from "react-router";
import { pictureUrl } from "../api/client";
import type { SheetLine } from "../api/types";
import { IconButton } from "../ui/IconButton";
import { InlineName } from "../ui/InlineName";
import { dateText } from "../ui/locale";
import { t } from "../words";

export type Act = "duplicate" | "delete" | "restore" | "rename";

/** A sheet in the list, with what can be done to it there. */
export function SheetCard({ sheet, onAct }: { sheet: SheetLine; onAct: (kind: Act, title?: string) => void }) {
  const when = new Date(sheet.updated_at);
  const place = sheet.drawing ? `/paper/${sheet.id}` : `/sheets/${sheet.id}`;
  const [renaming, setRenaming] = useState(false);
  return (
    <li className="overflow-hidden rounded-box border border-base-300 bg-base-200" data-sheet={sheet.id}>
      <Link to={place} className="block" aria-label={t("sheets.sheetCard.open", { title: sheet.title })}>
        {sheet.picture ? (
          <img
            src={pictureUrl(sheet.picture.id, "thumb")}
            alt=""
            className="aspect-4/3 w-full bg-base-300 object-cover"
            loading="lazy"
          />
        ) : (
          <span className="grid aspect-4/3 w-full place-items-center bg-base-300">
            {t("sheets.sheetCard.fromLife")}
          </span>
        )}
      </Link>
      <div className="flex items-center gap-1 px-3 py-2">
        <div className="min-w-0 grow">
          {renaming ? (
            <InlineName
              label={t("sheets.sheetCard.newTitleOf", { title: sheet.title })}
              name={sheet.title}
              onName={(title) => onAct("rename", title)}
              begun
              onDone={() => setRenaming(false)}
              look="w-full font-semibold"
            />
          ) : (
            <Link to={place} className="block truncate font-semibold hover:underline">
              {sheet.title || t("sheets.sheetCard.untitled")}
            </Link>
          )}
          <p className="text-sm text-base-content/85 tabular-nums">
            {t("sheets.sheetCard.sightings", { count: sheet.sightings })} · {dateText(when)}
            {sheet.drawing && t("sheets.sheetCard.onPaper")}
            {!!sheet.drawings && (
              <>
                {" · "}
                <Link to={`/sheets/${sheet.id}/paper`} className="underline">
                  {t("sheets.sheetCard.drawings", { count: sheet.drawings })}
                </Link>
              </>
            )}
          </p>
        </div>
        <IconButton
          icon={Pencil}
          label={t("sheets.sheetCard.rename", { title: sheet.title })}
          title={t("sheets.sheetCard.renameHint")}
          size={16}
          onClick={() => setRenaming(true)}
        />
        <IconButton
          icon={Copy}
          label={t("sheets.sheetCard.duplicate", { title: sheet.title })}
          title={t("sheets.sheetCard.duplicateHint")}
          size={16}
          onClick={() => onAct("duplicate")}
        />
        <IconButton
          icon={Trash2}
          label={t("sheets.sheetCard.delete", { title: sheet.title })}
          title={t("sheets.sheetCard.deleteHint")}
          size={16}
          onClick={() => onAct("delete")}
        />
      </div>
    </li>
  );
}
