// @vitest-environment jsdom
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { newest } from "./newest";

describe("one question at a time", () => {
  it("answers the first and the last of those that come fast, one after the other", async () => {
    const line = newest();
    const said: string[] = [];
    const answers: (() => void)[] = [];
    const question = (name: string) => async () => {
      said.push(`asked ${name}`);
      await new Promise<void>((resolve) => answers.push(resolve));
      said.push(`told ${name}`);
    };
    const settled = () => new Promise((resolve) => setTimeout(resolve, 0));
    for (const name of ["a", "b", "c"]) line.ask(question(name));
    expect(said).toEqual(["asked a"]);
    expect(line.busy()).toBe(true);
    answers[0]?.();
    await settled();
    expect(said).toEqual(["asked a", "told a", "asked c"]);
    answers[1]?.();
    await settled();
    expect(line.busy()).toBe(false);
    line.ask(question("d"));
    expect(said.at(-1)).toBe("asked d");
  });
});

describe("a server that answers late", () => {
  beforeEach(() => void vi.useFakeTimers());
  afterEach(() => void vi.useRealTimers());

  it("is asked less often, the newest question all the same, and is not taken to be at work meanwhile", async () => {
    const line = newest();
    const asked: [string, number][] = [];
    const begun = performance.now();
    const question = (name: string, takes: number) => async () => {
      asked.push([name, Math.round(performance.now() - begun)]);
      await new Promise((resolve) => setTimeout(resolve, takes));
    };
    line.ask(question("a", 200));
    line.ask(question("b", 40));
    await vi.advanceTimersByTimeAsync(300);
    expect(line.busy()).toBe(false);
    line.ask(question("c", 5000));
    await vi.advanceTimersByTimeAsync(5300);
    line.ask(question("d", 10));
    await vi.advanceTimersByTimeAsync(5000);
    // 200 ms and a rest of 2 × (200 - 50) ms; then never more than a second's rest
    expect(asked).toEqual([
      ["a", 0],
      ["c", 500],
      ["d", 6500],
    ]);
  });

  it("is asked at once again where it answers soon", async () => {
    const line = newest();
    const asked: number[] = [];
    const begun = performance.now();
    const question = async () => {
      asked.push(performance.now() - begun);
      await new Promise((resolve) => setTimeout(resolve, 30));
    };
    for (let k = 0; k < 4; k++) {
      line.ask(question);
      await vi.advanceTimersByTimeAsync(30);
    }
    expect(asked).toEqual([0, 30, 60, 90]);
  });
});
