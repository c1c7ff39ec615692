interface StepButtonProps {
  by: -1 | 1;
  label: string;
  title: string;
  onStep: (by: -1 | 1) => void;
}

/** To the one before or after, beside what is stepped through. */
export function StepButton({ by, label, title, onStep }: StepButtonProps) {
  return (
    <button type="button" className="btn btn-sm" onClick={() => onStep(by)} aria-label={label} title={title}>
      {by < 0 ? "‹" : "›"}
    </button>
  );
}
