import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Link } from "react-router";
import { call, worksheetsUrl } from "../api/client";
import { worksheetsQuery } from "../api/queries";
import type { SetOfWorksheets } from "../api/types";
import { Fault } from "../ui/Fault";
import { Menu, MenuAction, MenuDownload } from "../ui/Menu";
import { t } from "../words";
import { madeWords } from "./words";

/** The sets that were made, with what came back of each. */
export function PrintedSets() {
  const queries = useQueryClient();
  const { data, error } = useQuery(worksheetsQuery);
  const forget = useMutation({
    mutationFn: (id: string) => call("delete", "/api/worksheets/{set_id}", { path: { set_id: id } }),
    onSettled: () => queries.invalidateQueries(worksheetsQuery),
  });
  const fault = error ?? forget.error;
  if (data?.sets.length === 0 && !fault) return null;
  return (
    <section aria-labelledby="sets-head">
      <h2 id="sets-head" className="part-head">
        {t("worksheets.printedSets.printed")}
      </h2>
      <Fault words={fault?.message} />
      <ul>
        {data?.sets.map((set) => (
          <li key={set.id} className="printed-set">
            <PrintedSet set={set} onForget={() => forget.mutate(set.id)} />
          </li>
        ))}
      </ul>
    </section>
  );
}

function PrintedSet({ set, onForget }: { set: SetOfWorksheets; onForget: () => void }) {
  return (
    <>
      <div className="flex flex-wrap items-center gap-x-2">
        <b>{set.class_line || set.title}</b>
        <span className="grow text-sm">
          {t("worksheets.printedSets.line", {
            day: madeWords(set.made_at),
            exercises: t("worksheets.printedSets.exercises", { count: set.exercises.length }),
            copies: t("worksheets.printedSets.copies", { count: set.copies }),
            grade: t(`worksheets.grade.${set.grade}`),
            paper: set.paper,
          })}
        </span>
        <Menu name={t("worksheets.printedSets.files")}>
          <MenuDownload href={worksheetsUrl(set.id, "sheets")}>{t("worksheets.printedSets.sheetsPdf")}</MenuDownload>
          <MenuDownload href={worksheetsUrl(set.id, "answers")}>{t("worksheets.printedSets.answersPdf")}</MenuDownload>
          <MenuDownload href={worksheetsUrl(set.id, "all")}>{t("worksheets.printedSets.both")}</MenuDownload>
          <MenuAction value="forget" onSelect={onForget}>
            {t("worksheets.printedSets.forgetTheSet")}
          </MenuAction>
        </Menu>
      </div>
      {set.returned.length > 0 && (
        <ul className="text-sm" aria-label={t("worksheets.printedSets.cameBack")}>
          {set.returned.map((back) => (
            <li key={`${back.code} ${back.made_at}`}>
              {t("worksheets.printedSets.sheet", { person: back.person, title: back.title, number: back.copy_number })}{" "}
              {back.drawing_id && (
                <Link className="link" to={`/paper/${back.drawing_id}`}>
                  {t("worksheets.printedSets.lookAtIt")}
                </Link>
              )}
            </li>
          ))}
        </ul>
      )}
    </>
  );
}
