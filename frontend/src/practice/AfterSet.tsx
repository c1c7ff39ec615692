import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { call } from "../api/client";
import { Fault } from "../ui/Fault";
import { useBeginSet } from "../ui/useBeginSet";
import { t } from "../words";

/** After a set: what moved, the weakest skill in a sentence, and what to practise next. */
export function AfterSet({ id }: { id: string }) {
  const { data: summary, error } = useQuery({
    queryKey: ["summary", id],
    queryFn: () => call("get", "/api/practice/sets/{set_id}/summary", { path: { set_id: id } }),
  });
  const begin = useBeginSet();
  const fault = error ?? begin.error;
  return (
    <div className="h-full overflow-y-auto">
      <div className="mx-auto max-w-3xl px-6 py-6">
        <h1 className="mb-1 text-xl font-bold">{t("practice.afterSet.afterTheSet")}</h1>
        <Fault words={fault?.message} />
        {summary && (
          <>
            <p className="mb-4 text-lg">
              {t("practice.afterSet.ofWithinTolerance", { right: summary.right, answered: summary.answered })}
            </p>
            {summary.moved.length > 0 && (
              <>
                <h2 className="font-semibold">{t("practice.afterSet.whatMoved")}</h2>
                <ul className="mb-4 list-disc pl-5">
                  {summary.moved.map((line) => (
                    <li key={line}>{line}</li>
                  ))}
                </ul>
              </>
            )}
            <h2 className="font-semibold">{t("practice.afterSet.weakestNow")}</h2>
            <p className="mb-4" data-testid="weakest">
              {summary.weakest || t("practice.afterSet.tooFew")}
            </p>
            <div className="mb-6 flex flex-wrap gap-2">
              {summary.suggestion && (
                <button
                  type="button"
                  className="btn btn-primary"
                  onClick={() => summary.suggestion && begin.mutate({ skill: summary.suggestion })}
                >
                  {t("practice.afterSet.tenOf")}
                  {summary.suggestion_title}”
                </button>
              )}
              <button type="button" className="btn" onClick={() => begin.mutate({})}>
                {t("practice.afterSet.tenMore")}
              </button>
              <button type="button" className="btn" onClick={() => begin.mutate({ repeat_of: id })}>
                {t("practice.afterSet.again")}
              </button>
              <Link className="btn" to="/logbook">
                {t("practice.afterSet.logbook")}
              </Link>
            </div>
            <h2 className="mb-2 font-semibold">{t("practice.afterSet.theQuestions")}</h2>
            <ol className="drill-list">
              {summary.questions.map((question) => (
                <li key={question.id}>
                  <Link to={`/practice/questions/${question.id}`}>
                    {question.number}. {question.title}
                  </Link>
                  <span>
                    {question.answered?.right ? "✓" : "✗"} {question.answered?.words}
                  </span>
                </li>
              ))}
            </ol>
          </>
        )}
      </div>
    </div>
  );
}
