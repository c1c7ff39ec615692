import { ImagePlus } from "lucide-react";
import { type ReactNode, useCallback, useEffect, useRef, useState } from "react";
import { type Progress, uploadPicture } from "../api/files";
import { newMark } from "../api/mark";
import type { Picture } from "../api/types";
import { Fault } from "../ui/Fault";
import { FileField } from "../ui/FileField";
import { t } from "../words";
import { FromPhone } from "./FromPhone";

function progressWords(progress: Progress): string {
  if (progress.kind === "sending") return t("sheet.photoDrop.sending");
  if (progress.kind === "opening") return t("sheet.photoDrop.opening");
  return t("sheet.photoDrop.waiting", { count: progress.ahead });
}

interface PhotoDropProps {
  label: string;
  button: string;
  /** The sheet that the photo is for, where there is one already. */
  sheet?: string;
  children: ReactNode;
  onPicture: (picture: Picture) => Promise<void>;
}

/** Drop, choose or paste a photo, or with `sheet` send it from the telephone; the upload shows progress and can be cancelled. */
export function PhotoDrop({ label, button, children, sheet, onPicture }: PhotoDropProps) {
  const input = useRef<HTMLInputElement>(null);
  const [over, setOver] = useState(false);
  const [progress, setProgress] = useState<Progress | null>(null);
  const [fault, setFault] = useState("");
  const abort = useRef<AbortController | null>(null);
  const bring = useCallback(
    async (file: File) => {
      setFault("");
      setProgress({ kind: "sending", share: 0 });
      abort.current = new AbortController();
      try {
        const picture = await uploadPicture(
          file,
          file.name || t("sheet.photoDrop.pastedPicture"),
          newMark(),
          setProgress,
          abort.current.signal,
        );
        await onPicture(picture);
      } catch (error) {
        if (!(error instanceof DOMException))
          setFault(`${file.name || t("sheet.photoDrop.thePastedPicture")}: ${(error as Error).message}`);
      } finally {
        setProgress(null);
      }
    },
    [onPicture],
  );
  useEffect(() => {
    const paste = (event: ClipboardEvent) => {
      const file = [...(event.clipboardData?.files ?? [])][0];
      if (file) void bring(file);
    };
    window.addEventListener("paste", paste);
    return () => window.removeEventListener("paste", paste);
  }, [bring]);
  return (
    <section
      aria-label={label}
      className={`open-photo rounded-box border-2 border-dashed p-5 ${over ? "border-primary bg-base-200" : "border-base-content/40"}`}
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(event) => {
        event.preventDefault();
        setOver(false);
        const file = event.dataTransfer.files[0];
        if (file) void bring(file);
      }}
    >
      <div className="flex flex-wrap items-center gap-x-5 gap-y-3">
        <button
          type="button"
          className="btn btn-primary"
          disabled={progress !== null}
          onClick={() => input.current?.click()}
        >
          <ImagePlus size={18} /> {button}
        </button>
        {sheet && (
          <FromPhone
            sheet={sheet}
            onPicture={(picture) => void onPicture(picture).catch((error: Error) => setFault(error.message))}
          />
        )}
        <p className="min-w-64 grow basis-0 leading-snug">{children}</p>
      </div>
      {progress !== null && (
        <div className="mt-3 flex items-center gap-3" role="status">
          <progress
            className="progress progress-primary w-64"
            value={progress.kind === "sending" ? progress.share : undefined}
            max={1}
            aria-label={t("sheet.photoDrop.openingThePhoto")}
          />
          <span className="text-sm">{progressWords(progress)}</span>
          <button type="button" className="btn btn-sm" onClick={() => abort.current?.abort()}>
            {t("sheet.photoDrop.cancel")}
          </button>
        </div>
      )}
      <Fault words={fault} className="mt-3" />
      <FileField
        field={input}
        label={t("sheet.photoDrop.photoToOpen")}
        accept="image/jpeg,image/png,image/webp,image/heic,image/heif,.heic,.heif"
        onFile={(file) => void bring(file)}
      />
    </section>
  );
}
