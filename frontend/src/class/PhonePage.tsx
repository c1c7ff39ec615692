import { useQuery } from "@tanstack/react-query";
import { Camera } from "lucide-react";
import { useRef, useState } from "react";
import { useParams } from "react-router";
import { call } from "../api/client";
import { type Progress, uploadTo } from "../api/files";
import { Fault } from "./JoinScreen";

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
      <h1 className="text-xl font-bold">A photo for the sheet</h1>
      {target.isError && <Fault words={target.error.message} />}
      {target.data && (
        <>
          <p className="text-lg leading-snug">
            It goes to “{target.data.title}”, on the screen where this link was shown.
          </p>
          <button
            type="button"
            className="btn btn-primary btn-lg"
            disabled={progress !== null}
            onClick={() => input.current?.click()}
          >
            <Camera size={24} /> {sent > 0 ? "Send another" : "Take or choose a photo"}
          </button>
          <input
            ref={input}
            type="file"
            accept="image/*"
            capture="environment"
            className="hidden"
            aria-label="Photo to send"
            onChange={(event) => {
              const file = event.target.files?.[0];
              if (file) void send(file);
              event.target.value = "";
            }}
          />
          {progress && (
            <div role="status">
              <progress
                className="progress progress-primary w-full"
                value={progress.kind === "sending" ? progress.share : undefined}
                max={1}
                aria-label="Sending the photo"
              />
              {progress.kind === "sending" ? "Sending…" : "Opening…"}
            </div>
          )}
          {sent > 0 && !progress && (
            <p role="status" className="text-lg font-semibold">
              It has arrived. You can put the telephone away.
            </p>
          )}
          {fault && <Fault words={fault} />}
          <p className="text-sm leading-snug">
            A drawing: hold the telephone flat over it, all four corners of the paper in the picture. A set-up: from
            where you sit, at the height of your eyes. Ask before you photograph people or a private place. The link is
            good until {new Date(target.data.until).toLocaleTimeString([], { hour: "2-digit", minute: "2-digit" })}.
          </p>
        </>
      )}
    </main>
  );
}
