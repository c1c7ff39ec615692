/** An answer that takes longer is followed by a rest of twice what it took longer: a server that many ask is asked less often. */
const BEYOND_MS = 50;
const LONGEST_REST_MS = 1000;

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
      const asked = performance.now();
      await question();
      const rest = Math.min(2 * (performance.now() - asked - BEYOND_MS), LONGEST_REST_MS);
      if (rest <= 0) continue;
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
