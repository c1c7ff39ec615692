import { Link, useNavigate } from "react-router";
import { type KeyPart, useKeys } from "../ui/keys";
import { t } from "../words";

export const FACE_KEYS = {
  part: t("sheet.faceSwitch.title"),
  scope: "faces",
  lines: [
    {
      id: "turn",
      keys: ["b"],
      shown: t("sheet.faceSwitch.bShiftB"),
      does: t("sheet.faceSwitch.nextFace"),
    },
    {
      id: "back",
      keys: ["shift+b"],
      shown: t("sheet.faceSwitch.bShiftB"),
      does: t("sheet.faceSwitch.nextFace"),
    },
  ],
} as const satisfies KeyPart;

export type Face = "subject" | "card" | "plan" | "paper";
const NAMES: Record<Face, string> = {
  subject: t("sheet.faceSwitch.subject"),
  card: t("sheet.faceSwitch.card"),
  plan: t("sheet.faceSwitch.plan"),
  paper: t("sheet.faceSwitch.paper"),
};

/** The faces of a sheet, turned over on one key; each is left out where it has no address. */
export function FaceSwitch({ faces, here }: { faces: Partial<Record<Face, string | null>>; here: Face }) {
  const go = useNavigate();
  const shown = (Object.keys(NAMES) as Face[]).flatMap((face) => (faces[face] ? [{ face, to: faces[face] }] : []));
  const turn = (by: number) => {
    const next = shown[(shown.findIndex((one) => one.face === here) + by + shown.length) % shown.length];
    if (next) void go(next.to);
  };
  useKeys(FACE_KEYS, { turn: () => turn(1), back: () => turn(-1) });
  return (
    <nav className="flex" aria-label={t("sheet.faceSwitch.faces")}>
      {shown.map(({ face, to }) => (
        <Link
          key={face}
          to={to}
          className="place"
          aria-current={face === here ? "page" : undefined}
          title={`${NAMES[face]} (B)`}
        >
          {NAMES[face]}
        </Link>
      ))}
    </nav>
  );
}

/** Where the faces of a subject's sheet are: on a photo, from life, or both. */
export function facesOf(id: string, has: { picture: boolean; life: boolean }): Partial<Record<Face, string>> {
  const at = `/sheets/${id}`;
  return {
    ...(has.picture ? { subject: at } : {}),
    ...(has.life || !has.picture ? { card: `${at}/card` } : {}),
    plan: `${at}/plan`,
    ...(has.picture ? { paper: `${at}/paper` } : {}),
  };
}
