import { describe, expect, it } from "vitest";
import type { Critique, CritiqueFinding, Report, Verdict } from "../api/types";
import { judgedReport, verdictOf, worstOf } from "./judged";

const told = (...verdicts: Verdict[]) => verdicts.map((verdict) => ({ verdict }));
const finding = (sighting: string, verdict: Verdict, ...also: Verdict[]) =>
  ({ sighting, verdict, also: told(...also) }) as unknown as CritiqueFinding;
const report = (...findings: [string, Verdict][]) =>
  ({ findings: findings.map(([sighting, verdict]) => ({ sighting, verdict })) }) as unknown as Report;
const verdicts = (of: Report) => of.findings.map((f) => `${f.sighting} ${f.verdict}`);
const CRITIQUE = { findings: [finding("a", "holds", "off"), finding("b", "holds", "holds")] } as Critique;

describe("the verdict on a line with several numbers", () => {
  it("is the worst of them: off before unsure before holds", () => {
    expect(worstOf(told("holds", "unsure", "off"))).toBe("off");
    expect(worstOf(told("holds", "unsure"))).toBe("unsure");
    expect(worstOf(told("holds"))).toBe("holds");
    expect(verdictOf(finding("a", "holds", "off"))).toBe("off");
  });
});

describe("a drawing's report", () => {
  const own = report(["a", "holds"], ["b", "off"], ["c", "unsure"]);
  it("tells the subject's verdicts where the drawing is judged against it", () => {
    expect(verdicts(judgedReport(own, CRITIQUE, "subject"))).toEqual(["a off", "b holds", "c unsure"]);
  });
  it("tells its own where it is judged on its own terms, or where there is no critique", () => {
    expect(judgedReport(own, CRITIQUE, "own")).toBe(own);
    expect(judgedReport(own, null, "subject")).toBe(own);
  });
  it("tells the worse of both where both are asked", () => {
    expect(verdicts(judgedReport(own, CRITIQUE, "both"))).toEqual(["a off", "b off", "c unsure"]);
  });
});
