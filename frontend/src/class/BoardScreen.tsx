import { t } from "../words";
import "./class.css";
import { useQuery } from "@tanstack/react-query";
import { Link, useParams } from "react-router";
import { classFileUrl, pictureUrl } from "../api/client";
import { boardQuery } from "../api/queries";
import type { BoardCell, ClassBoard } from "../api/types";
import { Fault } from "../ui/Fault";
import { amount } from "../ui/figures";
import { Menu, MenuDownload } from "../ui/Menu";
import { ClassHead } from "./ClassHead";
import { ClassNeedle } from "./ClassNeedle";
import { Counts } from "./Counts";
import { dayWords } from "./words";

const SKILLS_SHOWN = 8;

/** The tutor's board: the students' pieces laid out as small pictures, and what the class needs. */
export function BoardScreen() {
  const { classId = "" } = useParams();
  const { data, error } = useQuery(boardQuery(classId));
  return (
    <div className="flex h-full flex-col">
      <ClassHead classId={classId} />
      <div className="min-h-0 grow overflow-auto">
        <div className="px-6 py-4">
          <div className="mb-3 flex flex-wrap items-center gap-3">
            <h1 className="text-xl font-bold">{data?.name ?? t("class.boardScreen.board")}</h1>
            <span className="grow" />
            <Menu name={t("class.boardScreen.files")}>
              <MenuDownload href={classFileUrl(classId, "marks.csv")}>{t("class.boardScreen.marksCsv")}</MenuDownload>
              <MenuDownload href={classFileUrl(classId, "readings.csv")}>
                {t("class.boardScreen.readingsCsv")}
              </MenuDownload>
              <MenuDownload href={classFileUrl(classId, "evening.pdf")}>
                {t("class.boardScreen.parentsEvening")}
              </MenuDownload>
            </Menu>
          </div>
          {error && <Fault words={error.message} />}
          {data && <Table board={data} classId={classId} />}
        </div>
        {data && (
          <div className="board-below">
            <Skills board={data} />
            <Causes board={data} classId={classId} />
          </div>
        )}
      </div>
    </div>
  );
}

function Table({ board, classId }: { board: ClassBoard; classId: string }) {
  if (board.students.length === 0)
    return (
      <p>
        {t("class.boardScreen.nobody")}{" "}
        <Link className="link" to={`/class/${classId}/people`}>
          {t("class.boardScreen.showTheCode")}
        </Link>
        .
      </p>
    );
  if (board.assignments.length === 0)
    return (
      <p>
        {t("class.boardScreen.nothingSet")}{" "}
        <Link className="link" to={`/class/${classId}/assignments`}>
          {t("class.boardScreen.setFirst")}
        </Link>
        .
      </p>
    );
  const cells = new Map(board.cells.map((cell) => [`${cell.person_id} ${cell.assignment_id}`, cell]));
  return (
    <div className="board-scroll">
      <table className="board">
        <thead>
          <tr>
            <th scope="col">
              <span className="sr-only">{t("class.boardScreen.student")}</span>
            </th>
            {board.assignments.map((one) => (
              <th key={one.assignment_id} scope="col">
                {one.title}
                {one.due_at && (
                  <span className="board-due">{t("class.boardScreen.due", { day: dayWords(one.due_at) })}</span>
                )}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {board.students.map((student) => (
            <tr key={student.person_id}>
              <th scope="row">
                {student.name}
                {student.guest && <span className="board-due">{t("class.boardScreen.guest")}</span>}
                {student.need && <span className="board-need">{student.need}</span>}
              </th>
              {board.assignments.map((one) => {
                const cell = cells.get(`${student.person_id} ${one.assignment_id}`);
                return (
                  <td key={one.assignment_id}>
                    {cell && <Cell cell={cell} classId={classId} who={student.name} what={one.title} />}
                  </td>
                );
              })}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

function Cell({ cell, classId, who, what }: { cell: BoardCell; classId: string; who: string; what: string }) {
  const { piece } = cell;
  if (!piece)
    return (
      <span className={`board-none ${cell.late ? "text-error" : ""}`}>
        {t(`class.howFar.${cell.how_far}`)}
        {cell.late && t("class.boardScreen.late")}
      </span>
    );
  return (
    <Link
      to={`/class/${classId}/pieces/${piece.hand_in_id}`}
      className={`board-piece ${piece.returned_at ? "board-back" : ""}`}
    >
      <span className="sr-only">
        {who}, {what}:
      </span>
      {piece.picture ? (
        <img src={pictureUrl(piece.picture.id, "thumb")} alt="" loading="lazy" />
      ) : (
        <span className="board-life">{t("class.boardScreen.fromLife")}</span>
      )}
      <span className="board-words">
        <Counts found={piece.found} />
        {piece.mark && <b className="mark">{piece.mark}</b>}
        <span>
          {piece.returned_at ? t("class.boardScreen.givenBack") : t("class.boardScreen.toLookAt")}
          {piece.number > 1 && t("class.boardScreen.tryNumber", { number: piece.number })}
          {cell.late && t("class.boardScreen.late")}
        </span>
        <span>{dayWords(piece.at)}</span>
      </span>
    </Link>
  );
}

function Skills({ board }: { board: ClassBoard }) {
  return (
    <section aria-labelledby="skills-head">
      <h2 id="skills-head" className="part-head">
        {t("class.boardScreen.bySkill")}
      </h2>
      {board.skills.length === 0 && <p>{t("class.boardScreen.tooFew")}</p>}
      <ul>
        {board.skills.slice(0, SKILLS_SHOWN).map((one) => (
          <li key={one.skill} className="class-skill">
            <ClassNeedle one={one} />
            <div>
              <b>{one.title}</b>{" "}
              <span className="tabular-nums">
                {amount(one.mean, one.unit, true)}
                {one.apart !== null && t("class.boardScreen.apartBy", { amount: amount(one.apart, one.unit) })}
              </span>
              <p className="text-sm leading-snug">
                {one.students
                  .slice(0, 3)
                  .map((s) => `${s.name} ${s.stands.bias ? amount(s.stands.bias.value, one.unit, true) : ""}`)
                  .join(" · ")}
                {one.students.length > 3 && t("class.boardScreen.more", { count: one.students.length - 3 })}
              </p>
            </div>
          </li>
        ))}
      </ul>
      {board.skills.length > 0 && <p className="text-sm leading-snug">{t("class.boardScreen.needlesExplained")}</p>}
    </section>
  );
}

function Causes({ board, classId }: { board: ClassBoard; classId: string }) {
  return (
    <div className="flex flex-col gap-5">
      <section aria-labelledby="causes-head">
        <h2 id="causes-head" className="part-head">
          {t("class.boardScreen.causesThisWeek")}
        </h2>
        {board.causes.length === 0 && <p>{t("class.boardScreen.noCauses")}</p>}
        <ol>
          {board.causes.map((cause) => (
            <li key={cause.words} className="mb-1.5 leading-snug">
              <b>{cause.count} ×</b> {cause.words} <span className="text-sm">({cause.names.join(", ")})</span>
            </li>
          ))}
        </ol>
      </section>
      {board.unjudged.length > 0 && (
        <section aria-labelledby="unjudged-head">
          <h2 id="unjudged-head" className="part-head">
            {t("class.boardScreen.notJudged")}
          </h2>
          <ul>
            {board.unjudged.map((one) => (
              <li key={one.hand_in_id}>
                <Link className="link" to={`/class/${classId}/pieces/${one.hand_in_id}`}>
                  {one.name}: {one.assignment}
                </Link>
              </li>
            ))}
          </ul>
        </section>
      )}
    </div>
  );
}
