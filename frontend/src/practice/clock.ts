/** The clock of a timed drawing: what is drawn and what is looked, counted apart. Moments in seconds. */
export interface Clock {
  /** Seconds of drawing and of looking up to `since`. */
  drawn: number;
  paused: number;
  /** When it was last started or stopped; null before the start. */
  since: number | null;
  running: boolean;
}

export const STOPPED: Clock = { drawn: 0, paused: 0, since: null, running: false };

/** How long was drawn, and how long looked, by `now`. */
export function elapsed(clock: Clock, now: number): { drawn: number; paused: number } {
  const more = clock.since === null ? 0 : Math.max(0, now - clock.since);
  return {
    drawn: clock.drawn + (clock.running ? more : 0),
    paused: clock.paused + (clock.running ? 0 : more),
  };
}

/** Started, stopped, or gone on with. */
export function turned(clock: Clock, now: number, running: boolean): Clock {
  return { ...elapsed(clock, now), since: now, running };
}

/** Minutes and seconds, as a clock shows them. */
export function clockText(seconds: number): string {
  const whole = Math.max(0, Math.ceil(seconds - 1e-6));
  return `${Math.floor(whole / 60)}:${String(whole % 60).padStart(2, "0")}`;
}
