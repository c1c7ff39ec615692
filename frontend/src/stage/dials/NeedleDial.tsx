import { t } from "../../words";
import { between, lineAt, tiltOf, wrapTilt } from "../geometry";
import { Dial } from "./Dial";

interface NeedleDialProps {
  tilt: number;
  onTurn: (tilt: number) => void;
  label?: string;
  sighted?: boolean;
}

/** A free needle on a dial, turned to the tilt that is judged; drawn `sighted`, it is the stick's, or the gauge's. */
export function NeedleDial({ tilt, onTurn, label = t("dials.needleDial.needle"), sighted = false }: NeedleDialProps) {
  const needle = between(...lineAt([0, 0], tilt, 90));
  return (
    <Dial
      label={label}
      value={tilt}
      least={-90}
      look="cursor-grab"
      onDrag={(x, y) => Math.hypot(x, y) >= 6 && onTurn(Math.round(tiltOf([0, 0], [x, -y]) * 2) / 2)}
      onStep={(by) => onTurn(wrapTilt(tilt + by))}
    >
      {Array.from({ length: 24 }, (_, i) => i * 15).map((angle) => {
        const [, outer] = lineAt([0, 0], angle, 100);
        const [, inner] = lineAt([0, 0], angle, 100 - (angle % 45 === 0 ? 11 : 6));
        return <line key={angle} {...between(inner, outer)} className="dial-tick" />;
      })}
      <line {...needle} className={sighted ? "sighted-outer" : "judged-outer"} />
      <line {...needle} className={sighted ? "sighted-inner" : "judged-inner"} />
      <circle r={5} className="dial-hub" />
    </Dial>
  );
}
