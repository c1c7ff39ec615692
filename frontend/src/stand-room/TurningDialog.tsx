import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { call, turningUrl } from "../api/client";
import type { StandFile, StandThing, StandTurning } from "../api/types";
import { Dialog } from "../ui/Dialog";
import { figure } from "../ui/locale";
import { t } from "../words";
import { nameOf } from "./edits";
import { path } from "./strokes";
import { ThingSelect } from "./ThingSelect";

const ROUND: readonly StandThing["kind"][] = ["cylinder", "cone", "tube", "turned"];

type About = "upright" | "end-on";
const POSES: Record<About, { offered: number[]; first: number }> = {
  "end-on": { offered: [3, 5, 9], first: 5 },
  upright: { offered: [4, 8, 16], first: 8 },
};

interface TurningDialogProps {
  stand: string;
  file: StandFile;
  thing: StandThing;
  onClose: () => void;
}

/** A thing turned in the hand: its poses in one row, with what changes from one to the next. */
export function TurningDialog({ stand, file, thing, onClose }: TurningDialogProps) {
  const round = ROUND.includes(thing.kind);
  const [about, setAbout] = useState<About>(round ? "end-on" : "upright");
  const [poses, setPoses] = useState(POSES[about].first);
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
        <ThingSelect
          label={t("stand.turningDialog.poses")}
          value={poses}
          of={POSES[about].offered.map((n) => [n, `${n}`])}
          onValue={setPoses}
        />
        {round && (
          <ThingSelect
            label={t("stand.turningDialog.turned")}
            value={about}
            of={[
              ["end-on", t("stand.turningDialog.lying")],
              ["upright", t("stand.turningDialog.upright")],
            ]}
            onValue={(next) => {
              setAbout(next);
              setPoses(POSES[next].first);
            }}
          />
        )}
      </div>
      {strip.isError && <p role="alert">{strip.error.message}</p>}
      {strip.data && (
        <>
          <svg
            viewBox={`${strip.data.left_px} ${strip.data.top_px} ${strip.data.width_px} ${strip.data.height_px}`}
            className="turning-strip"
            role="img"
            aria-label={t("stand.turningDialog.posesInRow", { count: strip.data.poses.length })}
          >
            {strip.data.poses.map((pose) => (
              <path
                key={pose.turned_deg}
                d={pose.strokes.map((stroke) => path(stroke.points)).join("")}
                className="turning-line"
              />
            ))}
          </svg>
          <PoseTable poses={strip.data.poses} round={round} marked={round && about === "upright"} />
        </>
      )}
    </Dialog>
  );
}

type Pose = StandTurning["poses"][number];

/** What changes from pose to pose; of what turns upright, where its front's mark is. */
function PoseTable({ poses, round, marked }: { poses: Pose[]; round: boolean; marked: boolean }) {
  const row = (name: string, value: (pose: Pose) => string) => (
    <tr key={name}>
      <th scope="row">{name}</th>
      {poses.map((pose) => (
        <td key={pose.turned_deg}>{value(pose)}</td>
      ))}
    </tr>
  );
  return (
    <div className="overflow-x-auto">
      <table className="turning-table">
        <tbody>
          {row(t("stand.turningDialog.turned"), (pose) => `${figure(pose.turned_deg, 1, 0)}°`)}
          {row(t("stand.turningDialog.widthM"), (pose) => figure(pose.width_m, 2))}
          {round && row(t("stand.turningDialog.lengthSeenM"), (pose) => figure(pose.length_m ?? 0, 2))}
          {rimsAlike(poses).map(({ name, first }) => row(name, (pose) => degreeOf(pose, first)))}
          {marked &&
            row(t("stand.turningDialog.markFromFront"), ({ marks }) => {
              const ahead = marks.find((mark) => mark.mark_deg === 0)?.at;
              return ahead === undefined ? t("stand.turningDialog.behind") : figure(ahead, 2);
            })}
        </tbody>
      </table>
    </div>
  );
}

function degreeOf(pose: Pose, rim: number): string {
  return `${figure(pose.rims[rim]?.degree_deg ?? 0, 1, 0)}°`;
}

/** Rims that open alike are one line: what they are called, and the first of them. */
function rimsAlike(poses: Pose[]): { name: string; first: number }[] {
  const alike = new Map<string, { names: string[]; first: number }>();
  poses[0]?.rims.forEach((rim, n) => {
    const degrees = poses.map((pose) => degreeOf(pose, n)).join();
    const known = alike.get(degrees);
    if (known) known.names.push(rim.name);
    else alike.set(degrees, { names: [rim.name], first: n });
  });
  return [...alike.values()].map(({ names, first }) => ({
    name:
      (names.length > 2 ? t("stand.turningDialog.rims", { count: names.length }) : names.join(", ")) +
      t("stand.turningDialog.degree"),
    first,
  }));
}
