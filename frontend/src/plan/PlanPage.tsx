import { SheetLoader } from "../sheet/SheetLoader";
import { PlanScreen } from "./PlanScreen";

/** The sheet of paper before the first line, of any subject. */
export function PlanPage() {
  return <SheetLoader face="plan">{(full, tabs) => <PlanScreen full={full} tabs={tabs} />}</SheetLoader>;
}
