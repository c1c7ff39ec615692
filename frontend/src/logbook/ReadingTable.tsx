import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { call } from "../api/client";
import type { LoggedReading, LoggedSkill } from "../api/types";
import { amount } from "../ui/figures";
import { figure, momentText } from "../ui/locale";
import { t } from "../words";

const SOURCES: Record<string, string> = {
  judgement: t("logbook.readingTable.onSheet"),
  critique: "drawn",
  practice: "practice",
};

/** Every reading of a skill, the last first, each with its source to open again. */
export function ReadingTable({ row }: { row: LoggedSkill }) {
  const [page, setPage] = useState(0);
  const { data, error } = useQuery({
    queryKey: ["logbook", "readings", row.skill, page],
    queryFn: () => call("get", "/api/logbook/readings", { query: { skill: row.skill, page } }),
  });
  if (error) return <p role="alert">{error.message}</p>;
  if (!data) return <p>{t("logbook.readingTable.opening")}</p>;
  return (
    <>
      <table className="reading-table">
        <caption className="sr-only">{t("logbook.readingTable.readingsOf", { title: row.title })}</caption>
        <thead>
          <tr>
            <th scope="col">{t("logbook.readingTable.when")}</th>
            <th scope="col">{t("logbook.readingTable.judged")}</th>
            <th scope="col">{t("logbook.readingTable.true")}</th>
            <th scope="col">{t("logbook.readingTable.error")}</th>
            <th scope="col">{t("logbook.readingTable.took")}</th>
            <th scope="col">{t("logbook.readingTable.from")}</th>
          </tr>
        </thead>
        <tbody>
          {data.readings.map((one) => (
            <tr key={one.id}>
              <td>{momentText(one.at)}</td>
              <td>{amount(one.judged, one.unit)}</td>
              <td>
                {amount(one.truth, one.unit)}
                {one.truth_sd !== null && ` ± ${amount(one.truth_sd, one.unit)}`}
              </td>
              <td>{amount(one.error, one.unit, true)}</td>
              <td>{one.seconds === null ? "–" : `${figure(one.seconds, 0)} s`}</td>
              <td>
                <From reading={one} />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {data.pages > 1 && (
        <p className="mt-2 flex items-center gap-2 text-sm">
          <button type="button" className="btn btn-sm" disabled={page === 0} onClick={() => setPage(page - 1)}>
            {t("logbook.readingTable.later")}
          </button>
          {t("logbook.readingTable.pageOf", { value: page + 1, pages: data.pages })}
          <button
            type="button"
            className="btn btn-sm"
            disabled={page + 1 >= data.pages}
            onClick={() => setPage(page + 1)}
          >
            {t("logbook.readingTable.earlier")}
          </button>
        </p>
      )}
    </>
  );
}

function From({ reading }: { reading: LoggedReading }) {
  const words = SOURCES[reading.source] ?? reading.source;
  if (reading.question_id)
    return (
      <Link className="link" to={`/practice/questions/${reading.question_id}`}>
        {words}
      </Link>
    );
  if (reading.sheet_id)
    return (
      <Link className="link" to={`${reading.source === "critique" ? "/paper" : "/sheets"}/${reading.sheet_id}`}>
        {words}
      </Link>
    );
  return words;
}
