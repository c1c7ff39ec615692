// @vitest-environment jsdom
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { ApiError, call, queueMs } from "./client";

const busy = () =>
  new Response(JSON.stringify({ title: "Busy", status: 503, detail: "Too many checks wait just now." }), {
    status: 503,
    headers: { "Content-Type": "application/problem+json" },
  });
const good = () => new Response(JSON.stringify({ sheets: [] }), { headers: { "Content-Type": "application/json" } });

describe("a busy server", () => {
  beforeEach(() => void vi.useFakeTimers());
  afterEach(() => {
    vi.useRealTimers();
    vi.unstubAllGlobals();
  });

  it("is asked again where that changes nothing", async () => {
    const answers = [busy(), busy(), good()];
    const fetched = vi.fn(async () => answers.shift() ?? good());
    vi.stubGlobal("fetch", fetched);
    const asked = call("get", "/api/sheets", { again: true });
    await vi.advanceTimersByTimeAsync(1500);
    expect(fetched).toHaveBeenCalledTimes(2);
    await vi.advanceTimersByTimeAsync(1000);
    expect(await asked).toEqual({ sheets: [] });
    expect(fetched).toHaveBeenCalledTimes(3);
  });

  it("is told after some times, in its own words", async () => {
    const fetched = vi.fn(async () => busy());
    vi.stubGlobal("fetch", fetched);
    const asked = call("get", "/api/sheets", { again: true }).catch((error: ApiError) => error);
    await vi.advanceTimersByTimeAsync(10_000);
    const error = (await asked) as ApiError;
    expect([error.status, error.message]).toEqual([503, "Too many checks wait just now."]);
    expect(fetched).toHaveBeenCalledTimes(5);
  });

  it("is told at once to what is saved, which looks after itself", async () => {
    const fetched = vi.fn(async () => busy());
    vi.stubGlobal("fetch", fetched);
    await expect(call("get", "/api/sheets")).rejects.toBeInstanceOf(ApiError);
    expect(fetched).toHaveBeenCalledTimes(1);
  });
});

describe("how long others wait", () => {
  afterEach(() => void vi.unstubAllGlobals());

  it("is what the server said last of it, other answers between or not", async () => {
    const told = (timing: string | null) =>
      vi.stubGlobal("fetch", async () => {
        const answer = good();
        if (timing) answer.headers.set("Server-Timing", timing);
        return answer;
      });
    expect(queueMs()).toBe(0);
    for (const [timing, ms] of [
      ["queue;dur=120", 120],
      [null, 120],
      ["cdn-cache;desc=HIT, queue;dur=35.5", 35.5],
      ["queue;dur=0", 0],
    ] as const) {
      told(timing);
      await call("get", "/api/sheets");
      expect(queueMs()).toBe(ms);
    }
  });
});
