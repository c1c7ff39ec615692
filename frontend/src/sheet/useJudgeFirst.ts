import type { SheetAssignment } from "../api/types";
import { useStoredSwitch } from "../ui/settings";

/** Whether sightings are judged by eye first: as this person works, unless the assignment settles it. */
export function useJudgeFirst(assignment: SheetAssignment | null | undefined): {
  judgeFirst: boolean;
  setJudgeFirst: (on: boolean) => void;
  settled: boolean;
} {
  const [kept, keep] = useStoredSwitch("judge-first", true);
  const settled = assignment?.judge_first === true;
  return { judgeFirst: settled || kept, setJudgeFirst: settled ? () => undefined : keep, settled };
}
