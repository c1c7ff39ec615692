import type { Finding, Point, Report, Schematic, Slot } from "../api/types";
import { between, fitView, toScreen, type View } from "../stage/geometry";
import { figure } from "../ui/locale";
import { degreesText, FAMILIES, VERDICTS } from "../ui/marks";
import { useSize } from "../ui/useSize";
import { t } from "../words";

const ROOM = { beside: 106, above: 62 }; // px round the drawing that the tags hang in
const TAG = { width: 92, height: 44 };

interface SchematicStageProps {
  schematic: Schematic;
  report: Report;
  selected: string | null;
  /** The slot that is being judged or read. */
  current: Slot | null;
  /** While a judgement is made, eye level and the vanishing points rest. */
  resting: boolean;
  onSlot: (slot: Slot) => void;
  onReading: (id: string) => void;
}

/** The near corner large in the middle, redrawn from the readings; each reading hangs as a tag at the end of its line. */
export function SchematicStage({
  schematic,
  report,
  selected,
  current,
  resting,
  onSlot,
  onReading,
}: SchematicStageProps) {
  const { ref, ...size } = useSize({ width: 640, height: 480 });
  const box = boundsOf(schematic);
  const inner = { width: size.width - 2 * (ROOM.beside - ROOM.above), height: size.height };
  const fitted = fitView({ width: box.width, height: box.height }, inner, ROOM.above);
  const view: View = {
    k: fitted.k,
    x: fitted.x + ROOM.beside - ROOM.above - box.x * fitted.k,
    y: fitted.y - box.y * fitted.k,
  };
  const findings = new Map(report.findings.map((f) => [f.sighting, f]));
  const at = (p: Point) => toScreen(view, p);
  const levelled = !resting && schematic.eye_level !== null;
  const [, levelY] = at([0, schematic.eye_level ?? 0]);
  const spread = [schematic.eye_level_low, schematic.eye_level_high].map((y) => (y === null ? null : at([0, y])[1]));
  const hung: Hung[] = [
    ...schematic.slots.map((slot) => ({ tag: { slot }, at: tagPlace(slot, at(slot.p), at(slot.q)) })),
    ...schematic.rims.map((rim) => {
      const [x, y] = at(rim.centre);
      const hang: Point = [x, y + (rim.minor / 2) * view.k + TAG.height / 2 + 4];
      return { tag: { rim: rim.sighting }, at: hang };
    }),
  ];
  return (
    <div ref={ref} className="schematic" data-testid="schematic">
      <svg width={size.width} height={size.height} aria-hidden="true">
        {levelled && (
          <g data-testid="card-level">
            {spread[0] != null && spread[1] != null && (
              <rect
                x={0}
                width={size.width}
                y={Math.min(spread[0], spread[1])}
                height={Math.abs(spread[1] - spread[0])}
                className="card-spread"
              />
            )}
            <line x1={0} x2={size.width} y1={levelY} y2={levelY} className="card-level" />
            <text x={8} y={levelY - 5} className="card-figure">
              {t("card.schematicStage.eyeLevel")}
            </text>
          </g>
        )}
        {schematic.lines.map((line) => (
          <line
            key={`${line.form} ${line.side ?? "near"}`}
            {...between(at(line.p), at(line.q))}
            className={line.side === null ? "card-near" : line.known ? "card-far" : "card-open"}
          />
        ))}
        {schematic.slots.map((slot) => (
          <SlotLine key={keyOf(slot)} slot={slot} p={at(slot.p)} q={at(slot.q)} lit={isLit(slot, selected, current)} />
        ))}
        {schematic.rims.map((rim) => {
          const [cx, cy] = at(rim.centre);
          return (
            <ellipse
              key={rim.sighting}
              cx={cx}
              cy={cy}
              rx={(rim.major / 2) * view.k}
              ry={(rim.minor / 2) * view.k}
              className={rim.sighting === selected ? "card-rim card-lit" : "card-rim"}
            />
          );
        })}
      </svg>
      {spreadOut(hung, size).map(({ tag, at: [left, top] }) =>
        tag.slot ? (
          <Tag
            key={keyOf(tag.slot)}
            slot={tag.slot}
            finding={tag.slot.sighting ? (findings.get(tag.slot.sighting) ?? null) : null}
            lit={isLit(tag.slot, selected, current)}
            left={left}
            top={top}
            onPress={() => onSlot(tag.slot)}
          />
        ) : (
          <RimTag
            key={tag.rim}
            finding={findings.get(tag.rim) ?? null}
            lit={tag.rim === selected}
            left={left}
            top={top}
            onPress={() => onReading(tag.rim)}
          />
        ),
      )}
    </div>
  );
}

function keyOf(slot: Slot): string {
  return slot.sighting ?? [slot.form, slot.kind, slot.side, slot.end, slot.along, slot.of].join(" ");
}

function isLit(slot: Slot, selected: string | null, current: Slot | null): boolean {
  return (slot.sighting !== null && slot.sighting === selected) || (current !== null && keyOf(slot) === keyOf(current));
}

