import { SheetLoader } from "../sheet/SheetLoader";
import { CardScreen } from "./CardScreen";

/** The card of a sheet that was read from life. */
export function CardPage() {
  return <SheetLoader face="card">{(full, tabs) => <CardScreen full={full} tabs={tabs} />}</SheetLoader>;
}
