import type { Critique, CritiqueFinding, Report, Verdict } from "../api/types";

/** What a drawing is judged against: its subject, its own vanishing points, or both. */
export type Against = "subject" | "own" | "both";

/** Off before unsure before holds. */
export function worstOf(all: readonly { verdict: Verdict }[]): Verdict {
  return (["off", "unsure"] as const).find((verdict) => all.some((one) => one.verdict === verdict)) ?? "holds";
}

/** A sighting of the critique by the worst of its numbers. */
export function verdictOf(found: CritiqueFinding): Verdict {
  return worstOf([found, ...found.also]);
}

/** The drawing's own report with the verdicts of the school that was chosen. */
export function judgedReport(report: Report, critique: Critique | null, against: Against): Report {
  if (against === "own" || !critique) return report;
  const found = new Map(critique.findings.map((f) => [f.sighting, f]));
  return {
    ...report,
    findings: report.findings.map((own) => {
      const theirs = found.get(own.sighting);
      if (!theirs) return own;
      return { ...own, verdict: worstOf([theirs, ...theirs.also, ...(against === "both" ? [own] : [])]) };
    }),
  };
}
