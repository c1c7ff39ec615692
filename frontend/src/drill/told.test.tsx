// @vitest-environment jsdom
import { cleanup, render, screen } from "@testing-library/react";
import { afterEach, describe, expect, it } from "vitest";
import type { QuestionAsked } from "../api/types";
import { AnswerResult } from "./AnswerResult";
import { firstHand, isReady } from "./hand";

afterEach(cleanup);

const ASKED: QuestionAsked = {
  id: "q",
  set_id: "s",
  number: 3,
  length: 10,
  heading: "Rims",
  skill: null,
  title: null,
  instrument: "ellipse",
  prompt: "How far does it open?",
  picture: "/api/practice/questions/q/picture",
  width_px: 1200,
  height_px: 800,
  choices: [],
  counts: null,
  most: null,
  sheet_id: null,
  answered: null,
};

const answered = (
  question: Partial<QuestionAsked>,
  told: Partial<NonNullable<QuestionAsked["answered"]>>,
): QuestionAsked => ({
  ...ASKED,
  ...question,
  answered: {
    answer: 12,
    judged: 12,
    truth: 17,
    error: -5,
    tolerance: 5,
    right: true,
    words: "5° too flat: within tolerance.",
    rule: "A rim opens in proportion to its distance from eye level.",
    over: [],
    drawn: [],
    truth_value: 17,
    ...told,
  },
});

const values = () => screen.getAllByRole("definition").map((one) => one.textContent);

describe("what the hand holds before an answer", () => {
  it("is nothing yet where a place or a letter is asked for", () => {
    for (const instrument of ["point", "choice"] as const) {
      const question = { ...ASKED, instrument };
      expect(isReady(question, firstHand(question))).toBe(false);
    }
    expect(isReady({ ...ASKED, instrument: "point" }, { value: 0, point: [3, 4] })).toBe(true);
    expect(isReady({ ...ASKED, instrument: "choice" }, { value: 2, point: null })).toBe(true);
  });

  it("is a level line off the middle, so that it suggests nothing", () => {
    const question = { ...ASKED, instrument: "level" as const };
    expect(firstHand(question).point).toEqual([600, 96]);
  });

  it("can be committed as it stands with needle, ellipse and stick", () => {
    for (const instrument of ["needle", "ellipse", "stick"] as const)
      expect(isReady({ ...ASKED, instrument }, firstHand({ ...ASKED, instrument }))).toBe(true);
  });
});

describe("an answer beside the truth", () => {
  it("says nothing while there is none", () => {
    const { container } = render(<AnswerResult question={ASKED} />);
    expect(container.textContent).toBe("");
  });

  it("tells the error with a mark and a word, the values and the rule", () => {
    render(<AnswerResult question={answered({}, {})} />);
    expect(screen.getByRole("status").textContent).toContain("✓ within tolerance 5° too flat");
    expect(screen.getByRole("status").textContent).toContain("in proportion to its distance");
    expect(values()).toEqual(["12.0°", "17.0°"]);
  });

  it("tells uprights by their lean, lengths in units, heights in metres, choices by their letter", () => {
    const shown = [
      answered({ instrument: "needle", skill: "upright lean" }, { answer: 88, judged: 2, truth: -1, truth_value: -89 }),
      answered({ instrument: "stick", counts: "units" }, { answer: 0.8, truth_value: 0.75 }),
      answered({ instrument: "stick", counts: "metres" }, { answer: 2.1, truth_value: 2 }),
      answered({ instrument: "choice", choices: ["A", "B"] }, { answer: 0, truth_value: 1 }),
    ].map((question) => {
      render(<AnswerResult question={question} />);
      const found = values();
      cleanup();
      return found;
    });
    expect(shown).toEqual([
      ["2.0° right", "1.0° left"],
      ["0.80 units", "0.75 units"],
      ["2.10 m", "2.00 m"],
      ["A", "B"],
    ]);
  });

  it("shows only which line is whose where a place was asked for", () => {
    render(
      <AnswerResult
        question={answered({ instrument: "point" }, { answer: [3, 4], truth_value: null, right: false })}
      />,
    );
    expect(screen.queryAllByRole("definition")).toEqual([]);
    expect(screen.getByRole("status").textContent).toContain("✗ off");
    expect(screen.getByRole("status").textContent).toContain("judged");
  });
});
