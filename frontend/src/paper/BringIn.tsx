import { t } from "../words";
import "./paper.css";
import { useCallback, useEffect, useRef, useState } from "react";
import { useNavigate } from "react-router";
import { call, OF_PHOTOS_MS } from "../api/client";
import type { PaperSize, Picture, Point } from "../api/types";
import { FaceSwitch, facesOf } from "../sheet/FaceSwitch";
import { NextTime } from "../sheet/NextTime";
import { PhotoDrop } from "../sheet/PhotoDrop";
import { ScreenTools } from "../ui/ScreenTools";
import { CornerStage } from "./CornerStage";

type Corners = [Point, Point, Point, Point];

/** A photo of a drawing: its sheet's corners are found, set right by hand, and the sheet is flattened. */
export function BringIn({ subject, before }: { subject: string | null; before: string | null }) {
  const go = useNavigate();
  const [photo, setPhoto] = useState<Picture | null>(null);
  const [corners, setCorners] = useState<Corners | null>(null);
  const [plain, setPlain] = useState(false);
  const [found, setFound] = useState<"looking" | "sure" | "unsure" | "none">("looking");
  const [sizes, setSizes] = useState<PaperSize[]>([]);
  const [size, setSize] = useState("A4");
  const [own, setOwn] = useState<[string, string]>(["297", "210"]);
  const [upright, setUpright] = useState(false);
  const [slant, setSlant] = useState("");
  const [fault, setFault] = useState("");
  const [busy, setBusy] = useState(false);
  const number = useRef(0);
  /** Whether a hand chose the paper: then no proposal does. */
  const chose = useRef(false);

  const take = useCallback(
    async (picture: Picture) => {
      setPhoto(picture);
      setFault("");
      setFound("looking");
      setCorners(null);
      try {
        const answer = await call("post", "/api/paper/find", {
          body: { picture_id: picture.id, subject_id: subject, before_id: before },
          patience_ms: OF_PHOTOS_MS,
        });
        setSizes(answer.sizes);
        const at = (answer.corners as Corners | null) ?? usual(picture);
        setCorners(at);
        setUpright(answer.upright);
        if (answer.paper_mm && !chose.current) {
          const [short, long] = answer.paper_mm.toSorted((a, b) => a - b);
          setSize(answer.sizes.find((one) => one.wide_mm === short && one.high_mm === long)?.name ?? "own");
          const [w, h] = answer.upright ? [short, long] : [long, short];
          setOwn([String(w), String(h)]);
        }
        setFound(answer.corners ? (answer.sure ? "sure" : "unsure") : "none");
      } catch (error) {
        setFault((error as Error).message);
        setCorners(usual(picture));
        setFound("none");
      }
    },
    [subject, before],
  );

  const chosen = sizes.find((one) => one.name === size);
  const paper: [number, number] | null = chosen
    ? upright
      ? [chosen.wide_mm, chosen.high_mm]
      : [chosen.high_mm, chosen.wide_mm]
    : positive(own);
  const [wide, high] = paper ?? [0, 0];
  useEffect(() => {
    if (!photo || !corners || plain || !wide || !high) {
      setSlant("");
      return;
    }
    number.current += 1;
    const mine = number.current;
    call("post", "/api/paper/slant", { body: { picture_id: photo.id, corners, paper_mm: [wide, high] } })
      .then(({ words }) => mine === number.current && setSlant(words))
      .catch((error: Error) => mine === number.current && setSlant(error.message));
  }, [photo, corners, plain, wide, high]);

  const flatten = async () => {
    if (!photo || (!plain && (!corners || !paper))) return;
    setBusy(true);
    setFault("");
    try {
      const how = plain ? {} : { corners, paper_mm: paper };
      const made = await call("post", "/api/drawings", {
        patience_ms: OF_PHOTOS_MS,
        body: { photo_id: photo.id, subject_id: subject, before_id: before, ...how },
      });
      await go(`/paper/${made.sheet_id}`);
    } catch (error) {
      setFault((error as Error).message);
      setBusy(false);
    }
  };

  return (
    <div className="whole-screen bring-in">
      {subject && (
        <ScreenTools>
          <FaceSwitch faces={facesOf(subject, { picture: true, life: false })} here="paper" />
        </ScreenTools>
      )}
      <div className="bring-side">
        <h1 className="text-xl font-bold">{before ? t("paper.bringIn.titleAgain") : t("paper.bringIn.title")}</h1>
        {subject && <NextTime sheet={subject} />}
        <p>{t("paper.bringIn.how")}</p>
        <PhotoDrop
          label={t("paper.bringIn.photo")}
          button={photo ? t("paper.bringIn.anotherPhoto") : t("paper.bringIn.openAPhoto")}
          sheet={subject ?? undefined}
          onPicture={take}
        >
          {t("paper.bringIn.choose")}
        </PhotoDrop>
        {photo && (
          <>
            <p role="status" className="font-semibold">
              {FOUND[found]}
            </p>
            <fieldset className="flex flex-col gap-2" disabled={plain}>
              <legend className="sr-only">{t("paper.bringIn.size")}</legend>
              <label className="flex items-center gap-2">
                {t("paper.bringIn.paper")}
                <select
                  className="select select-sm w-28"
                  value={size}
                  onChange={(event) => {
                    chose.current = true;
                    setSize(event.target.value);
                  }}
                >
                  {sizes.map((one) => (
                    <option key={one.name}>{one.name}</option>
                  ))}
                  <option value="own">{t("paper.bringIn.ownSize")}</option>
                </select>
                {chosen && (
                  <select
                    className="select select-sm w-32"
                    aria-label={t("paper.bringIn.lies")}
                    value={upright ? "upright" : "across"}
                    onChange={(event) => setUpright(event.target.value === "upright")}
                  >
                    <option value="upright">{t("paper.bringIn.upright")}</option>
                    <option value="across">{t("paper.bringIn.onItsSide")}</option>
                  </select>
                )}
              </label>
              {!chosen && (
                <span className="flex items-center gap-2">
                  {([0, 1] as const).map((k) => (
                    <label key={k} className="flex items-center gap-1">
                      {k === 0 ? t("paper.bringIn.width") : t("paper.bringIn.height")}
                      <input
                        className="input input-sm w-20"
                        inputMode="decimal"
                        value={own[k]}
                        onChange={(event) =>
                          setOwn(k === 0 ? [event.target.value, own[1]] : [own[0], event.target.value])
                        }
                      />
                      {t("paper.bringIn.mm")}
                    </label>
                  ))}
                </span>
              )}
            </fieldset>
            <label className="flex items-center gap-2">
              <input
                type="checkbox"
                className="checkbox checkbox-sm"
                checked={plain}
                onChange={(event) => setPlain(event.target.checked)}
              />
              {t("paper.bringIn.asItIs")}
            </label>
            <p className="text-sm">{plain ? t("paper.bringIn.asItIsWarning") : slant}</p>
            <button
              type="button"
              className="btn btn-primary self-start"
              disabled={busy || found === "looking" || (!plain && !paper)}
              onClick={() => void flatten()}
            >
              {busy
                ? t("paper.bringIn.flattening")
                : plain
                  ? t("paper.bringIn.takeAsItIs")
                  : t("paper.bringIn.flattenTheSheet")}
            </button>
          </>
        )}
        {fault && (
          <p role="alert" className="alert alert-error">
            {fault}
          </p>
        )}
      </div>
      <div className="bring-stage">
        {photo ? (
          <CornerStage photo={photo} corners={plain ? null : corners} onCorners={setCorners} />
        ) : (
          <p className="m-auto max-w-sm p-6 text-center">{t("paper.bringIn.emptyStage")}</p>
        )}
      </div>
    </div>
  );
}

const FOUND = {
  looking: t("paper.bringIn.looking"),
  sure: t("paper.bringIn.found"),
  unsure: t("paper.bringIn.foundUnsure"),
  none: t("paper.bringIn.notFound"),
};

/** Where corners begin that were not found. */
function usual({ width_px, height_px }: Picture): Corners {
  return [
    [width_px * 0.15, height_px * 0.15],
    [width_px * 0.85, height_px * 0.15],
    [width_px * 0.85, height_px * 0.85],
    [width_px * 0.15, height_px * 0.85],
  ];
}

function positive([wide, high]: [string, string]): [number, number] | null {
  const [w, h] = [Number(wide.replace(",", ".")), Number(high.replace(",", "."))];
  return w >= 20 && h >= 20 && w <= 5000 && h <= 5000 ? [w, h] : null;
}
