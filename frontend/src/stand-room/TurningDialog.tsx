import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { call, turningUrl } from "../api/client";
import type { StandFile, StandThing } from "../api/types";
import { Dialog } from "../ui/Dialog";
import { figure } from "../ui/locale";
import { t } from "../words";
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
        again: true,
        body: { document: file, thing: thing.id, poses, about, seen_from_deg: from },
      }),
    placeholderData: (old) => old,
    gcTime: 0,
  });
  const found = strip.data;
  const fronts = (found?.poses ?? []).map(({ turned_deg, marks }) => ({
    turned_deg,
    ahead: marks.find((mark) => mark.mark_deg === 0)?.at,
  }));
  // rims that open alike are one line
  const rims = new Map<string, { names: string[]; degrees: string[] }>();
  found?.poses[0]?.rims.forEach((rim, n) => {
    const degrees = found.poses.map((pose) => `${figure(pose.rims[n]?.degree_deg ?? 0, 1, 0)}°`);
    const known = rims.get(degrees.join());
    if (known) known.names.push(rim.name);
    else rims.set(degrees.join(), { names: [rim.name], degrees });
  });
  return (
    <Dialog
      title={t("stand.turningDialog.title", { name: nameOf(thing) })}
      onClose={onClose}
      actions={
        <>
          <a href={turningUrl(stand, thing.id, { poses, about, seen_from_deg: from })} download className="btn btn-sm">
            {t("stand.turningDialog.theStripSvg")}
          </a>
          <button type="button" className="btn btn-sm" onClick={onClose}>
            {t("stand.turningDialog.close")}
          </button>
        </>
      }
    >
      <div className="mb-2 flex flex-wrap gap-4">
        <label className="thing-select">
          {t("stand.turningDialog.poses")}
          <select className="select select-sm" value={poses} onChange={(e) => setPoses(Number(e.target.value))}>
            {(about === "end-on" ? [3, 5, 9] : [4, 8, 16]).map((n) => (
              <option key={n}>{n}</option>
            ))}
          </select>
        </label>
        {round && (
          <label className="thing-select">
            {t("stand.turningDialog.turned")}
            <select
              className="select select-sm"
              value={about}
              onChange={(e) => {
                const next = e.target.value as typeof about;
                setAbout(next);
                setPoses(next === "end-on" ? 5 : 8);
              }}
            >
              <option value="end-on">{t("stand.turningDialog.lying")}</option>
              <option value="upright">{t("stand.turningDialog.upright")}</option>
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
            aria-label={t("stand.turningDialog.posesInRow", { count: found.poses.length })}
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
                  <th scope="row">{t("stand.turningDialog.turned")}</th>
                  {found.poses.map((pose) => (
                    <td key={pose.turned_deg}>{figure(pose.turned_deg, 1, 0)}°</td>
                  ))}
                </tr>
                <tr>
                  <th scope="row">{t("stand.turningDialog.widthM")}</th>
                  {found.poses.map((pose) => (
                    <td key={pose.turned_deg}>{figure(pose.width_m, 2)}</td>
                  ))}
                </tr>
                {round && (
                  <tr>
                    <th scope="row">{t("stand.turningDialog.lengthSeenM")}</th>
                    {found.poses.map((pose) => (
                      <td key={pose.turned_deg}>{figure(pose.length_m ?? 0, 2)}</td>
                    ))}
                  </tr>
                )}
                {[...rims.values()].map(({ names, degrees }) => (
                  <tr key={names.join()}>
                    <th scope="row">
                      {names.length > 2 ? t("stand.turningDialog.rims", { count: names.length }) : names.join(", ")}
                      {t("stand.turningDialog.degree")}
                    </th>
                    {degrees.map((degree, n) => (
                      <td key={found.poses[n]?.turned_deg}>{degree}</td>
                    ))}
                  </tr>
                ))}
                {round && about === "upright" && (
                  <tr>
                    <th scope="row">{t("stand.turningDialog.markFromFront")}</th>
                    {fronts.map(({ turned_deg, ahead }) => (
                      <td key={turned_deg}>
                        {ahead === undefined ? t("stand.turningDialog.behind") : figure(ahead, 2)}
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
