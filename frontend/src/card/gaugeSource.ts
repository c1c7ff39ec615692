/** Where a gauge's tilts come from: the device's own sensor, or a stand-in that behaves as one. */

export interface GaugeSource {
  kind: "sensor" | "simulated";
  /** Begin to give tilts (degrees, -90 < t ≤ 90); answers how to stop. */
  start: (onTilt: (tilt: number) => void) => () => void;
}

interface Asking {
  requestPermission?: () => Promise<"granted" | "denied">;
}

const ANSWERS_WITHIN_MS = 900;
const LEAST_PULL = 3; // m/s² in the screen's plane; below it the device lies flat and its long side has no tilt

/** Tilt of the device's long side, as seen by who faces the screen, from the pull of gravity in the screen's plane (m/s²). */
export function tiltOfDevice(x: number, y: number): number | null {
  if (Math.hypot(x, y) < LEAST_PULL) return null;
  const tilt = (Math.atan2(y, -x) * 180) / Math.PI;
  return tilt > 90 ? tilt - 180 : tilt <= -90 ? tilt + 180 : tilt;
}

/** The device's own sensor; null where there is none, or the browser does not give it. Ask from a press of a button. */
export async function sensorSource(): Promise<GaugeSource | null> {
  if (!window.isSecureContext || typeof DeviceMotionEvent === "undefined") return null;
  const asking = DeviceMotionEvent as unknown as Asking;
  try {
    if (asking.requestPermission && (await asking.requestPermission()) !== "granted") return null;
  } catch {
    return null;
  }
  const source: GaugeSource = {
    kind: "sensor",
    start: (onTilt) => {
      const listen = (event: DeviceMotionEvent) => {
        const pull = event.accelerationIncludingGravity;
        const tilt = pull?.x != null && pull.y != null ? tiltOfDevice(pull.x, pull.y) : null;
        if (tilt !== null) onTilt(tilt);
      };
      window.addEventListener("devicemotion", listen);
      return () => window.removeEventListener("devicemotion", listen);
    },
  };
  return new Promise((answer) => {
    const stop = source.start(() => {
      window.clearTimeout(late);
      stop();
      answer(source);
    });
    const late = window.setTimeout(() => {
      stop();
      answer(null);
    }, ANSWERS_WITHIN_MS);
  });
}

const EVERY_MS = 40;
const SETTLES_MS = 220; // to a third of the way still to go
const NOISE_DEG = 0.25;
const DRIFT_DEG = 0.02; // of each step
const MOST_DRIFT_DEG = 0.5;

export interface SimulatedGauge extends GaugeSource {
  kind: "simulated";
  /** Lay the stick at a tilt. */
  lay: (tilt: number) => void;
  /** Turn the gauge end for end on it. */
  turn: () => void;
}

function normal(random: () => number): number {
  return Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());
}

/** A stand-in with noise, drift and a moment to settle, and an offset of its own that calibrating finds. */
export function simulatedGauge(offset = 0.8, random: () => number = Math.random): SimulatedGauge {
  let laid = 0;
  let turned = false;
  let shown = 0;
  let drift = 0;
  const step = () => {
    shown += (laid - shown) * (1 - Math.exp(-EVERY_MS / SETTLES_MS));
    drift = Math.max(-MOST_DRIFT_DEG, Math.min(MOST_DRIFT_DEG, drift + DRIFT_DEG * normal(random)));
    return (turned ? -shown : shown) + offset + drift + NOISE_DEG * normal(random);
  };
  return {
    kind: "simulated",
    start: (onTilt) => {
      const timer = window.setInterval(() => onTilt(step()), EVERY_MS);
      return () => window.clearInterval(timer);
    },
    lay: (tilt) => {
      laid = tilt;
    },
    turn: () => {
      turned = !turned;
    },
  };
}
