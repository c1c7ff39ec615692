import { useQuery } from "@tanstack/react-query";
import { ChevronLeft, ChevronRight, X } from "lucide-react";
import { call, standStepsUrl } from "../api/client";
import type { StandFile, StandSteps } from "../api/types";
import { IconButton } from "../ui/IconButton";
import { Menu, MenuDownload, MenuGroup } from "../ui/Menu";
import { t } from "../words";
import { path } from "./strokes";

/** The construction of a thing of the set-up, asked anew as the view changes. */
export function useSteps(file: StandFile, thing: string | null): { steps: StandSteps | undefined; fault: string } {
  const found = useQuery({
    queryKey: ["stand-steps", thing, file],
    queryFn: () => call("post", "/api/stand/steps", { body: { document: file, thing: thing ?? "" }, again: true }),
    enabled: thing !== null,
    placeholderData: (old) => old,
    gcTime: 0,
  });
  return { steps: thing ? found.data : undefined, fault: found.error?.message ?? "" };
}

/** What is drawn up to a step, in the picture's own pixels; what this step adds in teal. */
export function StepLines({ steps, number }: { steps: StandSteps; number: number }) {
  return (
    <g data-testid="step-lines">
      {steps.steps.slice(0, number).flatMap((one) =>
        (["thin", "thick"] as const).map((weight) => (
          <path
            key={`${one.number} ${weight}`}
            d={one.strokes
              .filter((stroke) => stroke.weight === weight)
              .map((stroke) => path(stroke.points))
              .join("")}
            className={`step-${weight} ${one.number === number ? "step-now" : ""}`}
          />
        )),
      )}
    </g>
  );
}

interface StepWordsProps {
  stand: string;
  steps: StandSteps;
  number: number;
  onNumber: (number: number) => void;
  onClose: () => void;
}

/** How a thing is drawn, one step after the other, each with its reason. */
export function StepWords({ stand, steps, number, onNumber, onClose }: StepWordsProps) {
  const count = steps.steps.length;
  const step = steps.steps[number - 1];
  return (
    <section
      aria-label={t("stand.stepShow.howIsDrawn", { name: steps.name })}
      className="step-words"
      data-testid="steps"
    >
      <IconButton
        icon={ChevronLeft}
        label={t("stand.stepShow.previousStep")}
        title={t("stand.stepShow.previousHint")}
        disabled={number <= 1}
        onClick={() => onNumber(number - 1)}
      />
      <IconButton
        icon={ChevronRight}
        label={t("stand.stepShow.nextStep")}
        title={t("stand.stepShow.nextHint")}
        disabled={number >= count}
        onClick={() => onNumber(number + 1)}
      />
      <p className="grow leading-snug" role="status" aria-live="polite">
        <b>{t("stand.stepShow.step", { number, most: count, title: step?.title ?? "" })}</b> {step?.words}
      </p>
      <HandOut stand={stand} steps={steps} number={number} />
      <IconButton
        icon={X}
        label={t("stand.stepShow.closeTheSteps")}
        title={t("stand.stepShow.closeEsc")}
        onClick={onClose}
      />
    </section>
  );
}

function HandOut({ stand, steps, number }: Pick<StepWordsProps, "stand" | "steps" | "number">) {
  return (
    <Menu name={t("stand.stepShow.handOut")}>
      <MenuGroup name={steps.name}>
        <MenuDownload href={standStepsUrl(stand, steps.thing, "pdf")}>{t("stand.stepShow.allStepsPdf")}</MenuDownload>
        <MenuDownload href={standStepsUrl(stand, steps.thing, "svg", number)}>
          {t("stand.stepShow.thisStepSvg")}
        </MenuDownload>
      </MenuGroup>
    </Menu>
  );
}
