import { useQuery } from "@tanstack/react-query";
import { NavLink } from "react-router";
import { meQuery } from "../api/queries";
import { t } from "../words";

const PARTS = [
  { path: "board", name: t("class.classHead.board") },
  { path: "assignments", name: t("class.classHead.assignments") },
  { path: "room", name: t("class.classHead.askTheRoom") },
  { path: "people", name: t("class.classHead.people") },
] as const;

/** The parts of a class for its tutor, and the other classes that one is in. */
export function ClassHead({ classId }: { classId: string }) {
  const { data: me } = useQuery(meQuery);
  const others = me?.classes.filter((one) => one.id !== classId) ?? [];
  return (
    <nav className="class-head" aria-label={t("class.classHead.class")}>
      {PARTS.map((part) => (
        <NavLink key={part.path} to={`/class/${classId}/${part.path}`} className="class-part">
          {part.name}
        </NavLink>
      ))}
      <NavLink to="/worksheets" className="class-part">
        {t("class.classHead.worksheets")}
      </NavLink>
      <span className="grow" />
      {others.map((one) => (
        <NavLink key={one.id} to={`/class/${one.id}`} className="link text-sm">
          {one.name}
        </NavLink>
      ))}
    </nav>
  );
}
