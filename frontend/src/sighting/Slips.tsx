import type { ReactNode } from "react";
import type { Report, Sheet } from "../api/types";
import { sightingsOf } from "../sheet/edits";
import { Slip, type SlipActions } from "./Slip";

/** One slip per sighting, in order: judged, sighted, implied, verdict and reason. */
export function Slips({
  sheet,
  report,
  selected,
  resting,
  aid,
  actions,
}: {
  sheet: Sheet;
  report: Report;
  selected: string | null;
  resting: boolean;
  /** What else the chosen slip offers. */
  aid?: ReactNode;
  actions: SlipActions;
}) {
  const findings = new Map(report.findings.map((f) => [f.sighting, f]));
  const list = sightingsOf(sheet);
  return (
    <ol className="flex flex-col gap-1.5 p-2" aria-label="Slips">
      {list.map((sighting, index) => (
        <Slip
          key={sighting.id}
          sheet={sheet}
          sighting={sighting}
          finding={findings.get(sighting.id)}
          ladder={report.ladders.find((l) => l.form === sighting.form) ?? null}
          chosen={sighting.id === selected}
          resting={resting}
          first={index === 0}
          last={index === list.length - 1}
          actions={actions}
        >
          {sighting.id === selected && aid}
        </Slip>
      ))}
    </ol>
  );
}
