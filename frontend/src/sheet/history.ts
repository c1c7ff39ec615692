/** A line of states with undo and redo. `live` is what a drag shows before it is kept. */
export interface History<T> {
  past: T[];
  present: T;
  future: T[];
  live: T | null;
}

const DEEPEST = 200;

export function begin<T>(present: T): History<T> {
  return { past: [], present, future: [], live: null };
}

export function shown<T>(history: History<T>): T {
  return history.live ?? history.present;
}

export function keep<T>(history: History<T>, next: T): History<T> {
  if (next === history.present) return { ...history, live: null };
  return {
    past: [...history.past, history.present].slice(-DEEPEST),
    present: next,
    future: [],
    live: null,
  };
}

export function preview<T>(history: History<T>, live: T | null): History<T> {
  return { ...history, live };
}

export function undo<T>(history: History<T>): History<T> {
  const last = history.past.at(-1);
  if (last === undefined) return history;
  return {
    past: history.past.slice(0, -1),
    present: last,
    future: [history.present, ...history.future],
    live: null,
  };
}

export function redo<T>(history: History<T>): History<T> {
  const [next, ...rest] = history.future;
  if (next === undefined) return history;
  return {
    past: [...history.past, history.present],
    present: next,
    future: rest,
    live: null,
  };
}
