import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Link } from "react-router";
import { call, worksheetsUrl } from "../api/client";
import { worksheetsQuery } from "../api/queries";
import type { SetOfWorksheets } from "../api/types";
import { Menu, MenuAction, MenuDownload } from "../ui/Menu";
import { GRADES, madeWords, words } from "./words";

const say = words.printedSets;

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
        {say.printed}
      </h2>
      {fault && (
        <p role="alert" className="alert alert-error">
          {fault.message}
        </p>
      )}
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
          {madeWords(set.made_at)}: {set.exercises.length} {set.exercises.length === 1 ? say.exercise : say.exercises},{" "}
          {set.copies} {set.copies === 1 ? say.copy : say.copies}, {GRADES[set.grade]}, {set.paper}
        </span>
        <Menu name={say.files}>
          <MenuDownload href={worksheetsUrl(set.id, "sheets")}>{say.sheetsPdf}</MenuDownload>
          <MenuDownload href={worksheetsUrl(set.id, "answers")}>{say.answersPdf}</MenuDownload>
          <MenuDownload href={worksheetsUrl(set.id, "all")}>{say.bothInOnePdf}</MenuDownload>
          <MenuAction value="forget" onSelect={onForget}>
            {say.forgetTheSet}
          </MenuAction>
        </Menu>
      </div>
      {set.returned.length > 0 && (
        <ul className="text-sm" aria-label={say.cameBack}>
          {set.returned.map((back) => (
            <li key={`${back.code} ${back.made_at}`}>
              {say.sheet(back.person, back.title, back.copy_number)}{" "}
              {back.drawing_id && (
                <Link className="link" to={`/paper/${back.drawing_id}`}>
                  {say.lookAtIt}
                </Link>
              )}
            </li>
          ))}
        </ul>
      )}
    </>
  );
}
