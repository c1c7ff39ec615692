import { describe, expect, it } from "vitest";
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
