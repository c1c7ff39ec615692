import { t } from "../words";
import "./paper.css";
import { FaceSwitch, facesOf } from "../sheet/FaceSwitch";
import { NextTime } from "../sheet/NextTime";
import { PhotoDrop } from "../sheet/PhotoDrop";
import { Fault } from "../ui/Fault";
import { ScreenTools } from "../ui/ScreenTools";
import { Tick } from "../ui/Tick";
import { CornerStage } from "./CornerStage";
import { type BroughtIn, useBringIn } from "./useBringIn";

const FOUND = {
  looking: t("paper.bringIn.looking"),
  sure: t("paper.bringIn.found"),
  unsure: t("paper.bringIn.foundUnsure"),
  none: t("paper.bringIn.notFound"),
};

/** A photo of a drawing: its sheet's corners are found, set right by hand, and the sheet is flattened. */
export function BringIn({ subject, before }: { subject: string | null; before: string | null }) {
  const brought = useBringIn(subject, before);
  const { photo, corners, setCorners, plain, fault, take } = brought;
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
        {photo && <Flattening brought={brought} />}
        <Fault words={fault} />
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

/** What was found, and how the sheet is taken in. */
function Flattening({ brought }: { brought: BroughtIn }) {
  const { found, plain, setPlain, slant, busy, sized, flatten } = brought;
  const { paper } = sized;
  return (
    <>
      <p role="status" className="font-semibold">
        {FOUND[found]}
      </p>
      <PaperSizeField sized={sized} disabled={plain} />
      <Tick checked={plain} onTick={setPlain}>
        {t("paper.bringIn.asItIs")}
      </Tick>
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
  );
}

/** By its name, and how it lies; or by its two sides. */
function PaperSizeField({ sized, disabled }: { sized: BroughtIn["sized"]; disabled: boolean }) {
  const { sizes, size, choose, chosen, upright, setUpright, own, setOwn } = sized;
  return (
    <fieldset className="flex flex-col gap-2" disabled={disabled}>
      <legend className="sr-only">{t("paper.bringIn.size")}</legend>
      <label className="flex items-center gap-2">
        {t("paper.bringIn.paper")}
        <select className="select select-sm w-28" value={size} onChange={(event) => choose(event.target.value)}>
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
                onChange={(event) => setOwn(k === 0 ? [event.target.value, own[1]] : [own[0], event.target.value])}
              />
              {t("paper.bringIn.mm")}
            </label>
          ))}
        </span>
      )}
    </fieldset>
  );
}
