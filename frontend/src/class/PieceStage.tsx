import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { call } from "../api/client";
import type { Piece, Point, RemarkIn } from "../api/types";
import { judgedReport } from "../sheet/judged";
import { toPicture, toScreen, type View } from "../stage/geometry";
import { actionOf, stepOf, wayOf } from "../stage/keys";
import { Stage } from "../stage/Stage";
import { STILL } from "../stage/still";
import { t } from "../words";
import { PIN_KEYS } from "./keys";

interface PieceStageProps {
  piece: Piece;
  /** Whether the drawing is shown, and not its subject. */
  drawn: boolean;
  selected: string | null;
  onSelect: (id: string | null) => void;
  remarks: RemarkIn[];
  chosen: number | null;
  onChoose: (n: number) => void;
  /** Move a pin; none for who may only look. */
  onMove: ((n: number, at: Point) => void) | null;
}

/** The picture of a piece with its sightings, and on it the remarks that are pinned to a place or to a sighting. */
export function PieceStage({ piece, drawn, selected, onSelect, remarks, chosen, onChoose, onMove }: PieceStageProps) {
  const picture = drawn ? piece.drawing_picture : piece.picture;
  const sheet = drawn && piece.drawing ? piece.drawing : piece.document;
  // a drawing's own check draws its lines; the verdicts beside it are the critique's
  const own = useQuery({
    queryKey: ["piece report", piece.id, drawn],
    queryFn: () => call("post", "/api/check", { body: { document: sheet } }),
    enabled: drawn,
    staleTime: Number.POSITIVE_INFINITY,
  });
  const report = drawn ? own.data && judgedReport(own.data, piece.critique ?? null, "subject") : piece.report;
  if (!picture) return <p className="p-6 leading-snug">{t("class.pieceStage.noPicture")}</p>;
  if (!report) return <p className="p-6">{t("class.pieceStage.opening")}</p>;
  const pinned = drawn === (piece.drawing !== null);
  return (
    <Stage
      {...STILL}
      still
      picture={picture}
      sheet={sheet}
      report={report}
      selected={selected}
      onSelect={onSelect}
      over={(view) => pinned && <Pins view={view} {...{ remarks, chosen, onChoose, onMove }} size={picture} />}
    />
  );
}

interface PinsProps {
  view: View;
  remarks: RemarkIn[];
  chosen: number | null;
  onChoose: (n: number) => void;
  onMove: ((n: number, at: Point) => void) | null;
  size: { width_px: number; height_px: number };
}

function Pins({ view, remarks, chosen, onChoose, onMove, size }: PinsProps) {
  const [held, setHeld] = useState<number | null>(null);
  useEffect(() => {
    const drop = () => setHeld(null);
    window.addEventListener("pointerup", drop);
    return () => window.removeEventListener("pointerup", drop);
  }, []);
  const inside = ([x, y]: Point): Point => [
    Math.min(Math.max(x, 0), size.width_px),
    Math.min(Math.max(y, 0), size.height_px),
  ];
  return (
    <g>
      {remarks.map((remark, n) => {
        if (!remark.at) return null;
        const at = remark.at;
        const [x, y] = toScreen(view, at);
        return (
          <g
            // biome-ignore lint/suspicious/noArrayIndexKey: a remark is known by its place
            key={n}
            role="button"
            tabIndex={0}
            aria-label={t("class.pieceStage.remark", {
              n: n + 1,
              noWordsYet: remark.words || t("class.pieceStage.noWordsYet"),
              arrowKeys: onMove ? t("class.pieceStage.arrowKeys") : "",
            })}
            transform={`translate(${x} ${y})`}
            className={`pin ${chosen === n ? "pin-chosen" : ""}`}
            onPointerDown={(event) => {
              event.stopPropagation();
              onChoose(n);
              if (!onMove) return;
              event.currentTarget.setPointerCapture(event.pointerId);
              setHeld(n);
            }}
            onPointerMove={(event) => {
              if (held !== n || !onMove) return;
              const box = event.currentTarget.ownerSVGElement?.getBoundingClientRect();
              if (box) onMove(n, inside(toPicture(view, [event.clientX - box.left, event.clientY - box.top])));
            }}
            onKeyDown={(event) => {
              const way = wayOf(actionOf(PIN_KEYS, event.key));
              if (!way || !onMove) return;
              event.preventDefault();
              event.stopPropagation();
              const by = stepOf(event, 40, 8, 1);
              onMove(n, inside([at[0] + way[0] * by, at[1] + way[1] * by]));
            }}
          >
            <circle r={15} className="pin-ground" />
            <text textAnchor="middle" dominantBaseline="central" className="pin-number">
              {n + 1}
            </text>
          </g>
        );
      })}
    </g>
  );
}
