import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { call, turningUrl } from "../api/client";
import type { StandFile, StandThing } from "../api/types";
import { Dialog } from "../ui/Dialog";
import { nameOf } from "./edits";
import { path } from "./strokes";

const ROUND: readonly StandThing["kind"][] = ["cylinder", "cone", "tube", "turned"];

/** A thing turned in the hand: its poses in one row, with what changes from one to the next. */
export function TurningDialog({
  stand,
  file,
  thing,
  onClose,
}: {
  stand: string;
  file: StandFile;
  thing: StandThing;
  onClose: () => void;
}) {
  const round = ROUND.includes(thing.kind);
  const [about, setAbout] = useState<"upright" | "end-on">(round ? "end-on" : "upright");
  const [poses, setPoses] = useState(round ? 5 : 8);
  const from = about === "end-on" ? 0 : 20;
  const strip = useQuery({
    queryKey: ["turning", file, thing.id, poses, about],
    queryFn: () =>
      call("post", "/api/stand/turning", {
        body: { document: file, thing: thing.id, poses, about, seen_from_deg: from },
      }),
    placeholderData: (old) => old,
    gcTime: 0,
  });
  const found = strip.data;
  // rims that open alike are one line
  const rims = new Map<string, { names: string[]; degrees: string[] }>();
  found?.poses[0]?.rims.forEach((rim, n) => {
    const degrees = found.poses.map((pose) => `${Number(pose.rims[n]?.degree_deg.toFixed(1))}°`);
    const known = rims.get(degrees.join());
    if (known) known.names.push(rim.name);
    else rims.set(degrees.join(), { names: [rim.name], degrees });
  });
  return (
    <Dialog
      title={`${nameOf(thing)}, turned in the hand`}
      onClose={onClose}
      actions={
        <>
          <a href={turningUrl(stand, thing.id, { poses, about, seen_from_deg: from })} download className="btn btn-sm">
            The strip (SVG)
          </a>
          <button type="button" className="btn btn-sm" onClick={onClose}>
            Close
          </button>
        </>
      }
    >
      <div className="mb-2 flex flex-wrap gap-4">
        <label className="thing-select">
          poses
          <select className="select select-sm" value={poses} onChange={(e) => setPoses(Number(e.target.value))}>
            {(about === "end-on" ? [3, 5, 9] : [4, 8, 16]).map((n) => (
              <option key={n}>{n}</option>
            ))}
          </select>
        </label>
        {round && (
          <label className="thing-select">
            turned
            <select
              className="select select-sm"
              value={about}
              onChange={(e) => {
                const next = e.target.value as typeof about;
                setAbout(next);
                setPoses(next === "end-on" ? 5 : 8);
              }}
            >
              <option value="end-on">lying, from its side to its end</option>
              <option value="upright">upright, about its axis</option>
            </select>
          </label>
        )}
      </div>
      {strip.isError && <p role="alert">{strip.error.message}</p>}
      {found && (
        <>
          <svg
            viewBox={`${found.left_px} ${found.top_px} ${found.width_px} ${found.height_px}`}
            className="turning-strip"
            role="img"
            aria-label={`${found.poses.length} poses in one row`}
          >
            {found.poses.map((pose) => (
              <path
                key={pose.turned_deg}
                d={pose.strokes.map((stroke) => path(stroke.points)).join("")}
                className="turning-line"
              />
            ))}
          </svg>
          <div className="overflow-x-auto">
            <table className="turning-table">
              <tbody>
                <tr>
                  <th scope="row">turned</th>
                  {found.poses.map((pose) => (
                    <td key={pose.turned_deg}>{Number(pose.turned_deg.toFixed(1))}°</td>
                  ))}
                </tr>
                <tr>
                  <th scope="row">width, m</th>
                  {found.poses.map((pose) => (
                    <td key={pose.turned_deg}>{pose.width_m.toFixed(2)}</td>
                  ))}
                </tr>
                {round && (
                  <tr>
                    <th scope="row">length seen, m</th>
                    {found.poses.map((pose) => (
                      <td key={pose.turned_deg}>{pose.length_m?.toFixed(2) ?? "0.00"}</td>
                    ))}
                  </tr>
                )}
                {[...rims.values()].map(({ names, degrees }) => (
                  <tr key={names.join()}>
                    <th scope="row">{names.length > 2 ? `${names.length} rims` : names.join(", ")}, degree</th>
                    {degrees.map((degree, n) => (
                      <td key={found.poses[n]?.turned_deg}>{degree}</td>
                    ))}
                  </tr>
                ))}
                {round && about === "upright" && (
                  <tr>
                    <th scope="row">mark from the front, half-widths</th>
                    {found.poses.map((pose) => (
                      <td key={pose.turned_deg}>
                        {pose.marks.find((mark) => mark.mark_deg === 0)?.at.toFixed(2) ?? "behind"}
                      </td>
                    ))}
                  </tr>
                )}
              </tbody>
            </table>
          </div>
        </>
      )}
    </Dialog>
  );
}