function SlotLine({ slot, p, q, lit }: { slot: Slot; p: Point; q: Point; lit: boolean }) {
  const mark = slot.kind === "edge" && slot.side ? FAMILIES[slot.side] : null;
  const look = slot.sighting ? "card-read" : "card-unread";
  return (
    <g className={lit ? "card-lit" : ""}>
      {slot.kind === "edge" ? (
        <>
          <line {...between(p, q)} className={`card-edge-under ${look}`} />
          <line {...between(p, q)} className={`card-edge ${look}`} stroke={mark?.ink} strokeDasharray={mark?.dash} />
        </>
      ) : (
        <line {...between(p, q)} className={`card-length ${look}`} />
      )}
    </g>
  );
}

/** A tag hangs at the far end of its edge, under its width, and beside its far upright. */
function tagPlace(slot: Slot, p: Point, q: Point): Point {
  const way = slot.side === "left" ? -1 : 1;
  if (slot.kind === "edge") return [q[0] + way * (TAG.width / 2 + 6), q[1] + (slot.end === 0 ? -14 : 14)];
  const middle: Point = [(p[0] + q[0]) / 2, (p[1] + q[1]) / 2];
  if (slot.along === "across") return [middle[0], middle[1] + TAG.height / 2 + 8];
  return [q[0] + (slot.side === "left" ? -1 : 1) * (TAG.width / 2 + 6), middle[1]];
}

/** A tag of a line of the card, or of a rim, and where its middle would hang. */
type Hung = { tag: { slot: Slot; rim?: undefined } | { rim: string; slot?: undefined }; at: Point };

/** Keep the tags on the stage and off one another, each pushed down as far as it must be. */
function spreadOut(tags: Hung[], size: { width: number; height: number }): Hung[] {
  const placed: { left: number; top: number }[] = [];
  return [...tags]
    .sort((a, b) => a.at[1] - b.at[1])
    .map(({ tag, at: [x, y] }) => {
      const left = Math.max(2, Math.min(size.width - TAG.width - 2, x - TAG.width / 2));
      let top = Math.max(2, Math.min(size.height - TAG.height - 2, y - TAG.height / 2));
      for (const other of placed)
        if (Math.abs(other.left - left) < TAG.width && Math.abs(other.top - top) < TAG.height + 2)
          top = other.top + TAG.height + 2;
      top = Math.min(top, size.height - TAG.height - 2);
      placed.push({ left, top });
      return { tag, at: [left, top] as Point };
    });
}

interface TagProps {
  slot: Slot;
  finding: Finding | null;
  lit: boolean;
  left: number;
  top: number;
  onPress: () => void;
}

function Tag({ slot, finding, lit, left, top, onPress }: TagProps) {
  const value = finding
    ? slot.kind === "edge"
      ? degreesText(finding.sighted)
      : finding.sighted == null
        ? undefined
        : figure(finding.sighted, 2)
    : null;
  const [what = "", side = ""] = slot.words.split(/(?=, (?:left|right)$)/);
  const [form, short = form] = what.split(/(?<=: )/);
  return (
    <button
      type="button"
      className={`card-tag ${lit ? "card-tag-lit" : ""} ${value ? "" : "card-tag-open"}`}
      style={{ left, top }}
      onClick={onPress}
      title={slot.words}
    >
      <b>{value ?? t("card.schematicStage.read")}</b>
      {finding && <Mark finding={finding} />}
      <small>{short}</small>
      <span className="sr-only">
        {side}
        {short === form ? "" : `, ${form}`}
        {value && finding ? `, ${VERDICTS[finding.verdict].word}` : ""}
      </span>
    </button>
  );
}

interface RimTagProps {
  finding: Finding | null;
  lit: boolean;
  left: number;
  top: number;
  onPress: () => void;
}

function RimTag({ finding, lit, left, top, onPress }: RimTagProps) {
  return (
    <button type="button" className={`card-tag ${lit ? "card-tag-lit" : ""}`} style={{ left, top }} onClick={onPress}>
      <b>{degreesText(finding?.sighted)}</b>
      {finding && <Mark finding={finding} />}
      <small>{t("card.schematicStage.rim")}</small>
    </button>
  );
}

function Mark({ finding }: { finding: Finding }) {
  return <span className={`tag-mark tag-${finding.verdict}`}>{VERDICTS[finding.verdict].mark}</span>;
}

function boundsOf(schematic: Schematic): { x: number; y: number; width: number; height: number } {
  const points = [
    ...schematic.slots.flatMap((slot) => [slot.p, slot.q]),
    ...schematic.lines.flatMap((line) => [line.p, line.q]),
    ...schematic.rims.flatMap(({ centre: [x, y], major, minor }) => [
      [x - major / 2, y - minor / 2],
      [x + major / 2, y + minor / 2],
    ]),
  ];
  const xs = points.map(([x]) => x ?? 0);
  const ys = points.map(([, y]) => y ?? 0);
  const [x, y] = [Math.min(...xs), Math.min(...ys)];
  return { x, y, width: Math.max(...xs) - x, height: Math.max(...ys) - y };
}
