import { t } from "../words";
import "../sheet/sheet.css";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { call } from "../api/client";
import type { Critique, DrawingFull, Report, Sheet, SinceBefore } from "../api/types";
import { type Against, worstOf } from "../sheet/judged";
import { VerdictWord } from "../ui/VerdictWord";

interface Props {
  critique: Critique | null;
  fault: string;
  since: SinceBefore | null;
  /** Compare what stands, though not all that was laid before does. */
  onCompare: () => void;
  drawing: DrawingFull;
  names: Sheet;
  report: Report;
  against: Against;
  lit: number | null;
  onLit: (cause: number | null) => void;
  selected: string | null;
  onSelect: (id: string) => void;
}

/** The strip under the leaves: what holds, what to mend, and what to watch next time. */
export function Strip(props: Props) {
  return (
    <div className="strip" data-testid="strip">
      <section className="strip-part" aria-labelledby="holds">
        <h2 id="holds" className="strip-name">
          {t("paper.strip.holds")}
        </h2>
        <Holds {...props} />
      </section>
      <section className="strip-part" aria-labelledby="mend">
        <h2 id="mend" className="strip-name">
          {t("paper.strip.mend")}
        </h2>
        {props.fault && (
          <p role="alert" className="strip-line font-semibold text-error">
            {props.fault}
          </p>
        )}
        <Since since={props.since} onCompare={props.onCompare} />
        {props.against !== "own" && props.critique && (
          <Causes critique={props.critique} lit={props.lit} onLit={props.onLit} />
        )}
        <Sightings {...props} />
      </section>
      <section className="strip-part" aria-labelledby="next">
        <h2 id="next" className="strip-name">
          {t("paper.strip.nextTime")}
        </h2>
        <Notes drawing={props.drawing} />
      </section>
    </div>
  );
}

/** What holds against the subject, and what the drawing says of itself. */
function Holds({ critique, drawing, against }: Pick<Props, "critique" | "drawing" | "against">) {
  const own = critique?.own.words ?? [];
  const compared = (critique?.findings.length ?? 0) > 0;
  const holds = against === "own" ? [] : (critique?.holds ?? []);
  return (
    <>
      {holds.map((words) => (
        <p key={words} className="strip-line">
          <span aria-hidden="true">✓ </span>
          {words}
        </p>
      ))}
      {drawing.subject && holds.length === 0 && against !== "own" && (
        <p className="strip-line">{compared ? t("paper.strip.nothingYet") : t("paper.strip.nothingYetHow")}</p>
      )}
      {against !== "subject" && (
        <>
          <h3 className="strip-sub">{t("paper.strip.ownTerms")}</h3>
          {own.map((words) => (
            <p key={words} className="strip-line">
              {words}
            </p>
          ))}
          {own.length === 0 && <p className="strip-line">{t("paper.strip.ownTermsHow")}</p>}
        </>
      )}
      {critique?.notes.map((note) => (
        <p key={note} className="strip-line text-sm">
          {note}
        </p>
      ))}
      <p className="strip-line text-sm">{drawing.flattened}</p>
    </>
  );
}

/** What changed since the drawing was brought in before. */
function Since({ since, onCompare }: Pick<Props, "since" | "onCompare">) {
  if (!since?.words?.length) return null;
  return (
    <div className="since">
      <h3 className="strip-sub">{t("paper.strip.sinceBefore")}</h3>
      {since.words.map((words) => (
        <p key={words} className="strip-line">
          {words}
        </p>
      ))}
      {since.waits && (
        <button type="button" className="btn btn-sm" onClick={onCompare}>
          {t("paper.strip.compareWhatStands")}
        </button>
      )}
    </div>
  );
}

