import { useQuery } from "@tanstack/react-query";
import { NavLink } from "react-router";
import { meQuery } from "../api/queries";
import { words } from "./words";

const say = words.classHead;

const PARTS = [
  { path: "board", name: "Board" },
  { path: "assignments", name: "Assignments" },
  { path: "room", name: say.askTheRoom },
  { path: "people", name: "People" },
] as const;

/** The parts of a class for its tutor, and the other classes that one is in. */
export function ClassHead({ classId }: { classId: string }) {
  const { data: me } = useQuery(meQuery);
  const others = me?.classes.filter((one) => one.id !== classId) ?? [];
  return (
    <nav className="class-head" aria-label={say.class}>
      {PARTS.map((part) => (
        <NavLink key={part.path} to={`/class/${classId}/${part.path}`} className="class-part">
          {part.name}
        </NavLink>
      ))}
      <NavLink to="/worksheets" className="class-part">
        {say.worksheets}
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
