import { useCallback, useEffect, useRef, useState } from "react";
import { call } from "../api/client";
import { store, stored } from "../ui/settings";
import { t } from "../words";
import { type GaugeSource, type SimulatedGauge, sensorSource, simulatedGauge } from "./gaugeSource";

const HOLD_MS = 1000;
const LEAST_SAMPLES = 5;
const OFFSET = "gauge-offset";

export interface Held {
  tilt_deg: number;
  spread_deg: number;
  still: boolean;
  offset_deg: number | null;
}

export interface Gauge {
  source: GaugeSource | null;
  simulated: SimulatedGauge | null;
  /** What it shows just now, its offset taken off; null until it answers. */
  live: number | null;
  holding: boolean;
  offset: number;
  fault: string;
  /** Look for the device's sensor, from a press of a button; else take the stand-in. */
  begin: () => void;
  end: () => void;
  /** Hold still: the median of a second. */
  hold: () => Promise<Held | null>;
  /** The samples of one second as they come. */
  sample: () => Promise<number[]>;
  keepOffset: (offset: number) => void;
}

/** The tilt gauge: the device laid along the stick, or a stand-in where there is no sensor. */
export function useGauge(): Gauge {
  const [source, setSource] = useState<GaugeSource | null>(null);
  const [live, setLive] = useState<number | null>(null);
  const [holding, setHolding] = useState(false);
  const [fault, setFault] = useState("");
  const [offset, setOffset] = useState(() => Number(stored(OFFSET) ?? 0) || 0);
  const samples = useRef<number[] | null>(null);
  const own = useRef(offset);

  useEffect(() => {
    if (!source) return;
    let last = 0;
    return source.start((tilt) => {
      samples.current?.push(tilt);
      const now = performance.now();
      if (now - last > 60) {
        last = now;
        setLive(tilt - own.current);
      }
    });
  }, [source]);

  const begin = useCallback(() => {
    setFault("");
    void sensorSource().then((sensor) => setSource(sensor ?? simulatedGauge()));
  }, []);
  const end = useCallback(() => {
    setSource(null);
    setLive(null);
  }, []);
  const sample = useCallback(async () => {
    samples.current = [];
    setHolding(true);
    await new Promise((later) => window.setTimeout(later, HOLD_MS));
    setHolding(false);
    const taken = samples.current ?? [];
    samples.current = null;
    return taken;
  }, []);
  const hold = useCallback(async () => {
    setFault("");
    const taken = await sample();
    if (taken.length < LEAST_SAMPLES) {
      setFault(t("card.useGauge.nothingMeasured"));
      return null;
    }
    try {
      return await call("post", "/api/gauge", { body: { samples_deg: taken, offset_deg: own.current } });
    } catch (error) {
      setFault((error as Error).message);
      return null;
    }
  }, [sample]);
  const keepOffset = useCallback((next: number) => {
    own.current = next;
    setOffset(next);
    store(OFFSET, String(next));
  }, []);
  const simulated = source?.kind === "simulated" ? (source as SimulatedGauge) : null;
  return { source, simulated, live, holding, offset, fault, begin, end, hold, sample, keepOffset };
}
