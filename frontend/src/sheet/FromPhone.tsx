import { useQuery } from "@tanstack/react-query";
import { Smartphone } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import { type Answer, call } from "../api/client";
import type { Picture } from "../api/types";
import { Dialog } from "../ui/Dialog";
import { Fault } from "../ui/Fault";
import { timeText } from "../ui/locale";
import { t } from "../words";

const LOOK_EVERY_MS = 1200;

/** A link for the telephone as a QR code; a photo that it sends is taken as if it had been opened here. */
export function FromPhone({ sheet, onPicture }: { sheet: string; onPicture: (picture: Picture) => void }) {
  const [asked, setAsked] = useState(false);
  return (
    <>
      <button type="button" className="btn" onClick={() => setAsked(true)}>
        <Smartphone size={18} /> {t("sheet.fromPhone.fromTheTelephone")}
      </button>
      {asked && (
        <Waiting
          sheet={sheet}
          onClose={() => setAsked(false)}
          onPicture={(picture) => {
            setAsked(false);
            onPicture(picture);
          }}
        />
      )}
    </>
  );
}

interface WaitingProps {
  sheet: string;
  onClose: () => void;
  onPicture: (picture: Picture) => void;
}

function Waiting({ sheet, onClose, onPicture }: WaitingProps) {
  const path = { sheet_id: sheet };
  const link = useQuery({
    queryKey: ["phone link", sheet],
    queryFn: async () => {
      const before = await call("get", "/api/sheets/{sheet_id}/arrived", { path });
      const made = await call("post", "/api/sheets/{sheet_id}/phone", { path });
      return { ...made, before: before.photos.map((photo) => photo.picture.id) };
    },
    gcTime: 0,
    staleTime: Number.POSITIVE_INFINITY,
  });
  const arrived = useQuery({
    queryKey: ["arrived", sheet],
    queryFn: () => call("get", "/api/sheets/{sheet_id}/arrived", { path }),
    enabled: link.isSuccess,
    refetchInterval: LOOK_EVERY_MS,
    gcTime: 0,
  });
  const taken = useRef(false);
  const came = link.data && arrived.data?.photos.find((photo) => !link.data.before.includes(photo.picture.id));
  useEffect(() => {
    if (!came || taken.current) return;
    taken.current = true;
    onPicture(came.picture);
  }, [came, onPicture]);
  return (
    <Dialog title={t("sheet.fromPhone.title")} onClose={onClose}>
      <Fault words={link.error?.message} />
      {link.data && <PhoneCode link={link.data} />}
    </Dialog>
  );
}

function PhoneCode({ link }: { link: Answer<"post", "/api/sheets/{sheet_id}/phone"> }) {
  return (
    <div className="flex flex-wrap items-center gap-5">
      <img src={link.image} alt={t("sheet.fromPhone.qrCode")} className="phone-code" />
      <div className="min-w-56 grow basis-0 leading-snug">
        <p className="mb-2">{t("sheet.fromPhone.how")}</p>
        <p className="mb-2 text-sm">{t("sheet.fromPhone.goodUntil", { time: timeText(link.until) })}</p>
        {!link.reachable && (
          <p className="text-sm" role="note">
            {t("sheet.fromPhone.onlyThisMachine")}
          </p>
        )}
        <p className="text-sm break-all opacity-80">{link.link}</p>
        <p role="status" className="mt-2">
          {t("sheet.fromPhone.waiting")}
        </p>
      </div>
    </div>
  );
}
