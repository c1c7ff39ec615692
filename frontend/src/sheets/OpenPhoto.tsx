import { useCallback } from "react";
import { useNavigate } from "react-router";
import { call } from "../api/client";
import type { Picture } from "../api/types";
import { PhotoDrop } from "../sheet/PhotoDrop";
import { t } from "../words";

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
    <PhotoDrop label={t("sheets.openPhoto.openAPhoto")} button={t("sheets.openPhoto.open")} onPicture={make}>
      {first && <b>{t("sheets.openPhoto.title")} </b>}
      {t("sheets.openPhoto.choose")}
    </PhotoDrop>
  );
}
