import { useQuery } from "@tanstack/react-query";
import { Camera } from "lucide-react";
import { useRef, useState } from "react";
import { useParams } from "react-router";
import { call } from "../api/client";
import { type Progress, uploadTo } from "../api/files";
import { Fault } from "../ui/Fault";
import { FileField } from "../ui/FileField";
import { timeText } from "../ui/locale";
import { t } from "../words";

/** What the telephone shows that opened a sheet's link: one button, and what became of the photo. */
export function PhonePage() {
  const { token = "" } = useParams();
  const target = useQuery({
    queryKey: ["phone", token],
    queryFn: () => call("get", "/api/phone/{token}", { path: { token } }),
    retry: false,
  });
  const input = useRef<HTMLInputElement>(null);
  const [progress, setProgress] = useState<Progress | null>(null);
  const [sent, setSent] = useState(0);
  const [fault, setFault] = useState("");
  const send = async (file: File) => {
    setFault("");
    setProgress({ kind: "sending", share: 0 });
    try {
      await uploadTo(`/api/phone/${token}`, file, setProgress, new AbortController().signal);
      setSent((count) => count + 1);
    } catch (error) {
      setFault((error as Error).message);
    } finally {
      setProgress(null);
    }
  };
  return (
    <main className="flex min-h-dvh flex-col gap-5 bg-base-100 p-6 text-base-content">
      <h1 className="text-xl font-bold">{t("class.phonePage.title")}</h1>
      {target.isError && <Fault words={target.error.message} />}
      {target.data && (
        <>
          <p className="text-lg leading-snug">{t("class.phonePage.goesTo", { title: target.data.title })}</p>
          <button
            type="button"
            className="btn btn-primary btn-lg"
            disabled={progress !== null}
            onClick={() => input.current?.click()}
          >
            <Camera size={24} /> {sent > 0 ? t("class.phonePage.sendAnother") : t("class.phonePage.take")}
          </button>
          <FileField
            field={input}
            label={t("class.phonePage.photoToSend")}
            accept="image/*"
            capture="environment"
            onFile={(file) => void send(file)}
          />
          {progress && (
            <div role="status">
              <progress
                className="progress progress-primary w-full"
                value={progress.kind === "sending" ? progress.share : undefined}
                max={1}
                aria-label={t("class.phonePage.sendingThePhoto")}
              />
              {progress.kind === "sending" ? t("class.phonePage.sending") : t("class.phonePage.opening")}
            </div>
          )}
          {sent > 0 && !progress && (
            <p role="status" className="text-lg font-semibold">
              {t("class.phonePage.arrived")}
            </p>
          )}
          {fault && <Fault words={fault} />}
          <p className="text-sm leading-snug">
            {t("class.phonePage.drawingHint")} {timeText(target.data.until)}.
          </p>
        </>
      )}
    </main>
  );
}
