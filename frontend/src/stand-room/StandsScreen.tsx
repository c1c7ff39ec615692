import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Copy, Trash2 } from "lucide-react";
import { useRef, useState } from "react";
import { Link, useNavigate } from "react-router";
import { call, standSeenUrl } from "../api/client";
import { readStandFile } from "../api/files";
import { standsQuery } from "../api/queries";
import type { StandLine } from "../api/types";
import { FileField } from "../ui/FileField";
import { IconButton } from "../ui/IconButton";
import { dateText } from "../ui/locale";
import { t } from "../words";

type Act = "duplicate" | "delete" | "restore";

async function perform(kind: Act, stand: StandLine): Promise<void> {
  const path = { stand_id: stand.id };
  if (kind === "duplicate") await call("post", "/api/stands/{stand_id}/duplicate", { path });
  else if (kind === "restore") await call("post", "/api/stands/{stand_id}/restore", { path });
  else await call("delete", "/api/stands/{stand_id}", { path });
}

/** All set-ups of the model stand. */
export function StandsScreen() {
  const queries = useQueryClient();
  const list = useQuery(standsQuery);
  const go = useNavigate();
  const file = useRef<HTMLInputElement>(null);
  const [deleted, setDeleted] = useState<StandLine | null>(null);
  const refresh = () => queries.invalidateQueries(standsQuery);
  const act = useMutation({
    mutationFn: async ({ kind, stand }: { kind: Act; stand: StandLine }) => {
      await perform(kind, stand);
      setDeleted(kind === "delete" ? stand : null);
    },
    onSettled: refresh,
  });
  const make = useMutation({
    mutationFn: async (chosen: File | null) =>
      call("post", "/api/stands", { body: chosen ? { document: await readStandFile(chosen) } : {} }),
    onSuccess: async ({ id }) => {
      await refresh();
      await go(`/stand/${id}`);
    },
  });
  const fault = list.error ?? act.error ?? make.error;
  const stands = list.data?.stands ?? [];
  return (
    <div className="h-full overflow-y-auto">
      <div className="mx-auto max-w-6xl px-6 py-6">
        <h1 className="mb-1 text-xl font-bold">{t("stand.standsScreen.modelStand")}</h1>
        <p className="mb-3 max-w-3xl leading-snug">{t("stand.standsScreen.what")}</p>
        <div className="flex flex-wrap gap-2">
          <button type="button" className="btn btn-primary" disabled={make.isPending} onClick={() => make.mutate(null)}>
            {t("stand.standsScreen.newSetUp")}
          </button>
          <button type="button" className="btn" onClick={() => file.current?.click()}>
            {t("stand.standsScreen.openFile")}
          </button>
          <FileField
            field={file}
            label={t("stand.standsScreen.fileToOpen")}
            accept=".json,application/json"
            onFile={(file) => make.mutate(file)}
          />
        </div>
        {fault && (
          <div role="alert" className="alert alert-error mt-4">
            <span>{fault.message}</span>
            {list.isError && (
              <button type="button" className="btn btn-sm" onClick={() => void list.refetch()}>
                {t("stand.standsScreen.tryAgain")}
              </button>
            )}
          </div>
        )}
        {deleted && (
          <div role="status" className="alert mt-4">
            <span>{t("stand.standsScreen.isPutAside", { title: deleted.title })}</span>
            <button
              type="button"
              className="btn btn-sm"
              onClick={() => act.mutate({ kind: "restore", stand: deleted })}
            >
              {t("stand.standsScreen.bringItBack")}
            </button>
          </div>
        )}
        <ul className="mt-5 grid gap-4 sm:grid-cols-2 lg:grid-cols-3" aria-label={t("stand.standsScreen.setUps")}>
          {stands.map((stand) => (
            <StandCard key={stand.id} stand={stand} onAct={(kind) => act.mutate({ kind, stand })} />
          ))}
        </ul>
      </div>
    </div>
  );
}

function StandCard({ stand, onAct }: { stand: StandLine; onAct: (kind: Act) => void }) {
  const title = stand.title || t("stand.standsScreen.untitled");
  return (
    <li className="overflow-hidden rounded-box border border-base-300 bg-base-200">
      <Link to={`/stand/${stand.id}`} className="block" aria-label={t("stand.standsScreen.open", { title })}>
        <img
          src={standSeenUrl(stand.id, stand.revision)}
          alt=""
          className="aspect-4/3 w-full bg-[#dbe1d7] object-contain"
          loading="lazy"
        />
      </Link>
      <div className="flex items-center gap-1 px-3 py-2">
        <div className="min-w-0 grow">
          <Link to={`/stand/${stand.id}`} className="block truncate font-semibold hover:underline">
            {title}
          </Link>
          <p className="text-sm text-base-content/85 tabular-nums">
            {t("stand.standsScreen.things", { count: stand.things })} · {dateText(stand.updated_at)}
          </p>
        </div>
        <IconButton
          icon={Copy}
          label={t("stand.standsScreen.duplicate", { title })}
          title={t("stand.standsScreen.duplicateHint")}
          size={16}
          onClick={() => onAct("duplicate")}
        />
        <IconButton
          icon={Trash2}
          label={t("stand.standsScreen.putAside", { title })}
          title={t("stand.standsScreen.putAsideHint")}
          size={16}
          onClick={() => onAct("delete")}
        />
      </div>
    </li>
  );
}
