import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Copy, ImagePlus, Pencil, Trash2 } from "lucide-react";
import { useCallback, useEffect, useRef, useState } from "react";
import { Link, useNavigate } from "react-router";
import {
  deleteSheet,
  duplicateSheet,
  listSheets,
  makeSheet,
  type Progress,
  pictureUrl,
  readSheet,
  restoreSheet,
  type SheetLine,
  saveSheet,
  uploadPicture,
} from "../api/client";
import { newMark } from "../api/mark";

type Act = "duplicate" | "delete" | "restore" | "rename";

/** All sheets, and the way in for a photo of one's own. */
export function SheetsScreen() {
  const queries = useQueryClient();
  const refresh = useCallback(() => queries.invalidateQueries({ queryKey: ["sheets"] }), [queries]);
  const list = useQuery({ queryKey: ["sheets"], queryFn: listSheets });
  const [deleted, setDeleted] = useState<SheetLine | null>(null);
  const act = useMutation({
    mutationFn: async ({ kind, sheet, title }: { kind: Act; sheet: SheetLine; title?: string }) => {
      if (kind === "duplicate") await duplicateSheet(sheet.id);
      else if (kind === "restore") await restoreSheet(sheet.id);
      else if (kind === "rename") {
        const { revision, document } = await readSheet(sheet.id);
        await saveSheet(sheet.id, { revision, document: { ...document, title: title ?? sheet.title } });
      } else await deleteSheet(sheet.id);
      setDeleted(kind === "delete" ? sheet : null);
    },
    onSettled: refresh,
  });
  const sheets = list.data?.sheets ?? [];
  return (
    <div className="h-full overflow-y-auto">
      <div className="mx-auto max-w-6xl px-6 py-6">
        <OpenPhoto first={list.isSuccess && sheets.length === 0} onDone={refresh} />
        {list.isError && (
          <div role="alert" className="alert alert-error mt-4">
            <span>{list.error.message}</span>
            <button type="button" className="btn btn-sm" onClick={() => void list.refetch()}>
              Try again
            </button>
          </div>
        )}
        {act.isError && (
          <p role="alert" className="alert alert-error mt-4">
            {act.error.message}
          </p>
        )}
        {deleted && (
          <div role="status" className="alert mt-4">
            <span>“{deleted.title}” is deleted.</span>
            <button
              type="button"
              className="btn btn-sm"
              onClick={() => act.mutate({ kind: "restore", sheet: deleted })}
            >
              Bring it back
            </button>
          </div>
        )}
        <h1 className={sheets.length > 0 ? "mt-7 mb-3 text-xl font-bold" : "sr-only"}>Sheets</h1>
        <ul className="grid gap-4 sm:grid-cols-2 lg:grid-cols-3" aria-label="Sheets">
          {sheets.map((sheet) => (
            <SheetCard key={sheet.id} sheet={sheet} onAct={(kind, title) => act.mutate({ kind, sheet, title })} />
          ))}
        </ul>
      </div>
    </div>
  );
}

