import { useQuery } from "@tanstack/react-query";
import { Fragment, type ReactNode, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { ApiError } from "../api/client";
import { openedQuery } from "../api/queries";
import { momentText } from "../ui/locale";
import { t } from "../words";
import { discard, type Leftover, leftBehind, rollCall, type Stash, type Tabs } from "./stash";

/** What texts call a document. */
export type Noun = "sheet" | "setUp";

/** How a document of a kind is read, and what can be done for unsaved work on one that was deleted. */
export interface OpenedKind<F, D> {
  noun: Noun;
  read: (id: string) => Promise<F>;
  restore: (id: string) => Promise<unknown>;
  copy: (stash: Stash<D>) => Promise<{ id: string }>;
  address: (id: string) => string;
  /** Where all of them are listed, and what leads there. */
  list: string;
  all: string;
}

/** Loads the document that the address names, afresh each time one of its faces is opened. */
export function Opening<F, D>({
  kind,
  face,
  children,
}: {
  kind: OpenedKind<F, D>;
  face: string;
  children: (full: F, tabs: Tabs) => ReactNode;
}) {
  const { id = "" } = useParams();
  const full = useQuery(openedQuery([kind.noun, id, face], () => kind.read(id)));
  const tabs = useQuery({ queryKey: ["tabs", id], queryFn: rollCall, gcTime: 0, staleTime: Number.POSITIVE_INFINITY });
  if (full.isError)
    return (
      <div role="alert" className="m-8 max-w-xl">
        <p className="mb-3">{full.error.message}</p>
        {full.error instanceof ApiError && full.error.status === 404 && (
          <Orphans id={id} kind={kind} onBack={() => void full.refetch()} />
        )}
        <button type="button" className="btn btn-sm btn-primary mr-2" onClick={() => void full.refetch()}>
          {t("sheet.opening.tryAgain")}
        </button>
        <Link to={kind.list} className="btn btn-sm">
          {kind.all}
        </Link>
      </div>
    );
  if (full.isPending || !tabs.data) return <p className="p-8">{t(`sheet.opening.openingThe.${kind.noun}`)}</p>;
  return <Fragment key={id}>{children(full.data, tabs.data)}</Fragment>;
}

/** Unsaved work on what was deleted meanwhile: bring it back, or keep the work as a new one. */
function Orphans<F, D>({ id, kind, onBack }: { id: string; kind: OpenedKind<F, D>; onBack: () => void }) {
  const go = useNavigate();
  const [fault, setFault] = useState("");
  const [found, setFound] = useState<Leftover<D>[]>(() => leftBehind(id, { own: "", others: new Set() }));
  if (found.length === 0) return null;
  const attempt = (act: () => Promise<void>) => void act().catch((error: Error) => setFault(error.message));
  return (
    <div className="mb-4 rounded-box border border-base-300 bg-base-200 p-4">
      <p className="mb-2">{t("sheet.opening.changesKept")}</p>
      {fault && (
        <p role="alert" className="mb-2 font-semibold text-error">
          {fault}
        </p>
      )}
      <button
        type="button"
        className="btn btn-sm btn-primary mr-2 mb-2"
        onClick={() => attempt(() => kind.restore(id).then(onBack))}
      >
        {t(`sheet.opening.bringTheBack.${kind.noun}`)}
      </button>
      {found.map((left) => (
        <button
          key={left.key}
          type="button"
          className="btn btn-sm mr-2 mb-2"
          onClick={() =>
            attempt(async () => {
              const copy = await kind.copy(left.stash);
              discard(left);
              setFound((all) => all.filter((one) => one !== left));
              await go(kind.address(copy.id));
            })
          }
        >
          {t(`sheet.opening.keepChangesOf.${kind.noun}`, {
            when: left.stash.at ? momentText(left.stash.at) : t("sheet.opening.earlier"),
          })}
        </button>
      ))}
    </div>
  );
}
