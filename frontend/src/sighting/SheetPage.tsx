import { useQuery } from "@tanstack/react-query";
import { Link, useParams } from "react-router";
import { readSheet } from "../api/client";
import { SightingScreen } from "./SightingScreen";

/** Loads a sheet afresh each time it is opened. */
export function SheetPage() {
  const { id = "" } = useParams();
  const full = useQuery({
    queryKey: ["sheet", id],
    queryFn: () => readSheet(id),
    gcTime: 0,
    staleTime: Number.POSITIVE_INFINITY,
  });
  if (full.isPending) return <p className="p-8">Opening the sheet…</p>;
  if (full.isError)
    return (
      <div role="alert" className="m-8 max-w-xl">
        <p className="mb-3">{full.error.message}</p>
        <button type="button" className="btn btn-sm btn-primary mr-2" onClick={() => void full.refetch()}>
          Try again
        </button>
        <Link to="/" className="btn btn-sm">
          All sheets
        </Link>
      </div>
    );
  return <SightingScreen key={id} full={full.data} />;
}
