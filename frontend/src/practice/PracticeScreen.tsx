import { dateText } from "../ui/locale";
import { t } from "../words";
import "./practice.css";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { logbookQuery, setsQuery, skillsQuery } from "../api/queries";
import type { Skill, SkillLine } from "../api/types";
import { Fault } from "../ui/Fault";
import { Tick } from "../ui/Tick";
import { useBeginSet } from "../ui/useBeginSet";

const LENGTHS = [10, 20, 50] as const;

/** Where practice begins: a set of chosen questions, or of one skill, or a drawing against the clock. */
export function PracticeScreen() {
  const skills = useQuery(skillsQuery);
  const sets = useQuery(setsQuery);
  const logbook = useQuery(logbookQuery);
  const [length, setLength] = useState<(typeof LENGTHS)[number]>(10);
  const [skill, setSkill] = useState<Skill | "">("");
  const begin = useBeginSet();
  const fault = skills.error ?? begin.error;
  const open = sets.data?.sets.find((set) => set.answered < set.length);
  const weakest = logbook.data?.skills.find((row) => row.skill === logbook.data?.weakest);
  const chosen = skills.data?.skills.find((one) => one.skill === skill);
  const title = (of: Skill | null) =>
    skills.data?.skills.find((one) => one.skill === of)?.title ?? t("practice.practiceScreen.chosenForYou");
  return (
    <div className="h-full overflow-y-auto">
      <div className="mx-auto grid max-w-5xl gap-8 px-6 py-6 md:grid-cols-[minmax(0,1fr)_20rem]">
        <section aria-labelledby="practice-head">
          <h1 id="practice-head" className="mb-1 text-xl font-bold">
            {t("practice.practiceScreen.practice")}
          </h1>
          <p className="mb-4 leading-snug">{t("practice.practiceScreen.how")}</p>
          {weakest?.words && <p className="drill-weakest">{weakest.words}</p>}
          <fieldset className="mb-4 flex items-center gap-4">
            <legend className="sr-only">{t("practice.practiceScreen.howManyQuestions")}</legend>
            {LENGTHS.map((one) => (
              <Tick
                key={one}
                className="flex items-center gap-1.5"
                group="length"
                checked={length === one}
                onTick={() => setLength(one)}
              >
                {t("practice.practiceScreen.questions", { one })}
              </Tick>
            ))}
          </fieldset>
          <label className="mb-2 flex flex-wrap items-center gap-2">
            {t("practice.practiceScreen.skill")}
            <select
              className="select select-sm w-auto"
              value={skill}
              onChange={(event) => setSkill(event.target.value as Skill | "")}
            >
              <option value="">{t("practice.practiceScreen.letAspectumChoose")}</option>
              {grouped(skills.data?.skills ?? []).map(([group, lines]) => (
                <optgroup key={group} label={group}>
                  {lines.map((line) => (
                    <option key={line.skill} value={line.skill}>
                      {line.title}
                    </option>
                  ))}
                </optgroup>
              ))}
            </select>
          </label>
          <p className="mb-4 min-h-10 text-sm leading-snug">{chosen?.rule}</p>
          <div className="flex flex-wrap gap-2">
            <button
              type="button"
              className="btn btn-primary"
              disabled={begin.isPending}
              onClick={() => begin.mutate({ length, ...(skill && { skill }) })}
            >
              {t("practice.practiceScreen.beginTheSet")}
            </button>
            {open && (
              <Link className="btn" to={`/practice/sets/${open.id}`}>
                {t("practice.practiceScreen.goOn", { count: open.length, answered: open.answered })}
              </Link>
            )}
          </div>
          <Fault words={fault?.message} className="mt-4" />
        </section>
        <aside className="flex flex-col gap-6">
          <section aria-labelledby="timed-head">
            <h2 id="timed-head" className="font-semibold">
              {t("practice.practiceScreen.againstTheClock")}
            </h2>
            <p className="mb-2 text-sm leading-snug">{t("practice.practiceScreen.timedWhat")}</p>
            <Link className="btn btn-sm" to="/practice/timed">
              {t("practice.practiceScreen.timedDrawing")}
            </Link>
          </section>
          <section aria-labelledby="sets-head">
            <h2 id="sets-head" className="mb-1 font-semibold">
              {t("practice.practiceScreen.lastSets")}
            </h2>
            {sets.data?.sets.length === 0 && <p className="text-sm">{t("practice.practiceScreen.noneYet")}</p>}
            <ul className="flex flex-col gap-1 text-sm">
              {sets.data?.sets.slice(0, 8).map((set) => (
                <li key={set.id}>
                  <Link className="link" to={`/practice/sets/${set.id}`}>
                    {dateText(set.made_at)}: {set.length}, {title(set.skill)}
                  </Link>{" "}
                  {set.answered < set.length && t("practice.practiceScreen.answered", { answered: set.answered })}
                </li>
              ))}
            </ul>
          </section>
        </aside>
      </div>
    </div>
  );
}

function grouped(skills: readonly SkillLine[]): [string, SkillLine[]][] {
  const groups = new Map<string, SkillLine[]>();
  for (const line of skills) groups.set(line.group_title, [...(groups.get(line.group_title) ?? []), line]);
  return [...groups];
}