function SheetCard({ sheet, onAct }: { sheet: SheetLine; onAct: (kind: Act, title?: string) => void }) {
  const when = new Date(sheet.updated_at);
  const [renaming, setRenaming] = useState(false);
  return (
    <li className="overflow-hidden rounded-box border border-base-300 bg-base-200" data-sheet={sheet.id}>
      <Link to={`/sheets/${sheet.id}`} className="block" aria-label={`Open ${sheet.title}`}>
        <img
          src={pictureUrl(sheet.picture.id, "thumb")}
          alt=""
          className="aspect-4/3 w-full bg-base-300 object-cover"
          loading="lazy"
        />
      </Link>
      <div className="flex items-center gap-1 px-3 py-2">
        <div className="min-w-0 grow">
          {renaming ? (
            <input
              className="input input-sm w-full font-semibold"
              aria-label={`New title of ${sheet.title}`}
              defaultValue={sheet.title}
              maxLength={200}
              ref={(element) => element?.focus()}
              onBlur={(event) => {
                const title = event.target.value.trim();
                setRenaming(false);
                if (title && title !== sheet.title) onAct("rename", title);
              }}
              onKeyDown={(event) => {
                if (event.key === "Enter") event.currentTarget.blur();
                if (event.key === "Escape") setRenaming(false);
              }}
            />
          ) : (
            <Link to={`/sheets/${sheet.id}`} className="block truncate font-semibold hover:underline">
              {sheet.title || "Untitled"}
            </Link>
          )}
          <p className="text-sm text-base-content/85 tabular-nums">
            {sheet.sightings} {sheet.sightings === 1 ? "sighting" : "sightings"} · {when.toLocaleDateString()}
          </p>
        </div>
        <button
          type="button"
          className="btn btn-ghost btn-sm btn-square"
          aria-label={`Rename ${sheet.title}`}
          title="Rename"
          onClick={() => setRenaming(true)}
        >
          <Pencil size={16} />
        </button>
        <button
          type="button"
          className="btn btn-ghost btn-sm btn-square"
          aria-label={`Duplicate ${sheet.title}`}
          title="Duplicate"
          onClick={() => onAct("duplicate")}
        >
          <Copy size={16} />
        </button>
        <button
          type="button"
          className="btn btn-ghost btn-sm btn-square"
          aria-label={`Delete ${sheet.title}`}
          title="Delete"
          onClick={() => onAct("delete")}
        >
          <Trash2 size={16} />
        </button>
      </div>
    </li>
  );
}

function progressWords(progress: Progress): string {
  if (progress.kind === "sending") return "Sending…";
  if (progress.kind === "opening") return "Opening…";
  return `Waiting: ${progress.ahead === 1 ? "another photo is" : `${progress.ahead} other photos are`} opened first.`;
}

/** Drop, choose or paste a photo; the upload shows progress and can be cancelled. */
function OpenPhoto({ first, onDone }: { first: boolean; onDone: () => void }) {
  const go = useNavigate();
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
          file.name || "pasted picture",
          newMark(),
          setProgress,
          abort.current.signal,
        );
        const sheet = await makeSheet({ picture_id: picture.id });
        onDone();
        await go(`/sheets/${sheet.id}`);
      } catch (error) {
        if (!(error instanceof DOMException))
          setFault(`${file.name || "The pasted picture"}: ${(error as Error).message}`);
      } finally {
        setProgress(null);
      }
    },
    [go, onDone],
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
      aria-label="Open a photo"
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
          <ImagePlus size={18} /> Open a photo
        </button>
        <p className="min-w-64 grow basis-0 leading-snug">
          {first && <b>Begin with a photo of boxes, cylinders or a building. </b>}
          Choose one, drop it here, or paste it. JPEG, PNG, WebP or HEIC, up to 50 megapixels; location and other
          personal tags are removed. Ask before you photograph people or homes.
        </p>
      </div>
      {progress !== null && (
        <div className="mt-3 flex items-center gap-3" role="status">
          <progress
            className="progress progress-primary w-64"
            value={progress.kind === "sending" ? progress.share : undefined}
            max={1}
            aria-label="Opening the photo"
          />
          <span className="text-sm">{progressWords(progress)}</span>
          <button type="button" className="btn btn-sm" onClick={() => abort.current?.abort()}>
            Cancel
          </button>
        </div>
      )}
      {fault && (
        <p role="alert" className="alert alert-error mt-3">
          {fault}
        </p>
      )}
      <input
        ref={input}
        type="file"
        aria-label="Photo to open"
        accept="image/jpeg,image/png,image/webp,image/heic,image/heif,.heic,.heif"
        className="hidden"
        onChange={(event) => {
          const file = event.target.files?.[0];
          if (file) void bring(file);
          event.target.value = "";
        }}
      />
    </section>
  );
}
