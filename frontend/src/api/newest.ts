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
  const run = async () => {
    busy = true;
    while (waiting) {
      const question = waiting;
      waiting = null;
      await question();
    }
    busy = false;
  };
  return {
    ask: (question) => {
      waiting = question;
      if (!busy) void run();
    },
    busy: () => busy,
  };
}
