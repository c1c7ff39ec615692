// @vitest-environment jsdom
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { sensorSource, simulatedGauge, tiltOfDevice } from "./gaugeSource";

const PULL = 9.81;
const turned = (degrees: number): [number, number] => {
  // the device's long side at a tilt: gravity's pull as its own axes have it (x across, y along the long side)
  const a = (degrees * Math.PI) / 180;
  return [-PULL * Math.cos(a), PULL * Math.sin(a)];
};

describe("a device laid along the stick", () => {
  it("reads the tilt of its long side as who faces the screen sees it", () => {
    for (const tilt of [0, 12, 45, 89, -30, -75]) expect(tiltOfDevice(...turned(tilt))).toBeCloseTo(tilt, 6);
    expect(tiltOfDevice(0, PULL)).toBeCloseTo(90, 6);
  });

  it("is the same stick turned end for end", () => {
    const [x, y] = turned(20);
    expect(tiltOfDevice(-x, -y)).toBeCloseTo(20, 6);
  });

  it("has no tilt while it lies flat", () => {
    expect(tiltOfDevice(0.4, -1.2)).toBeNull();
  });
});

describe("the simulated gauge", () => {
  beforeEach(() => {
    vi.useFakeTimers();
  });
  afterEach(() => {
    vi.useRealTimers();
  });

  const shown = (ms: number, act: (gauge: ReturnType<typeof simulatedGauge>) => void): number[] => {
    let seed = 7;
    const gauge = simulatedGauge(0.8, () => {
      seed = (seed * 16807) % 2147483647;
      return seed / 2147483647;
    });
    const seen: number[] = [];
    act(gauge);
    const stop = gauge.start((tilt) => seen.push(tilt));
    vi.advanceTimersByTime(ms);
    stop();
    vi.advanceTimersByTime(500);
    return seen;
  };

  it("takes a moment to settle, and then shows the stick with noise and its own offset", () => {
    const seen = shown(3000, (gauge) => gauge.lay(20));
    expect(seen[0]).toBeLessThan(8);
    const late = seen.slice(-25);
    const mean = late.reduce((sum, tilt) => sum + tilt, 0) / late.length;
    expect(mean).toBeGreaterThan(20);
    expect(mean).toBeLessThan(21.7);
    expect(new Set(late).size).toBe(25);
  });

  it("turned round shows the level's tilt the other way, its offset as before", () => {
    const late = shown(3000, (gauge) => {
      gauge.lay(10);
      gauge.turn();
    }).slice(-25);
    const mean = late.reduce((sum, tilt) => sum + tilt, 0) / late.length;
    expect(mean).toBeGreaterThan(-10);
    expect(mean).toBeLessThan(-8.3);
  });

  it("stands in where the page is not secure or the device has no sensor", async () => {
    expect(await sensorSource()).toBeNull();
  });
});
