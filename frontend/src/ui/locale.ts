/** Figures and moments as the browser's own language writes them. */
const FIGURES = new Map<string, Intl.NumberFormat>();

/** A figure with so many places, or with `least` where the others are noughts; with a true minus, and none before nothing. */
export function figure(value: number, places: number, least = places): string {
  const key = `${least} ${places}`;
  let format = FIGURES.get(key);
  if (!format) {
    format = new Intl.NumberFormat(undefined, {
      minimumFractionDigits: least,
      maximumFractionDigits: places,
      signDisplay: "negative",
      useGrouping: false,
    });
    FIGURES.set(key, format);
  }
  return format.format(value).replace("-", "−");
}

/** A figure with its sign; none before what is nothing in so many places, a plus only where `plus` asks for it. */
export function withSign(value: number, places: number, plus = false): string {
  const nothing = Math.abs(value) < 0.5 * 10 ** -places;
  return `${nothing || value < 0 || !plus ? "" : "+"}${figure(nothing ? 0 : value, places)}`;
}

/** What is put into a sentence of a `words.ts`. */
export type Part = string | number;

type When = string | number | Date;

const DAYS: Record<"whole" | "short" | "weekday", Intl.DateTimeFormatOptions> = {
  whole: { day: "numeric", month: "long" },
  short: { day: "numeric", month: "short" },
  weekday: { weekday: "short", day: "numeric", month: "short" },
};

/** A day of this year: 14 March, in short, or with its weekday. */
export function dayText(at: When, how: keyof typeof DAYS = "whole"): string {
  return new Date(at).toLocaleDateString(undefined, DAYS[how]);
}

/** A date as figures. */
export function dateText(at: When): string {
  return new Date(at).toLocaleDateString();
}

/** A date with the time. */
export function momentText(at: When): string {
  return new Date(at).toLocaleString(undefined, { dateStyle: "medium", timeStyle: "short" });
}

/** The time of day. */
export function timeText(at: When): string {
  return new Date(at).toLocaleTimeString([], { hour: "2-digit", minute: "2-digit" });
}
