import { useQuery } from "@tanstack/react-query";
import { Fragment, type ReactNode, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { ApiError, call } from "../api/client";
import { sheetQuery } from "../api/queries";
import type { Sheet, SheetFull } from "../api/types";
import { discard, type Left, leftBehind, rollCall, type Tabs } from "./stash";

/** Loads the sheet that the address names, afresh each time one of its faces is opened. */
export function SheetLoader({
  face,
  children,
}: {
  face: string;
  children: (full: SheetFull, tabs: Tabs) => ReactNode;
}) {
  const { id = "" } = useParams();
  const full = useQuery({ ...sheetQuery(id), queryKey: ["sheet", id, face] });
  const tabs = useQuery({ queryKey: ["tabs", id], queryFn: rollCall, gcTime: 0, staleTime: Number.POSITIVE_INFINITY });
  if (full.isError)
    return (
      <div role="alert" className="m-8 max-w-xl">
        <p className="mb-3">{full.error.message}</p>
        {full.error instanceof ApiError && full.error.status === 404 && (
          <Orphans id={id} onBack={() => void full.refetch()} />
        )}
        <button type="button" className="btn btn-sm btn-primary mr-2" onClick={() => void full.refetch()}>
          Try again
        </button>
        <Link to="/" className="btn btn-sm">
          All sheets
        </Link>
      </div>
    );
  if (full.isPending || !tabs.data) return <p className="p-8">Opening the sheet…</p>;
  return <Fragment key={id}>{children(full.data, tabs.data)}</Fragment>;
}

/** Unsaved work on a sheet that was deleted meanwhile: bring the sheet back, or keep the work as a new one. */
function Orphans({ id, onBack }: { id: string; onBack: () => void }) {
  const go = useNavigate();
  const [fault, setFault] = useState("");
  const [found, setFound] = useState<Left<Sheet>[]>(() => leftBehind(id, { own: "", others: new Set() }));
  if (found.length === 0) return null;
  const attempt = (act: () => Promise<void>) => void act().catch((error: Error) => setFault(error.message));
  return (
    <div className="mb-4 rounded-box border border-base-300 bg-base-200 p-4">
      <p className="mb-2">Changes made here before it was deleted are still kept in this browser.</p>
      {fault && (
        <p role="alert" className="mb-2 font-semibold text-error">
          {fault}
        </p>
      )}
      <button
        type="button"
        className="btn btn-sm btn-primary mr-2 mb-2"
        onClick={() =>
          attempt(() => call("post", "/api/sheets/{sheet_id}/restore", { path: { sheet_id: id } }).then(onBack))
        }
      >
        Bring the sheet back
      </button>
      {found.map((left) => (
        <button
          key={left.key}
          type="button"
          className="btn btn-sm mr-2 mb-2"
          onClick={() =>
            attempt(async () => {
              const { picture, document } = left.stash;
              const copy = await call("post", "/api/sheets", { body: { picture_id: picture, document } });
              discard(left);
              setFound((all) => all.filter((one) => one !== left));
              await go(`/sheets/${copy.id}`);
            })
          }
        >
          Keep the changes of {left.stash.at ? new Date(left.stash.at).toLocaleString() : "earlier"} as a new sheet
        </button>
      ))}
    </div>
  );
}
