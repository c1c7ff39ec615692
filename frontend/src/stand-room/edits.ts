/** Changes to a set-up, each giving a new one. */
import type { StandFile, StandThing, StandView } from "../api/types";
import { wholeView } from "./eye";

export function thingsOf(file: StandFile): StandThing[] {
  return file.things ?? [];
}

export function nameOf(thing: StandThing): string {
  return thing.name || thing.id;
}

export function viewOf(file: StandFile): StandView {
  return wholeView(file.view as Partial<StandView> | undefined);
}

export function seenFrom(file: StandFile, view: StandView): StandFile {
  return { ...file, view };
}

export function changeThing(file: StandFile, id: string, change: Partial<StandThing>): StandFile {
  return {
    ...file,
    things: thingsOf(file).map((thing) => (thing.id === id ? ({ ...thing, ...change } as StandThing) : thing)),
  };
}

export function putThing(file: StandFile, thing: StandThing): StandFile {
  const known = thingsOf(file).some((one) => one.id === thing.id);
  const things = known ? thingsOf(file).map((one) => (one.id === thing.id ? thing : one)) : [...thingsOf(file), thing];
  return { ...file, things };
}

/** Take a thing off: what stood on it stands on the ground, and planes through it go with it. */
export function removeThing(file: StandFile, id: string): StandFile {
  const left = thingsOf(file).filter((thing) => thing.id !== id && !(thing.kind === "section" && thing.of === id));
  return { ...file, things: left.map((thing) => (thing.on === id ? { ...thing, on: null } : thing)) };
}

/** What a thing can stand on: anything that does not stand on it, directly or by others. */
export function seatsFor(file: StandFile, id: string): StandThing[] {
  const standsOn = (thing: StandThing): boolean => {
    let under: string | null | undefined = thing.on;
    for (let steps = 0; under && steps <= thingsOf(file).length; steps++) {
      if (under === id) return true;
      const next: StandThing | undefined = thingsOf(file).find((one) => one.id === under);
      under = next?.on;
    }
    return false;
  };
  return thingsOf(file).filter((thing) => thing.id !== id && thing.kind !== "section" && !standsOn(thing));
}

/** Stand a thing on another, over its middle, or back on the ground. */
export function stack(file: StandFile, id: string, on: string | null): StandFile {
  const under = thingsOf(file).find((thing) => thing.id === on);
  return changeThing(file, id, under ? { on: under.id, at_m: under.at_m } : { on: null, base_m: 0 });
}

export function turnThing(file: StandFile, id: string, by_deg: number): StandFile {
  const thing = thingsOf(file).find((one) => one.id === id);
  if (!thing) return file;
  return changeThing(file, id, { turn_deg: ((thing.turn_deg ?? 0) + by_deg) % 360 });
}
