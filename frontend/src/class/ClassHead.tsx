import { useQuery } from "@tanstack/react-query";
import { NavLink } from "react-router";
import { meQuery } from "../api/queries";

const PARTS = [{ path: "people", name: "People" }] as const;

/** The parts of a class, and its tutor's other classes. */
export function ClassHead({ classId }: { classId: string }) {
  const { data: me } = useQuery(meQuery);
  const mine = me?.classes.filter((one) => one.role === "tutor") ?? [];
  return (
    <nav className="class-head" aria-label="Class">
      {PARTS.map((part) => (
        <NavLink key={part.path} to={`/class/${classId}/${part.path}`} className="class-part">
          {part.name}
        </NavLink>
      ))}
      <span className="grow" />
      {mine.length > 1 &&
        mine
          .filter((one) => one.id !== classId)
          .map((one) => (
            <NavLink key={one.id} to={`/class/${one.id}/people`} className="link text-sm">
              {one.name}
            </NavLink>
          ))}
    </nav>
  );
}
