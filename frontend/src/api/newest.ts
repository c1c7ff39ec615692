import { queueMs } from "./client";

/** A question rests so many times what it would wait behind others: they wait in their pages rather than in a line, and what is
 * asked at last is the newest. Nobody rests who asks alone, however long an answer takes. */
const REST_TIMES = 16;
const LONGEST_REST_MS = 2000;

/** One question at a time: of those that come while an answer is under way only the newest waits. */
export interface Newest {
  /** `question` asks, and takes up its answer and its faults itself. */
  ask: (question: () => Promise<void>) => void;
  /** Whether an answer is under way. */
  busy: () => boolean;
}

export function newest(): Newest {
  let waiting: (() => Promise<void>) | null = null;
  let busy = false;
  let resting = false;
  const run = async () => {
    busy = true;
    while (waiting) {
      const question = waiting;
      waiting = null;
      await question();
      const rest = Math.min(REST_TIMES * queueMs(), LONGEST_REST_MS);
      if (rest === 0) continue;
      resting = true;
      await new Promise((resolve) => window.setTimeout(resolve, rest));
      resting = false;
    }
    busy = false;
  };
  return {
    ask: (question) => {
      waiting = question;
      if (!busy) void run();
    },
    busy: () => busy && !resting,
  };
}
