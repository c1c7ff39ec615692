import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useState } from "react";
import { Link } from "react-router";
import { type Answer, call, OF_PHOTOS_MS } from "../api/client";
import { newMark } from "../api/mark";
import { meQuery, sheetsQuery, worksheetsQuery } from "../api/queries";
import type { Picture } from "../api/types";
import { PhotoDrop } from "../sheet/PhotoDrop";
import { Fault } from "../ui/Fault";
import { t } from "../words";

type Back = Answer<"post", "/api/worksheets/back">;

/** A photographed worksheet becomes a drawing with its truth: the student's whose name is on it, else whose the tutor says it is. */
export function BringBack() {
  const queries = useQueryClient();
  const [photo, setPhoto] = useState<Picture | null>(null);
  const [reading, setReading] = useState(false);
  const [back, setBack] = useState<Back | null>(null);
  const [fault, setFault] = useState("");
  const bring = useCallback(
    async (picture: Picture, whose: string | null) => {
      setReading(true);
      setBack(null);
      try {
        const body = { photo_id: picture.id, ticket: newMark(), whose };
        setBack(await call("post", "/api/worksheets/back", { body, patience_ms: OF_PHOTOS_MS }));
        await queries.invalidateQueries(worksheetsQuery);
        await queries.invalidateQueries(sheetsQuery);
      } finally {
        setReading(false);
      }
    },
    [queries],
  );
  const taken = useCallback(
    (picture: Picture) => {
      setPhoto(picture);
      setFault("");
      return bring(picture, null);
    },
    [bring],
  );
  const asked = back !== null && back.students.length > 0;
  return (
    <section aria-labelledby="back-head">
      <h2 id="back-head" className="part-head">
        {t("worksheets.bringBack.bringOneBack")}
      </h2>
      <PhotoDrop label={t("worksheets.bringBack.title")} button={t("worksheets.bringBack.photo")} onPicture={taken}>
        {t("worksheets.bringBack.how")}
      </PhotoDrop>
      <div role="status">
        {reading && (
          <p className="mt-2 flex items-center gap-2">
            <span className="loading loading-spinner loading-sm" aria-hidden="true" />{" "}
            {t("worksheets.bringBack.reading")}
          </p>
        )}
        {back && !asked && (
          <p className="alert mt-2 block leading-snug">
            <b>{t("worksheets.bringBack.sheet", { title: back.title, number: back.copy_number })}</b> {back.words}{" "}
            {back.drawing_id && (
              <Link className="link font-semibold" to={`/paper/${back.drawing_id}`}>
                {t("worksheets.bringBack.seeWhatHolds")}
              </Link>
            )}
          </p>
        )}
      </div>
      {asked && photo && (
        <WhoseSheet
          back={back}
          onWhose={(whose) => {
            setFault("");
            bring(photo, whose).catch((error: Error) => setFault(error.message));
          }}
        />
      )}
      <Fault words={fault} className="mt-2" />
    </section>
  );
}

/** The tutor says whose a sheet is that bears no name. */
function WhoseSheet({ back, onWhose }: { back: Back; onWhose: (person: string) => void }) {
  const me = useQueryClient().getQueryData(meQuery.queryKey);
  const [chosen, setChosen] = useState("");
  return (
    <form
      className="mt-2 flex flex-col items-start gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        if (chosen) onWhose(chosen);
      }}
    >
      <label className="flex flex-col gap-1">
        <span>
          <b>{t("worksheets.bringBack.sheet", { title: back.title, number: back.copy_number })}</b>{" "}
          {t("worksheets.bringBack.noName")}
        </span>
        <select className="select select-sm" value={chosen} onChange={(event) => setChosen(event.target.value)}>
          <option value="">{t("worksheets.bringBack.choose")}</option>
          {back.students.map((one) => (
            <option key={one.person_id} value={one.person_id}>
              {one.name}
            </option>
          ))}
          {me?.id && <option value={me.id}>{t("worksheets.bringBack.mine")}</option>}
        </select>
      </label>
      <button type="submit" className="btn btn-primary btn-sm" disabled={!chosen}>
        {t("worksheets.bringBack.fileIt")}
      </button>
    </form>
  );
}