/** The causes, the one that explains most first; one that is lit is shown mended. */
function Causes({ critique, lit, onLit }: Pick<Props, "lit" | "onLit"> & { critique: Critique }) {
  if (critique.causes.length === 0 && critique.findings.length > 0)
    return (
      <p className="strip-line">
        {critique.findings.some((f) => [f, ...f.also].some((one) => one.verdict === "off"))
          ? t("paper.strip.noCause")
          : t("paper.strip.nothingOff")}
      </p>
    );
  return critique.causes.map((cause, k) => (
    <button
      // biome-ignore lint/suspicious/noArrayIndexKey: a cause is known by its rank
      key={k}
      type="button"
      className={`cause ${lit === k ? "cause-lit" : ""}`}
      aria-pressed={lit === k}
      onClick={() => onLit(lit === k ? null : k)}
    >
      <span className="block font-semibold">
        {k + 1}. {cause.words}
      </span>
      <span className="block">{cause.advice}</span>
      {cause.instead && <span className="block italic">{cause.instead}</span>}
      <span className="block text-sm">
        {t("paper.strip.explainsShare", {
          share: Math.round(cause.explains * 100),
          next: lit === k ? t("paper.strip.shownMended") : t("paper.strip.showItMended"),
        })}
      </span>
    </button>
  ));
}

/** Every sighting in turn, with its verdict and its numbers in a sentence. */
function Sightings({
  critique,
  names,
  report,
  against,
  selected,
  onSelect,
}: Pick<Props, "critique" | "names" | "report" | "against" | "selected" | "onSelect">) {
  const called = new Map((names.sightings ?? []).map((s) => [s.id, s.name ?? s.id]));
  const own = new Map(report.findings.map((f) => [f.sighting, f]));
  const found = new Map((critique?.findings ?? []).map((f) => [f.sighting, f]));
  const ids = against === "own" ? [...own.keys()] : [...found.keys()];
  if (ids.length === 0) return null;
  return (
    <>
      <h3 className="strip-sub">{t("paper.strip.everySighting")}</h3>
      <ul>
        {ids.map((id) => {
          const theirs = against === "own" ? null : found.get(id);
          const mine = against === "subject" ? null : own.get(id);
          const all = [theirs, ...(theirs?.also ?? []), mine].filter((one) => !!one);
          const verdict = worstOf(all);
          return (
            <li key={id}>
              <button
                type="button"
                className={`drawn-line ${id === selected ? "drawn-chosen" : ""}`}
                onClick={() => onSelect(id)}
                data-drawn={id}
              >
                <VerdictWord of={verdict} /> <b>{called.get(id) ?? id}</b> {theirs?.words}{" "}
                {mine && against === "both" && t("paper.strip.itsOwnPoints")}
                {mine?.words}
              </button>
            </li>
          );
        })}
      </ul>
    </>
  );
}

/** What the student is content with, and one or two notes that come back at the top of the next sheet of that kind. */
function Notes({ drawing }: { drawing: DrawingFull }) {
  const queries = useQueryClient();
  const [content, setContent] = useState(drawing.content);
  const [notes, setNotes] = useState<[string, string]>([drawing.next_time[0] ?? "", drawing.next_time[1] ?? ""]);
  const keep = useMutation({
    // one after another, as they were written: what was written last is what stays
    scope: { id: `notes of ${drawing.sheet_id}` },
    mutationFn: () =>
      call("put", "/api/drawings/{sheet_id}/notes", {
        path: { sheet_id: drawing.sheet_id },
        body: { content, next_time: notes.filter((note) => note.trim()) },
      }),
    onSuccess: () => queries.invalidateQueries({ queryKey: ["next-time"] }),
  });
  const said = keep.isError
    ? t("paper.strip.notKept", { message: keep.error.message })
    : keep.isPending
      ? t("paper.strip.keeping")
      : keep.isSuccess
        ? t("paper.strip.noteKept")
        : "";
  return (
    <form
      className="flex flex-col gap-2"
      onBlur={() => keep.mutate()}
      onSubmit={(event) => {
        event.preventDefault();
        keep.mutate();
      }}
    >
      <label className="block">
        <span className="text-sm">{t("paper.strip.contentWith")}</span>
        <textarea
          className="textarea textarea-sm w-full"
          rows={2}
          maxLength={1000}
          value={content}
          onChange={(event) => setContent(event.target.value)}
        />
      </label>
      {([0, 1] as const).map((k) => (
        <label key={k} className="block">
          <span className="text-sm">{k === 0 ? t("paper.strip.watchNextTime") : t("paper.strip.and")}</span>
          <input
            className="input input-sm w-full"
            maxLength={300}
            value={notes[k]}
            onChange={(event) => setNotes(k === 0 ? [event.target.value, notes[1]] : [notes[0], event.target.value])}
          />
        </label>
      ))}
      <p role="status" className="min-h-5 text-sm">
        {said}
      </p>
    </form>
  );
}
