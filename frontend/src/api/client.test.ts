// @vitest-environment jsdom
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { ApiError, call } from "./client";

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
