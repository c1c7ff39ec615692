import { Link, useNavigate } from "react-router";
import { type KeyPart, useKeys } from "../ui/keys";

export const FACE_KEYS = {
  part: "Faces of a sheet",
  scope: "faces",
  lines: [{ id: "turn", keys: ["b"], shown: "B", does: "From the subject to the drawing on paper, and back" }],
} as const satisfies KeyPart;

/** The two faces of a sheet, turned over on one key: the subject sighted, and the drawing on paper. */
export function FaceSwitch({ subject, paper, here }: { subject: string; paper: string; here: "subject" | "paper" }) {
  const go = useNavigate();
  useKeys(FACE_KEYS, { turn: () => void go(here === "subject" ? paper : subject) });
  const faces = [
    { name: "Subject", to: subject, now: here === "subject" },
    { name: "Paper", to: paper, now: here === "paper" },
  ];
  return (
    <nav className="flex" aria-label="Faces of the sheet">
      {faces.map(({ name, to, now }) => (
        <Link key={name} to={to} className="place" aria-current={now ? "page" : undefined} title={`${name} (B)`}>
          {name}
        </Link>
      ))}
    </nav>
  );
}
