import { useCallback } from "react";
import { useNavigate } from "react-router";
import { call } from "../api/client";
import type { Picture } from "../api/types";
import { PhotoDrop } from "../sheet/PhotoDrop";

/** A photo becomes a sheet. */
export function OpenPhoto({ first, onDone }: { first: boolean; onDone: () => void }) {
  const go = useNavigate();
  const make = useCallback(
    async (picture: Picture) => {
      const sheet = await call("post", "/api/sheets", { body: { picture_id: picture.id } });
      onDone();
      await go(`/sheets/${sheet.id}`);
    },
    [go, onDone],
  );
  return (
    <PhotoDrop label="Open a photo" button="Open a photo" onPicture={make}>
      {first && <b>Begin with a photo of boxes, cylinders or a building. </b>}
      Choose one, drop it here, or paste it. JPEG, PNG, WebP or HEIC, up to 50 megapixels; location and other personal
      tags are removed. Ask before you photograph people or homes.
    </PhotoDrop>
  );
}
