import { Copy, Pencil, Trash2 } from "lucide-react";
import { useState } from "react";
import { Link } from "react-router";
import { pictureUrl } from "../api/client";
import type { SheetLine } from "../api/types";
import { IconButton } from "../ui/IconButton";
import { InlineName } from "../ui/InlineName";

export type Act = "duplicate" | "delete" | "restore" | "rename";

/** A sheet in the list, with what can be done to it there. */
export function SheetCard({ sheet, onAct }: { sheet: SheetLine; onAct: (kind: Act, title?: string) => void }) {
  const when = new Date(sheet.updated_at);
  const place = sheet.drawing ? `/paper/${sheet.id}` : `/sheets/${sheet.id}`;
  const [renaming, setRenaming] = useState(false);
  return (
    <li className="overflow-hidden rounded-box border border-base-300 bg-base-200" data-sheet={sheet.id}>
      <Link to={place} className="block" aria-label={`Open ${sheet.title}`}>
        {sheet.picture ? (
          <img
            src={pictureUrl(sheet.picture.id, "thumb")}
            alt=""
            className="aspect-4/3 w-full bg-base-300 object-cover"
            loading="lazy"
          />
        ) : (
          <span className="grid aspect-4/3 w-full place-items-center bg-base-300">from life</span>
        )}
      </Link>
      <div className="flex items-center gap-1 px-3 py-2">
        <div className="min-w-0 grow">
          {renaming ? (
            <InlineName
              label={`New title of ${sheet.title}`}
              name={sheet.title}
              onName={(title) => onAct("rename", title)}
              begun
              onDone={() => setRenaming(false)}
              look="w-full font-semibold"
            />
          ) : (
            <Link to={place} className="block truncate font-semibold hover:underline">
              {sheet.title || "Untitled"}
            </Link>
          )}
          <p className="text-sm text-base-content/85 tabular-nums">
            {sheet.sightings} {sheet.sightings === 1 ? "sighting" : "sightings"} · {when.toLocaleDateString()}
            {sheet.drawing && " · on paper"}
            {!!sheet.drawings && (
              <>
                {" · "}
                <Link to={`/sheets/${sheet.id}/paper`} className="underline">
                  {sheet.drawings} {sheet.drawings === 1 ? "drawing" : "drawings"}
                </Link>
              </>
            )}
          </p>
        </div>
        <IconButton
          icon={Pencil}
          label={`Rename ${sheet.title}`}
          title="Rename"
          size={16}
          onClick={() => setRenaming(true)}
        />
        <IconButton
          icon={Copy}
          label={`Duplicate ${sheet.title}`}
          title="Duplicate"
          size={16}
          onClick={() => onAct("duplicate")}
        />
        <IconButton
          icon={Trash2}
          label={`Delete ${sheet.title}`}
          title="Delete"
          size={16}
          onClick={() => onAct("delete")}
        />
      </div>
    </li>
  );
}
