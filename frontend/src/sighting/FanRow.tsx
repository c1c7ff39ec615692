import { useState } from "react";
import { t } from "../words";
import type { useFan } from "./useFan";

function showWhole(words: HTMLElement | null): void {
  words?.scrollIntoView?.({ block: "nearest" });
}

/** Chooses a fan from the opened edge to another of its family, and says how it runs. */
export function FanRow({ first, fan }: { first: string; fan: ReturnType<typeof useFan> }) {
  const [count, setCount] = useState(4);
  const [second, setSecond] = useState("");
  if (!fan.fellows.length) return null;
  const to = fan.fellows.some((edge) => edge.id === second) ? second : (fan.fellows[0]?.id ?? "");
  const shown = fan.wish !== null;
  const ask = (wish: { second: string; count: number }) => shown && fan.show({ first, ...wish });
  return (
    <section
      aria-label={t("sighting.fanRow.fan")}
      className="border-t border-base-300 px-2.5 py-1.5 text-[13px] leading-snug"
    >
      <div className="flex items-center gap-1.5">
        <select
          className="select select-sm min-w-0 grow"
          aria-label={t("sighting.fanRow.fromEdge")}
          value={to}
          onChange={(event) => {
            setSecond(event.target.value);
            ask({ second: event.target.value, count });
          }}
        >
          {fan.fellows.map((edge) => (
            <option key={edge.id} value={edge.id}>
              {t("sighting.fanRow.to")} {edge.name ?? edge.id}
            </option>
          ))}
        </select>
        <input
          type="number"
          className="input input-sm w-16"
          aria-label={t("sighting.fanRow.linesBetween")}
          title={t("sighting.fanRow.linesBetween")}
          min={1}
          value={count}
          onChange={(event) => {
            const next = Math.round(Number(event.target.value));
            if (next < 1) return;
            setCount(next);
            ask({ second: to, count: next });
          }}
        />
        <button
          type="button"
          className={`btn btn-sm ${shown ? "btn-primary" : ""}`}
          aria-pressed={shown}
          title={t("sighting.fanRow.hint")}
          onClick={() => fan.show(shown ? null : { first, second: to, count })}
        >
          {t("sighting.fanRow.fan")}
        </button>
      </div>
      {fan.answer && (
        <p ref={showWhole} className="mt-1" data-testid="fan-words">
          {fan.answer.words}
        </p>
      )}
      {shown && fan.fault && (
        <p className="mt-1" role="alert">
          {fan.fault}
        </p>
      )}
    </section>
  );
}
