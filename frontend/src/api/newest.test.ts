// @vitest-environment jsdom
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { newest } from "./newest";

const queueMs = vi.hoisted(() => vi.fn(() => 0));
vi.mock("./client", () => ({ queueMs }));

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

describe("a server that many ask", () => {
  beforeEach(() => void vi.useFakeTimers());
  afterEach(() => void vi.useRealTimers());

  /** Questions put one after another, and at which millisecond they were asked. */
  function asking() {
    const line = newest();
    const asked: [string, number][] = [];
    const begun = performance.now();
    const ask = (name: string, takes: number) =>
      line.ask(async () => {
        asked.push([name, Math.round(performance.now() - begun)]);
        await new Promise((resolve) => setTimeout(resolve, takes));
      });
    return { line, asked, ask };
  }

  it("is asked less often, the newest question all the same, and is not taken to be at work meanwhile", async () => {
    const { line, asked, ask } = asking();
    queueMs.mockReturnValue(50);
    ask("a", 200);
    ask("b", 40);
    await vi.advanceTimersByTimeAsync(900);
    expect(line.busy()).toBe(false);
    ask("c", 500);
    queueMs.mockReturnValue(5000);
    await vi.advanceTimersByTimeAsync(600);
    ask("d", 10);
    await vi.advanceTimersByTimeAsync(5000);
    // 200 ms and a rest of sixteen times what others are waited for; then never more than two seconds' rest
    expect(asked).toEqual([
      ["a", 0],
      ["c", 1000],
      ["d", 3500],
    ]);
  });

  it("is asked at once again where nobody waits, however long it takes", async () => {
    const { asked, ask } = asking();
    queueMs.mockReturnValue(0);
    for (const takes of [30, 400, 30, 30]) {
      ask("it", takes);
      await vi.advanceTimersByTimeAsync(takes);
    }
    expect(asked.map(([, at]) => at)).toEqual([0, 30, 430, 460]);
  });
});
