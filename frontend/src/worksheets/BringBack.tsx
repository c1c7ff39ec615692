import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useState } from "react";
import { Link } from "react-router";
import { type Answer, call, OF_PHOTOS_MS } from "../api/client";
import { newMark } from "../api/mark";
import { sheetsQuery, worksheetsQuery } from "../api/queries";
import type { Picture } from "../api/types";
import { PhotoDrop } from "../sheet/PhotoDrop";
import { words } from "./words";

const say = words.bringBack;

type Back = Answer<"post", "/api/worksheets/back">;

/** Four steps in processes of their own, behind the photos of others. */

/** A photographed worksheet becomes a drawing with its truth. */
export function BringBack() {
  const queries = useQueryClient();
  const [reading, setReading] = useState(false);
  const [back, setBack] = useState<Back | null>(null);
  const bring = useCallback(
    async (picture: Picture) => {
      setReading(true);
      setBack(null);
      try {
        const body = { photo_id: picture.id, ticket: newMark() };
        setBack(await call("post", "/api/worksheets/back", { body, patience_ms: OF_PHOTOS_MS }));
        await queries.invalidateQueries(worksheetsQuery);
        await queries.invalidateQueries(sheetsQuery);
      } finally {
        setReading(false);
      }
    },
    [queries],
  );
  return (
    <section aria-labelledby="back-head">
      <h2 id="back-head" className="part-head">
        {say.bringOneBack}
      </h2>
      <PhotoDrop label={say.bringAWorksheetBack} button="Photo of a worksheet" onPicture={bring}>
        {say.theWholeSheetFlatAnd}
      </PhotoDrop>
      <div role="status">
        {reading && (
          <p className="mt-2 flex items-center gap-2">
            <span className="loading loading-spinner loading-sm" aria-hidden="true" />{" "}
            {say.readingTheCornersFlatteningAnd}
          </p>
        )}
        {back && (
          <p className="alert mt-2 block leading-snug">
            <b>{say.sheet(back.title, back.copy_number)}</b> {back.words}{" "}
            <Link className="link font-semibold" to={`/paper/${back.drawing_id}`}>
              {say.seeWhatHolds}
            </Link>
          </p>
        )}
      </div>
    </section>
  );
}
